using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Formats.Text;

namespace Junctra.StandIns;

/// <summary>
/// The packages of the demo world that are no factory sets: bundles, parts, card updates, backups, a single image, and the set of the model
/// with partitions inside one big one. The same bytes on every computer.
/// </summary>
internal static partial class DemoBundles
{
    private const int EndMarkRoom = 64;
    private const int LoaderBytes = 96 << 10;
    private const int Block = 4096;
    private const int BlocksPerMegabyte = (1 << 20) / Block;

    /// <summary>All of them: the name of the file, and what writes it.</summary>
    public static IReadOnlyList<(string FileName, Func<Stream, Task> WriteAsync)> All { get; } =
    [
        ("TN63E_WHM_r4_full.zip", to => FourPartAsync(to, Tern6("TN63E.4.2536.WHM1"))),
        ("TN63E_WHM_r5_full.zip", to => FourPartAsync(to, Tern6("TN63E.5.2608.WHM2"))),
        ("TN63E_WHM_r6_full.zip", to => FourPartAsync(to, Tern6("TN63E.6.2630.WHM1"))),
        ("TN63E_SRV_r4_full.zip", to => FourPartAsync(to, Tern6("TN63E.4.2537.SRV1"))),
        ("TN63E_SRV_r5_full.zip", to => FourPartAsync(to, Tern6("TN63E.5.2609.SRV1"))),
        ("TN63E_SRV_r6_full.zip", to => FourPartAsync(to, Tern6("TN63E.6.2631.SRV3"))),
        ("TN63E_WHM_r5_with_layout.zip", to => FourPartAsync(to, Tern6("TN63E.5.2606.WHM1") with { HasLayout = true })),
        // The rare fifth part: what somebody's shop wanted on every phone it sold.
        ("TN63E_WHM_r5_with_data.zip", to => FourPartAsync(to, Tern6("TN63E.5.2604.WHM1") with { HasData = true })),
        ("tern6_latest.zip", to => FourPartAsync(to, new Bundle("TN63W", "Dolan Major", "TN63W.6.2612.WHM1"))),
        ("patched-system-8.1.tar", to => PatchedAsync(to, Tern6("TN63E.5.2608.WHM2"), "8.1")),
        ("patched-system-8.2.tar", to => PatchedAsync(to, Tern6("TN63E.5.2608.WHM2"), "8.2")),
        ("tern4-26w10.tar", to => SingleAsync(to, new Bundle("TN41E", "Merak Two", "TN41E.2.2610.WHM1"))),
        ("tern4-26w24-KRW.tar", to => SingleAsync(to, new Bundle("TN41E", "Merak Two", "TN41E.2.2624.KRW1"))),
        // The third phone of that name, with another chip.
        ("tern4_new.tar", to => SingleAsync(to, new Bundle("TN41S", "Dolan Minor", "TN41S.2.2618.WHM2"))),
        ("halyard2_N.zip", to => SingleAsync(to, new Bundle("TRB62", "Dolan Minor", "TRB62-N-14c-04-20260311"))),
        ("fell-full-2.6.118.zip", to => CardUpdateAsync(to, null)),
        // Named by somebody who renamed it where endings are hidden.
        ("update.zip.zip", to => CardUpdateAsync(to, "OB17_2.6.112_r04_DNM")),
        ("fell-own-backup.tar", to => BackupAsync(to, "OBF20117", "2026-02-14", "stock")),
        ("fell-backup-from-the-web.tar", to => BackupAsync(to, "OBF88230", "2026-04-02", "stock")),
        ("recovery.img", async to => await to.WriteAsync(Recovery("OB17_2.6.118_r04_DNM"))),
        ("cairn-two-26w20.tar", to => CairnTwoAsync(to, "HX310/16.26w20-1.r2", isLoose: false)),
        // What lies inside the large partition image by image: written in the command mode that recovery hosts.
        ("cairn-two-26w24-loose.tar", to => CairnTwoAsync(to, "HX310/16.26w24-2.r2", isLoose: true)),
    ];

    /// <summary>What the mirrors have: later builds than the library.</summary>
    public static IReadOnlyList<(string FileName, string Build, string Model, Func<Stream, Task> WriteAsync)> OfMirrors { get; } =
    [
        ("TN63E_WHM_r5_26w20.zip", "TN63E.5.2620.WHM3", "TN63E", to => FourPartAsync(to, Tern6("TN63E.5.2620.WHM3"))),
        ("tern4-26w26.tar", "TN41E.2.2626.WHM1", "TN41E", to => SingleAsync(to, new Bundle("TN41E", "Merak Two", "TN41E.2.2626.WHM1"))),
        ("tern4-lanternet-26w12.tar", "TN41K.2.2612.LNT1", "TN41K", to =>
            SingleAsync(to, new Bundle("TN41K", "Merak Two", "TN41K.2.2612.LNT1"))
        ),
        ("halyard2_N_04.zip", "TRB62-N-14d-04-20260720", "TRB62", to =>
            SingleAsync(to, new Bundle("TRB62", "Dolan Minor", "TRB62-N-14d-04-20260720"))
        ),
        ("fell-full-2.6.121.zip", "OB17_2.6.121_r04_DNM", "OB17", to => CardUpdateAsync(to, null, "OB17_2.6.121_r04_DNM")),
        ("cairn-26w34.tar", "HX204/15.26w34-1.r4", "HX204", to =>
            DemoPackages.WriteAsync(
                new DemoPackage("cairn-26w34.tar", "HX204", "HX204/15.26w34-1.r4", 15, 4, 42, Layout: DemoLayout.Wrapped),
                to
            )
        ),
    ];

