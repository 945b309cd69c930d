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

/// <summary>The made-up world that is judged: makers, models, phones and packages.</summary>
internal static partial class MatchBench
{
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
