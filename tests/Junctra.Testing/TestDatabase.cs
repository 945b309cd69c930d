using Junctra.Store;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Junctra.Testing;

/// <summary>A database of its own on the real server, migrated, dropped at the end.</summary>
public sealed class TestDatabase : IAsyncDisposable, IDbContextFactory<JunctraDb>
{
    private readonly string server;
    private readonly string name = "test_" + Guid.NewGuid().ToString("N");

    private TestDatabase(string server) => this.server = server;

    public string Connection => $"{server};Database={name};Maximum Pool Size=20";

    public static async Task<TestDatabase> CreateAsync(bool migrate = true)
    {
        var server = Environment.GetEnvironmentVariable("JUNCTRA_TEST_PG")
            ?? throw new InvalidOperationException("Tests of the store need PostgreSQL: run them with ./junctra test, or set JUNCTRA_TEST_PG.");
        var database = new TestDatabase(server);
        if (!migrate) return database;
        await using var db = database.CreateDbContext();
        await db.Database.MigrateAsync();
        return database;
    }

    public JunctraDb CreateDbContext()
    {
        var options = new DbContextOptionsBuilder<JunctraDb>();
        JunctraDb.Configure(options, Connection);
        return new JunctraDb(options.Options);
    }

    public async ValueTask DisposeAsync()
    {
        NpgsqlConnection.ClearAllPools();
        await using var connection = new NpgsqlConnection($"{server};Database=postgres;Pooling=false");
        await connection.OpenAsync();
        await using var drop = new NpgsqlCommand($"drop database if exists {name} with (force)", connection);
        await drop.ExecuteNonQueryAsync();
    }
}
