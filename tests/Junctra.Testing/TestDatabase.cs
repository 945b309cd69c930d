using Junctra.Store;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Junctra.Testing;

/// <summary>A database of its own on the real server, migrated, dropped at the end.</summary>
public sealed class TestDatabase : IAsyncDisposable, IDbContextFactory<JunctraDb>
{
    private const int WireTimeoutSeconds = 3;
    private readonly string server;
    private readonly string name = "test_" + Guid.NewGuid().ToString("N");

    private TestDatabase(string server) => this.server = server;

    public string Connection => $"{server};Database={name};Maximum Pool Size=20";

    public static async Task<TestDatabase> CreateAsync(bool migrate = true)
    {
        var server = Environment.GetEnvironmentVariable("JUNCTRA_TEST_PG")
            ?? throw new InvalidOperationException(
                "Tests of the store need PostgreSQL: run them with ./junctra test, or set JUNCTRA_TEST_PG."
            );
        var database = new TestDatabase(server);
        if (migrate)
            await ExecuteAsync(server, $"create database {database.name} template {await Template.Value}");
        return database;
    }

    /// <summary>A database on a server of the test's own.</summary>
    public static async Task<TestDatabase> OnAsync(PrivateServer server)
    {
        var database = new TestDatabase(server.Address);
        await using var db = database.CreateDbContext();
        await db.Database.MigrateAsync();
        return database;
    }

    /// <summary>A wire to its server that a test can cut, and how it is reached over that wire.</summary>
    public (TcpProxy Wire, string Connection) BehindWire()
    {
        var connection = new NpgsqlConnectionStringBuilder(Connection);
        var wire = new TcpProxy(connection.Host!, connection.Port);
        connection.Port = wire.Port;
        connection.Timeout = WireTimeoutSeconds;
        return (wire, connection.ConnectionString);
    }

    /// <summary>A database that was migrated once; the others of this program are copies of it.</summary>
    private static readonly Lazy<Task<string>> Template = new(async () =>
    {
        var template = await CreateAsync(migrate: false);
        await using (var db = template.CreateDbContext())
            await db.Database.MigrateAsync();
        // Nobody may be connected to what is copied.
        NpgsqlConnection.ClearAllPools();
        AppDomain.CurrentDomain.ProcessExit += (_, _) => template.DisposeAsync().AsTask().GetAwaiter().GetResult();
        return template.name;
    });

    public JunctraDb CreateDbContext()
    {
        var options = new DbContextOptionsBuilder<JunctraDb>();
        JunctraDb.Configure(options, Connection);
        return new JunctraDb(options.Options);
    }

    public async ValueTask DisposeAsync()
    {
        await ExecuteAsync(server, $"drop database if exists {name} with (force)");
    }

    private static async Task ExecuteAsync(string server, string sql)
    {
        await using var connection = new NpgsqlConnection($"{server};Database=postgres;Pooling=false");
        await connection.OpenAsync();
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }
}
