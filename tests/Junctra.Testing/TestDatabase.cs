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
        var database = new TestDatabase(Server());
        if (migrate)
        {
            var template = await Template.Value;
            await using var connection = await OpenAsync(database.server);
            // File by file, for the tests' server has them in memory: block by block and through its log takes twice as long.
            await ExecuteAsync(connection, $"create database {database.name} template {template} strategy file_copy");
        }

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

    /// <summary>A database that was migrated once, of which the others are copies: in this program, or in all of a suite.</summary>
    private static readonly Lazy<Task<string>> Template = new(async () =>
    {
        if (Suite.Name is not null)
            return await OfSuiteAsync($"suite_{Suite.Name}");
        var template = await MigratedAsync();
        AppDomain.CurrentDomain.ProcessExit += (_, _) => template.DisposeAsync().AsTask().GetAwaiter().GetResult();
        return template.name;
    });

    private static async Task<TestDatabase> MigratedAsync()
    {
        var template = await CreateAsync(migrate: false);
        await using (var db = template.CreateDbContext())
            await db.Database.MigrateAsync();
        // Nobody may be connected to what is copied.
        NpgsqlConnection.ClearAllPools();
        return template;
    }

    // Whoever comes first makes it, and the others wait for that; it goes with the suite's server.
    private static async Task<string> OfSuiteAsync(string name)
    {
        await using var connection = await OpenAsync(Server());
        await using var comeFirst = new NpgsqlCommand("select pg_advisory_lock(hashtext(@name))", connection);
        comeFirst.Parameters.AddWithValue("name", name);
        await comeFirst.ExecuteNonQueryAsync();
        await using var look = new NpgsqlCommand("select exists (select from pg_database where datname = @name)", connection);
        look.Parameters.AddWithValue("name", name);
        if (!(bool)(await look.ExecuteScalarAsync())!)
        {
            var template = await MigratedAsync();
            await ExecuteAsync(connection, $"alter database {template.name} rename to {name}");
        }

        return name;
    }

    public JunctraDb CreateDbContext()
    {
        var options = new DbContextOptionsBuilder<JunctraDb>();
        JunctraDb.Configure(options, Connection);
        return new JunctraDb(options.Options);
    }

    public async ValueTask DisposeAsync()
    {
        await using var connection = await OpenAsync(server);
        await ExecuteAsync(connection, $"drop database if exists {name} with (force)");
    }

    private static string Server() =>
        Environment.GetEnvironmentVariable("JUNCTRA_TEST_PG")
        ?? throw new InvalidOperationException("Tests of the store need PostgreSQL: run them with ./junctra test, or set JUNCTRA_TEST_PG.");

    private static async Task<NpgsqlConnection> OpenAsync(string server)
    {
        // On a busy machine it takes long to copy a database, and to wait until another program has migrated the first.
        var connection = new NpgsqlConnection($"{server};Database=postgres;Pooling=false;Command Timeout=300");
        await connection.OpenAsync();
        return connection;
    }

    private static async Task ExecuteAsync(NpgsqlConnection connection, string sql)
    {
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync();
    }
}
