using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Paths;
using Junctra.Core.Twin;
using Junctra.Link;
using Junctra.Link.Running;

namespace Junctra.Testing;

/// <summary>A simulated phone that is ready to be written over a link that is none of fastboot, and again after what broke.</summary>
/// <param name="Name">The stand-in.</param>
/// <param name="Plan">The plan.</param>
/// <param name="Files">Its package; none where data are saved.</param>
/// <param name="Phone">What is known of the phone.</param>
public sealed record ReadyPhone(string Name, Plan Plan, IReadOnlyList<PackageFile> Files, Phone Phone)
{
    /// <summary>
    /// The paths by which one is written: H over custom recovery, E over download with a layout, L over a chip that answers alone.
    /// </summary>
    public static IReadOnlyList<string> Written { get; } = ["H", "E", "L"];

    /// <summary>
    /// The same and those over the debugging link: G puts the package file on its card, N saves its data.
    /// </summary>
    public static IReadOnlyList<string> Paths { get; } = [.. Written, "G", "N"];

    /// <summary>
    /// Seeded moments of writes: by two of the paths in every run of the suite, by each of them where that is asked for.
    /// </summary>
    public static IEnumerable<(string Path, int Seed)> Moments(int all) =>
        Sampled.Few(Paths, 2).SelectMany(path => Enumerable.Range(0, Sampled.Of(all, 1)).Select(seed => (path, seed)));

    /// <summary>About as many entries as the write of a path brings to the journal before its first hands after the link.</summary>
    public static int EntriesOf(string path) =>
        path switch
        {
            "L" => 12,
            "G" => 14,
            "N" => 20,
            _ => 40,
        };

    /// <summary>Clocks for a machine that has other work, too.</summary>
    public static LinkClocks Clocks { get; } =
        new(TimeSpan.FromSeconds(5), TimeSpan.FromSeconds(30), TimeSpan.FromSeconds(30), TimeSpan.FromSeconds(30), _ =>
            TimeSpan.FromSeconds(60)
        );

    /// <summary>Where a write by a path leaves a phone that was interrupted.</summary>
    public static string ModeOf(string path) =>
        path switch
        {
            "H" => "custom-recovery",
            "E" => "download",
            "L" => "emergency",
            _ => "system",
        };

    /// <summary>Which stand-in is written by a path.</summary>
    public static string NameOf(string path) =>
        path switch
        {
            "H" => "L",
            "E" => "H",
            "G" => "M",
            "N" => "K",
            _ => "O",
        };

    /// <summary>What the library calls the package of a path.</summary>
    public static async Task<string?> PackageIdAsync(string path) =>
        PackageOf(path) is { } file ? (await DemoLibrary.ReadAnyAsync(file)).Id : null;

    private static string? PackageOf(string path) =>
        path switch
        {
            "H" => "fell-own-backup.tar",
            "E" => "TN63E_WHM_r5_with_layout.zip",
            "G" => "fell-full-2.6.118.zip",
            "N" => null,
            _ => "tern6_latest.zip",
        };

    /// <summary>Makes a phone ready.</summary>
    /// <param name="phones">The stand-ins.</param>
    /// <param name="path">The path.</param>
    /// <param name="anew">Whether it is as it first came; else as an interrupted write left it.</param>
    /// <exception cref="InvalidOperationException">There is no plan.</exception>
    public static async Task<ReadyPhone> MakeAsync(StandInProcess phones, string path, bool anew)
    {
        var name = NameOf(path);
        if (anew)
        {
            await phones.DoAsync(name, "renew");
            if (path == "H")
            {
                await phones.DoAsync(name, "into/custom-recovery");
                await phones.EventsAsync(name, new CableIn("bench computer"));
            }
            else if (path == "E")
            {
                await IntoDownloadAsync(phones, name);
            }
            else if (path == "G")
            {
                await AllowAsync(phones, name);
            }
            else if (path == "N")
            {
                // It allows this computer as it comes.
                await phones.EventsAsync(name, new CableIn("bench computer"));
            }
        }

        PackageFile? file = PackageOf(path) is { } package
            ? new(await DemoLibrary.ReadAnyAsync(package), Path.Combine(await DemoLibrary.AllFolderAsync(), package))
            : null;
        (FactName Name, string Value)[] besides = path switch
        {
            "H" => [(FactName.LockState, "unlocked"), (FactName.Recovery, "custom")],
            "N" => [(FactName.LockState, "unlocked")],
            "G" => [(FactName.LockState, "locked"), (FactName.Recovery, "stock"), (FactName.Card, "present")],
            "L" =>
            [
                (FactName.ModelCode, "TN63W"),
                (FactName.Serial, "TNO60427"),
                (FactName.RollbackFloor, "6"),
                (FactName.Mode, anew ? "off" : "emergency"),
            ],
            _ => [],
        };
        IEnumerable<Fact> read =
            path == "L" ? [] : (await PhoneReader.ReadAsync(phones[name], Clocks, Repo.Catalogue, Sample.Noon, "bench")).Facts;
        var phone = besides.Aggregate(new Phone(read), (known, fact) =>
            known[fact.Name].Value is null ? known.Supposing(fact.Name, fact.Value) : known
        );
        var @case = new PathCase(phone, file?.Package, path is not ("G" or "N"), Repo.Catalogue);
        var outcome = PathList.Compile(
            @case with
            {
                NeedsRescue = path == "L",
                Policy = @case.Policy with { Layout = LayoutSchool.Always },
            },
            path
        );
        return new ReadyPhone(
            name,
            outcome.Plan ?? throw new InvalidOperationException(string.Join(" ", outcome.Refusals)),
            file is null ? [] : [file],
            phone
        );
    }

    /// <summary>Its cable is in, and its owner lets this computer have its files.</summary>
    private static async Task AllowAsync(StandInProcess phones, string name)
    {
        await phones.EventsAsync(
            name,
            [
                new CableIn("bench computer"),
                .. Enumerable.Repeat(new Choose("build-number"), 7),
                new Choose("debugging"),
                new Choose("allow"),
            ]
        );
        await Until.TrueAsync(async () => await phones.ModeAsync(name) == "system", "the phone runs");
    }

    /// <summary>Hands bring a phone into download mode.</summary>
    public static async Task IntoDownloadAsync(StandInProcess phones, string name)
    {
        await Until.TrueAsync(
            async () => await phones.DoAsync(name, "into/download") == System.Net.HttpStatusCode.OK,
            "hands have brought it into download mode"
        );
        await Until.TrueAsync(async () => await phones.ModeAsync(name) == "download", "the phone is in download mode");
    }
}
