using System.Diagnostics;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Formats.Inspection;
using Junctra.Store;
using Junctra.Store.Files;
using Junctra.Web.Bench;
using Junctra.Web.Library;
using Microsoft.EntityFrameworkCore;
using Npgsql;

namespace Junctra.Bench;

/// <summary>
/// One phone against 100,000 packages for 2,000 models: narrowed in the database and judged by every rule, against a bare indexed query
/// that returns the same rows.
/// Once for models that nobody has looked at since the start, whose packages must be read out of their rows, and once for models that were
/// looked at before.
/// </summary>
internal static partial class MatchBench
{
    private const int Makers = 40,
        ModelsEach = 50,
        PackagesEach = 50,
        Phones = 300,
        WarmUp = 140,
        WarmUpMakers = 3;

    public static async Task<IReadOnlyList<BenchRow>> RunAsync(string work, string database)
    {
        database = database.Replace("Database=junctra_bench", "Database=junctra_match");
        var catalogue = Catalogue();
        await FillAsync(catalogue, database);
        var store = new ContentStore(Path.Combine(work, "match-store"));
        using var read = new ReadPackages();
        await using var source = NpgsqlDataSource.Create(database);
        List<double> first = [],
            again = [],
            bare = [];
        var rows = 0;
        for (var i = -WarmUp; i < Phones; i++)
        {
            // The first ones, for models of their own, bring both to where they are in a program that has run for a while: compiled for
            // speed.
            var (maker, model) =
                i < 0 ? (Makers - 1 - -i % WarmUpMakers, -i / WarmUpMakers) : (i % (Makers - WarmUpMakers), i / (Makers - WarmUpMakers));
            var phone = PhoneOf(CodeOf(maker, model), maker, model);
            // In turn, so that neither always finds what the other brought into memory.
            if (i % 2 == 0)
                await BareAsync();
            var cold = await OursAsync();
            var warm = await OursAsync();
            if (i % 2 != 0)
                await BareAsync();
            if (i < 0)
            {
                (first, again, bare, rows) = ([], [], [], 0);
                continue;
            }

            first.Add(cold);
            again.Add(warm);

            async Task BareAsync()
            {
                var watch = Stopwatch.StartNew();
                await using var command = source.CreateCommand(
                    "select * from packages where model_codes && $1 and inspector_version = $2 order by title, id"
                );
                command.Parameters.Add(new NpgsqlParameter { Value = new[] { CodeOf(maker, model) } });
                command.Parameters.Add(new NpgsqlParameter { Value = PackageInspector.Version });
                await using var reader = await command.ExecuteReaderAsync();
                var values = new object[reader.FieldCount];
                while (await reader.ReadAsync())
                {
                    reader.GetValues(values);
                    rows++;
                }

                bare.Add(watch.Elapsed.TotalMilliseconds);
            }

            async Task<double> OursAsync()
            {
                var watch = Stopwatch.StartNew();
                await using var db = Context(database);
                var desk = new MatchService(
                    new PackageIndex(db, catalogue, store, read),
                    new PolicyHistory(db, TimeProvider.System),
                    null!,
                    catalogue
                );
                var judged = await desk.JudgeAsync(phone, await desk.ShopAsync(default), default);
                if (judged.Ranked.Count != PackagesEach)
                    throw new InvalidOperationException($"{judged.Ranked.Count} candidates instead of {PackagesEach}.");
                return watch.Elapsed.TotalMilliseconds;
            }
        }

        var what =
            $"match one phone against {Makers * ModelsEach * PackagesEach:N0} packages of {Makers * ModelsEach:N0} models ({rows / bare.Count} candidates judged)";
        return
        [
            Row(what + ", packages not read before", first),
            Row(what + ", again", again),
            Percentile(what + ", not read before, 95th percentile", first),
        ];

        BenchRow Row(string name, List<double> ours)
        {
            var ratio = BenchRow.Median(ours) / BenchRow.Median(bare);
            return new BenchRow(
                name,
                "a bare indexed query that returns the same rows",
                Milliseconds(BenchRow.Median(ours)),
                Milliseconds(BenchRow.Median(bare)),
                BenchRow.Ratio(ratio),
                "at most 5.00",
                ratio <= 5
            );
        }

        BenchRow Percentile(string name, List<double> ours)
        {
            var slow = ours.Order().ElementAt((int)(ours.Count * 0.95));
            return new BenchRow(name, "", Milliseconds(slow), "", Milliseconds(slow), "at most 50 ms", slow <= 50);
        }
    }

    private static string Milliseconds(double value) => value.ToString("0.0", System.Globalization.CultureInfo.InvariantCulture) + " ms";

    private static JunctraDb Context(string database)
    {
        var options = new DbContextOptionsBuilder<JunctraDb>();
        JunctraDb.Configure(options, database);
        return new JunctraDb(options.Options);
    }
}
