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
internal static class MatchBench
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

    private static string CodeOf(int maker, int model) => $"Q{(char)('A' + maker / 26)}{(char)('A' + maker % 26)}{model:00}";

    private static string BuildOf(string code, int package) =>
        $"{code}/{14 + package / 20}.26w{1 + package % 50:00}-{1 + package}.r{1 + package / 10}";

    private static Phone PhoneOf(string code, int maker, int model)
    {
        var at = DateTimeOffset.UtcNow;
        (FactName Name, string Value)[] facts =
        [
            (FactName.ModelCode, code),
            (FactName.ChipFamily, "Dolan Major"),
            (FactName.Region, "WHM"),
            (FactName.RollbackFloor, "3"),
            (FactName.LockState, "unlocked"),
            (FactName.Serial, $"Q{maker}{model}"),
            (FactName.Build, BuildOf(code, 24)),
            (FactName.OsVersion, "15"),
            (FactName.DeviceStatus, "official"),
            (FactName.Mode, "fastboot"),
            (FactName.BatteryPercent, "80"),
        ];
        return new Phone(facts.Select(fact => new Fact(fact.Name, fact.Value, FactSource.Link, at, "bench")));
    }

    private static ModelCatalogue Catalogue()
    {
        PartitionSpec[] partitions =
        [
            new("bootloader", PartitionRole.BootChain, 8 << 20, true),
            new("radio", PartitionRole.Radio, 32 << 20, true),
            new("boot", PartitionRole.Boot, 32 << 20, true),
            new("recovery", PartitionRole.Recovery, 32 << 20, true),
            new("system", PartitionRole.System, 192 << 20, true),
            new("userdata", PartitionRole.UserData, 512 << 20, false),
        ];
        var makers = Enumerable
            .Range(0, Makers)
            .Select(maker => new Maker(
                $"Maker {maker}",
                true,
                false,
                false,
                new BuildGrammar(
                    $"Maker {maker}",
                    $"^(?<model>{CodeOf(maker, 0)[..3]}[0-9]{{2}})/(?<os>[0-9]{{2}})\\.(?<year>[0-9]{{2}})w(?<week>[0-9]{{2}})-(?<iteration>[0-9]{{1,3}})\\.r(?<revision>[0-9]{{1,3}})$",
                    ["year", "week", "iteration"]
                ),
                [],
                [
                    .. Enumerable
                        .Range(0, ModelsEach)
                        .Select(model => new PhoneModel(
                            CodeOf(maker, model),
                            $"Model {maker} {model}",
                            "Dolan Major",
                            "menu",
                            PhoneMode.Fastboot,
                            PackageKind.FactorySet,
                            false,
                            true,
                            [64],
                            new ReadingPlace("label", 1),
                            partitions
                        )),
                ]
            ))
            .ToList();
        var figures = new Figures(50, 30, new(10, 20), new(5, 2), new(10, 20), new(20, 60), new(3, 8), 12, 30, 120, 2, 5, 15, 180);
        return new ModelCatalogue(
            makers,
            [],
            [new Region("WHM", "Westholm", "north"), new Region("KRW", "Karrow", "north"), new Region("SRV", "Sorvia", "east")],
            figures
        );
    }

    private static JunctraDb Context(string database)
    {
        var options = new DbContextOptionsBuilder<JunctraDb>();
        JunctraDb.Configure(options, database);
        return new JunctraDb(options.Options);
    }

    private static async Task FillAsync(ModelCatalogue catalogue, string database)
    {
        await using (var db = Context(database))
        {
            await db.Database.EnsureDeletedAsync();
            await db.Database.MigrateAsync();
        }

        var number = 0;
        foreach (
            var batch in catalogue
                .Models.SelectMany(model => Enumerable.Range(0, PackagesEach).Select(package => (model, package)))
                .Chunk(2_000)
        )
        {
            await using var db = Context(database);
            db.ChangeTracker.AutoDetectChangesEnabled = false;
            foreach (var (model, package) in batch)
            {
                var contents = Contents(model, package);
                var row = new PackageRow
                {
                    Id = contents.Sha256,
                    FileName = $"{model.Code}-{package}.zip",
                    SizeBytes = contents.SizeBytes,
                    InspectorVersion = PackageInspector.Version,
                    Contents = contents,
                };
                row.Describe(PackageReader.Read(row.FileName, contents, catalogue), catalogue.Stamp);
                db.Packages.Add(row);
            }

            await db.SaveChangesAsync();
            number += batch.Length;
            if (number % 20_000 == 0)
                Console.WriteLine($"{number:N0} packages made ...");
        }

        await using var end = Context(database);
        await end.Database.ExecuteSqlRawAsync("vacuum analyze packages");
    }

    /// <summary>What an inspection of a factory set finds: six images, requirement lines, a checksum list.</summary>
    private static PackageContents Contents(PhoneModel model, int package)
    {
        var build = BuildOf(model.Code, package);
        string Digest(string part) =>
            Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(System.Text.Encoding.UTF8.GetBytes(build + part)));
        List<PackageMember> members =
        [
            .. model
                .Partitions.Where(partition => partition.IsStock)
                .Select(
                    (partition, i) =>
                        new PackageMember(
                            i,
                            $"{model.Code}/{partition.Name}.img",
                            $"{model.Code}/images.zip",
                            MemberKind.Image,
                            partition.SizeBytes / 3,
                            Digest(partition.Name),
                            new MemberImage(
                                ImageFormat.Sparse,
                                Wrapping.Lz4,
                                partition.SizeBytes / 2,
                                Digest(partition.Name + "sent"),
                                partition.SizeBytes,
                                Digest(partition.Name + "expanded"),
                                null
                            )
                        )
                ),
        ];
        List<RequirementLine> lines =
        [
            new("board", [model.Code], true),
            new("chip", ["Dolan Major"], true),
            new("version-bootloader", [$"{1 + package / 10}"], true),
            new(
                "region",
                [
                    package % 3 == 0 ? "SRV"
                    : package % 3 == 1 ? "KRW"
                    : "WHM",
                ],
                false
            ),
            new("build", [build], false),
            new("security-patch", [$"2026-{1 + package % 12:00}"], false),
        ];
        return new PackageContents(
            900_000_000 + package,
            Digest("file"),
            null,
            members,
            lines,
            [.. members.Select(member => new ChecksumLine(member.Sha256, member.Name.Split('/')[^1], member.Within))],
            []
        );
    }
}
