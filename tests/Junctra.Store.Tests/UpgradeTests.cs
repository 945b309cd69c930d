using Junctra.Testing;
using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql;

namespace Junctra.Store.Tests;

/// <summary>
/// From every earlier version: a database with rows in every table of it is carried over to this one, and no row and no value of a column
/// that is still there is lost or changed.
/// </summary>
public sealed class UpgradeTests
{
    private const int RowsOfEach = 3;

    // What an upgrade takes away on purpose: whoever is signed in signs in once more.
    private static readonly string[] Ended = ["ended_sign_ins"];

    public static TheoryData<string> Versions()
    {
        var options = new DbContextOptionsBuilder<JunctraDb>();
        JunctraDb.Configure(options, "Host=nowhere");
        using var db = new JunctraDb(options.Options);
        // From the one before in every run, from the others by turns.
        var earlier = db.Database.GetMigrations().SkipLast(1).ToList();
        return [.. Sampled.Share(earlier.SkipLast(1).ToList(), 3), earlier[^1]];
    }

    [Theory, MemberData(nameof(Versions))]
    public async Task Nothing_is_lost_on_the_way_from(string version)
    {
        await using var database = await TestDatabase.CreateAsync(migrate: false);
        await using (var before = database.CreateDbContext())
            await before.GetService<IMigrator>().MigrateAsync(version, TestContext.Current.CancellationToken);
        await using var connection = new NpgsqlConnection(database.Connection);
        await connection.OpenAsync(TestContext.Current.CancellationToken);
        var tables = await FillAsync(connection);
        Assert.NotEmpty(tables);
        var was = new Dictionary<string, List<Dictionary<string, string>>>();
        foreach (var table in tables)
            Assert.True((was[table] = await RowsAsync(connection, table)).Count >= RowsOfEach, $"{table} was not filled");

        await using (var after = database.CreateDbContext())
            await after.Database.MigrateAsync(TestContext.Current.CancellationToken);
        connection.ReloadTypes();
        var left = (await TablesAsync(connection)).ToHashSet();
        foreach (var table in tables.Except(Ended))
        {
            Assert.True(left.Contains(table), $"{table} is gone");
            var now = await RowsAsync(connection, table);
            foreach (var row in was[table])
                Assert.True(
                    now.Exists(other => row.All(value => !other.TryGetValue(value.Key, out var kept) || kept == value.Value)),
                    $"{table} has lost {string.Join(", ", row.Select(value => $"{value.Key} = {value.Value}"))}"
                );
        }
    }

    /// <summary>A column, and what it takes.</summary>
    private sealed record Column(string Name, string Type, int? MaxLength, (string Table, string Column)? Parent);

    private static async Task<List<string>> TablesAsync(NpgsqlConnection connection) =>
        await ListAsync(
            connection,
            "select relname::text from pg_class where relnamespace = 'public'::regnamespace and relkind = 'r' and relname <> '__EFMigrationsHistory' order by 1",
            reader => reader.GetString(0)
        );