    /// <summary>Writes what the mirrors have and is not there yet.</summary>
    public static async Task WriteOfMirrorsAsync(string folder)
    {
        Directory.CreateDirectory(folder);
        foreach (var (name, _, _, write) in OfMirrors)
            await DemoPackages.WriteWholeAsync(Path.Combine(folder, name), write);
    }

    /// <summary>Writes all that are not there yet; each appears under its name only when it is whole.</summary>
    public static async Task WriteAsync(string folder)
    {
        Directory.CreateDirectory(folder);
        foreach (var (name, write) in All)
            await DemoPackages.WriteWholeAsync(Path.Combine(folder, name), write);
        var own = Path.Combine(folder, "fell-full-2.6.118.zip");
        var digest = Convert.ToHexStringLower(SHA256.HashData(await File.ReadAllBytesAsync(own)));
        await File.WriteAllTextAsync(own + ".sha256", ChecksumText.Write([new ChecksumLine(digest, Path.GetFileName(own))]));
    }

    /// <summary>
    /// Writes the loaders for chips that answer alone, signed each for its chip and for boot chains up to a revision; in a folder whose
    /// name keeps it out of the library.
    /// </summary>
    public static async Task WriteLoadersAsync(string folder, ModelCatalogue catalogue)
    {
        var loaders = Path.Combine(folder, ".loaders");
        Directory.CreateDirectory(loaders);
        foreach (var loader in catalogue.Makers.SelectMany(maker => maker.Loaders).Where(loader => loader.File is not null))
        {
            var stamp = DemoImages.StampText(("part", "loader"), ("chip", loader.Chip), ("revision", loader.HighestRevision.ToString()));
            var bytes = DemoImages.Bytes(LoaderBytes, loader.File!, stamp);
            await DemoPackages.WriteWholeAsync(Path.Combine(loaders, loader.File!), to => to.WriteAsync(bytes).AsTask());
        }
    }

    private static Bundle Tern6(string build) => new("TN63E", "Merak Four", build);

    private static async Task FourPartAsync(Stream to, Bundle bundle)
    {
        var parts = new List<(string Name, byte[] Bytes)>
        {
            ("bootchain.tar", await PartAsync(bundle, [], ("bootchain.img", Stamped(bundle, 3 << 20, "bootchain")))),
            ("system.tar", await SystemPartAsync(bundle)),
            (
                "radio.tar",
                await PartAsync(
                    bundle,
                    [$"version-baseband={bundle.Radio}"],
                    ("radio.img.zst", DemoArchives.Zstandard(Stamped(bundle, 4 << 20, "radio")))
                )
            ),
            (
                "region-keep.tar",
                await PartAsync(bundle, ["data=keep"], ("regionpack.img.gz", DemoArchives.Gzip(Stamped(bundle, 2 << 20, "regionpack"))))
            ),
            (
                "region-clean.tar",
                await PartAsync(
                    bundle,
                    ["data=clean"],
                    ("regionpack.img.gz", DemoArchives.Gzip(Stamped(bundle, 2 << 20, "regionpack"))),
                    ("userdata.img", await EmptyAsync(bundle))
                )
            ),
        };
        if (bundle.HasLayout)
            parts.Add(("layout.img", Layout()));
        if (bundle.HasData)
            parts.Add(("userdata.tar", await PartAsync(bundle, [], ("userdata.img.lz4", DemoArchives.Lz4(Data(bundle, "userdata"))))));
        var folder = $"{bundle.Build}/";
        await DemoArchives.ZipAsync(
            to,
            folder,
            [.. parts, Sums(parts), ("read me first.html", "<p>More of these at the harbour board.</p>"u8.ToArray())]
        );
    }

    private static async Task<byte[]> PartAsync(Bundle bundle, string[] more, params (string Name, byte[] Bytes)[] images)
    {
        var part = new MemoryStream();
        await DemoArchives.TarAsync(part, "part", [Says(bundle, more), .. images, Sums([.. images])]);
        return part.ToArray();
    }

    private static async Task<byte[]> SystemPartAsync(Bundle bundle) =>
        await PartAsync(
            bundle,
            [],
            ("system.img.lz4", DemoArchives.Lz4(await SparseAsync(bundle, "system", 24, 5))),
            ("boot.img", Boot(bundle, "boot", 15)),
            ("recovery.img.lz4", DemoArchives.Lz4(Boot(bundle, "recovery", 15)))
        );

    /// <summary>A system part that the root manager on a phone has patched.</summary>
    private static async Task PatchedAsync(Stream to, Bundle bundle, string rootManager) =>
        await to.WriteAsync(await RootManager.PatchAsync(await SystemPartAsync(bundle), rootManager));

    private static async Task SingleAsync(Stream to, Bundle bundle)
    {
        var isZip = bundle.Model == "TRB62";
        var images = new List<(string Name, byte[] Bytes)>
        {
            ("bootchain.img", Stamped(bundle, 1 << 20, "bootchain")),
            ("radio.img", Stamped(bundle, 4 << 20, "radio")),
            ("boot.img", Boot(bundle, "boot", bundle.Os)),
            ("recovery.img", Boot(bundle, "recovery", bundle.Os)),
            isZip
                ? ("system.img.zst", DemoArchives.Zstandard(await SparseAsync(bundle, "system", 20, 6)))
                : ("system.img.gz", DemoArchives.Gzip(await SparseAsync(bundle, "system", 20, 6))),
        };
        (string, byte[])[] members =
        [
            Says(bundle, bundle.Radio is { } radio ? [$"version-baseband={radio}"] : []),
            .. images,
            Sums(images),
        ];
        if (isZip)
            await DemoArchives.ZipAsync(to, "", members);
        else
            await DemoArchives.TarAsync(to, bundle.Build, members);
    }

    private static async Task CardUpdateAsync(Stream to, string? from, string build = "OB17_2.6.118_r04_DNM")
    {
        var bundle = new Bundle("OB17", "Dolan Minor", build);
        var metadata = Encoding.UTF8.GetBytes(
            $"pre-device=OB17\npost-build={bundle.Build}\n{(from is null ? "" : $"pre-build={from}\n")}post-security-patch-level={bundle.Month}\n"
        );
        List<(string Name, byte[] Bytes)> images = from is null
            ?
            [
                ("boot.img", Boot(bundle, "boot", 2)),
                ("recovery.img", Recovery(bundle.Build)),
                ("system.img", await SparseAsync(bundle, "system", 20, 7)),
            ]
            :
            [
                ("patches/boot.delta", DemoImages.Bytes(1 << 20, bundle.Build + from, null)),
                ("patches/system.delta", DemoImages.Bytes(7 << 20, bundle.Build + "system" + from, null)),
            ];
        await DemoArchives.ZipAsync(to, "", [("metadata", metadata), .. images]);
    }

    private static async Task BackupAsync(Stream to, string serial, string day, string system)
    {
        var bundle = new Bundle("OB17", "Dolan Minor", "OB17_2.6.112_r04_DNM");
        var says = Encoding.UTF8.GetBytes(
            $"backup-serial={serial}\nbackup-model=OB17\ntaken={day}\nsystem={system}\nbuild={bundle.Build}\n"
        );
        List<(string Name, byte[] Bytes)> images =
        [
            ("boot.img", Boot(bundle, "boot", 2)),
            ("system.img.gz", DemoArchives.Gzip(await SparseAsync(bundle, "system", 20, 5))),
            ("userdata.img.lz4", DemoArchives.Lz4(Data(bundle, serial + day))),
        ];
        await DemoArchives.TarAsync(to, $"backup-{day}", [("backup.txt", says), .. images, Sums(images)]);
    }

    private static async Task CairnTwoAsync(Stream to, string build, bool isLoose)
    {
        var bundle = new Bundle("HX310", "Dolan Major", build);
        var week = build.Split('.', '-')[1];
        List<(string Name, byte[] Bytes)> images =
        [
            ("bootloader.img", Stamped(bundle, 2 << 20, "bootloader")),
            ("radio.img", Stamped(bundle, 4 << 20, "radio")),
            ("boot.img", Boot(bundle, "boot", 16)),
            ("overlay.img", Stamped(bundle, 512 << 10, "overlay")),
            ("verify.img", Stamped(bundle, 64 << 10, "verify")),
        ];
        if (isLoose)
            images.AddRange([("system.img", Stamped(bundle, 9 << 20, "system")), ("product.img", Stamped(bundle, 5 << 20, "product"))]);
        else
            images.Add(("super.img.zst", DemoArchives.Zstandard(await SuperAsync(bundle))));
        var lines = new List<RequirementLine>
        {
            new("board", ["HX310"], true),
            new("version-bootloader", ["2"], true),
            new("version-baseband", [$"HX310-R-{week}"], true),
            new("security-patch", [bundle.Month], false),
            new("erase", ["userdata"], false),
            new("build", [bundle.Build], false),
        };
        await DemoArchives.TarAsync(
            to,
            $"hx310-{week}",
            [("requirements.txt", Encoding.UTF8.GetBytes(RequirementText.Write(lines))), .. images, Sums(images)]
        );
    }
}