    /// <summary>Fills every table, those first that others hang on.</summary>
    private static async Task<List<string>> FillAsync(NpgsqlConnection connection)
    {
        var done = new List<string>();
        var waiting = new Queue<string>(await TablesAsync(connection));
        for (var turns = 0; waiting.TryDequeue(out var table); turns++)
        {
            Assert.True(turns < 1000, $"{table} hangs on itself");
            var columns = await ColumnsAsync(connection, table);
            if (columns.Exists(column => column.Parent is { } parent && parent.Table != table && !done.Contains(parent.Table)))
            {
                waiting.Enqueue(table);
                continue;
            }

            for (var n = 1; n <= RowsOfEach; n++)
                await ExecuteAsync(
                    connection,
                    $"insert into \"{table}\" ({string.Join(", ", columns.Select(column => $"\"{column.Name}\""))}) values ({string.Join(", ", columns.Select(column => ValueOf(column, n)))}) on conflict do nothing"
                );
            done.Add(table);
        }

        return done;
    }

    private static async Task<List<Column>> ColumnsAsync(NpgsqlConnection connection, string table)
    {
        var parents = await ListAsync(
            connection,
            $"""
            select a.attname::text, c.confrelid::regclass::text, f.attname::text from pg_constraint c
            join pg_attribute a on a.attrelid = c.conrelid and a.attnum = c.conkey[1]
            join pg_attribute f on f.attrelid = c.confrelid and f.attnum = c.confkey[1]
            where c.contype = 'f' and c.conrelid = '"{table}"'::regclass
            """,
            reader => (Column: reader.GetString(0), Parent: (reader.GetString(1).Trim('"'), reader.GetString(2)))
        );
        return await ListAsync(
            connection,
            $"""
            select column_name::text, udt_name::text, character_maximum_length from information_schema.columns
            where table_schema = 'public' and table_name = '{table}' and is_generated = 'NEVER' order by ordinal_position
            """,
            reader =>
            {
                var name = reader.GetString(0);
                var parent = parents.Where(pair => pair.Column == name).Select(pair => ((string, string)?)pair.Parent).FirstOrDefault();
                return new Column(name, reader.GetString(1), reader.IsDBNull(2) ? null : reader.GetInt32(2), parent);
            }
        );
    }

    private static string ValueOf(Column column, int n) =>
        column.Parent is { } parent
            ? $"(select \"{parent.Column}\" from \"{parent.Table}\" order by 1 offset {n - 1} limit 1)"
            : column.Type switch
            {
                "int4" or "int8" or "int2" => $"{n}",
                "float8" or "float4" or "numeric" => $"{n}.5",
                "bool" => n % 2 == 0 ? "true" : "false",
                "timestamptz" => $"'2026-03-0{n} 08:00:00.123456+00'",
                "date" => $"'2026-03-0{n}'",
                "interval" => $"'{n} minutes'",
                "uuid" => $"'00000000-0000-0000-0000-00000000000{n}'",
                "jsonb" => $$"""'{"n": {{n}}}'""",
                "tsvector" => $"'w{n}:1'",
                "bytea" => $@"'\x0{n}'",
                "_text" or "_varchar" => $"array['a{n}', 'b']",
                "_int4" or "_int8" => $"array[{n}, 7]",
                "text" or "varchar" => $"'{Short(column, n)}'",
                _ => throw new InvalidOperationException($"{column.Name} is a {column.Type}: say here what it takes."),
            };

    // What people type: quotes, letters of other alphabets, and no more than the column takes.
    private static string Short(Column column, int n)
    {
        var text = $"{n} “é”; {column.Name}";
        return text[..Math.Min(text.Length, column.MaxLength ?? text.Length)];
    }

    private static async Task<List<Dictionary<string, string>>> RowsAsync(NpgsqlConnection connection, string table) =>
        await ListAsync(connection, $"select * from \"{table}\"", reader =>
            Enumerable
                .Range(0, reader.FieldCount)
                .ToDictionary(i => reader.GetName(i), i => reader.IsDBNull(i) ? "null" : TextOf(reader.GetValue(i)))
        );

    private static string TextOf(object value) =>
        value switch
        {
            byte[] bytes => Convert.ToHexString(bytes),
            System.Collections.IEnumerable many and not string => string.Join(",", many.Cast<object>()),
            _ => FormattableString.Invariant($"{value}"),
        };

    private static async Task<List<T>> ListAsync<T>(NpgsqlConnection connection, string sql, Func<NpgsqlDataReader, T> read)
    {
        await using var command = new NpgsqlCommand(sql, connection);
        await using var reader = await command.ExecuteReaderAsync(TestContext.Current.CancellationToken);
        var found = new List<T>();
        while (await reader.ReadAsync(TestContext.Current.CancellationToken))
            found.Add(read(reader));
        return found;
    }

    private static async Task ExecuteAsync(NpgsqlConnection connection, string sql)
    {
        await using var command = new NpgsqlCommand(sql, connection);
        await command.ExecuteNonQueryAsync(TestContext.Current.CancellationToken);
    }
}
