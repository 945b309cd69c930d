using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

/// <summary>What each package of the demo world is, by its content, and what it would do to the data.</summary>
public class DemoPackageTests
{
    [Theory]
    [InlineData("TN63E_WHM_r4_full.zip", PackageKind.FourPartBundle, "TN63E", "WHM", 4, DataFate.Choice, Wholeness.AsPublished)]
    [InlineData("TN63E_WHM_r5_full.zip", PackageKind.FourPartBundle, "TN63E", "WHM", 5, DataFate.Choice, Wholeness.AsPublished)]
    [InlineData("TN63E_WHM_r6_full.zip", PackageKind.FourPartBundle, "TN63E", "WHM", 6, DataFate.Choice, Wholeness.AsPublished)]
    [InlineData("TN63E_SRV_r4_full.zip", PackageKind.FourPartBundle, "TN63E", "SRV", 4, DataFate.Choice, Wholeness.AsPublished)]
    [InlineData("TN63E_SRV_r5_full.zip", PackageKind.FourPartBundle, "TN63E", "SRV", 5, DataFate.Choice, Wholeness.AsPublished)]
    [InlineData("TN63E_SRV_r6_full.zip", PackageKind.FourPartBundle, "TN63E", "SRV", 6, DataFate.Choice, Wholeness.AsPublished)]
    [InlineData("TN63E_WHM_r5_with_layout.zip", PackageKind.FourPartBundle, "TN63E", "WHM", 5, DataFate.Choice, Wholeness.AsPublished)]
    [InlineData("TN63E_WHM_r5_with_data.zip", PackageKind.FourPartBundle, "TN63E", "WHM", 5, DataFate.Choice, Wholeness.AsPublished)]
    [InlineData("tern6_latest.zip", PackageKind.FourPartBundle, "TN63W", "WHM", 6, DataFate.Choice, Wholeness.AsPublished)]
    [InlineData("patched-system-8.1.tar", PackageKind.BundlePart, "TN63E", "WHM", 5, DataFate.NotPromised, Wholeness.Unproven)]
    [InlineData("patched-system-8.2.tar", PackageKind.BundlePart, "TN63E", "WHM", 5, DataFate.NotPromised, Wholeness.Unproven)]
    [InlineData("tern4-26w10.tar", PackageKind.SingleBundle, "TN41E", "WHM", 2, DataFate.NotPromised, Wholeness.AsPublished)]
    [InlineData("tern4-26w24-KRW.tar", PackageKind.SingleBundle, "TN41E", "KRW", 2, DataFate.NotPromised, Wholeness.AsPublished)]
    [InlineData("tern4_new.tar", PackageKind.SingleBundle, "TN41S", "WHM", 2, DataFate.NotPromised, Wholeness.AsPublished)]
    [InlineData("halyard2_N.zip", PackageKind.SingleBundle, "TRB62", null, 4, DataFate.NotPromised, Wholeness.AsPublished)]
    [InlineData("fell-full-2.6.118.zip", PackageKind.CardUpdate, "OB17", "DNM", 4, DataFate.Kept, Wholeness.AsPublished)]
    [InlineData("update.zip.zip", PackageKind.CardUpdate, "OB17", "DNM", 4, DataFate.Kept, Wholeness.Unproven)]
    [InlineData("fell-own-backup.tar", PackageKind.BackupSet, "OB17", "DNM", 4, DataFate.Replaced, Wholeness.Listed)]
    [InlineData("fell-backup-from-the-web.tar", PackageKind.BackupSet, "OB17", "DNM", 4, DataFate.Replaced, Wholeness.Listed)]
    [InlineData("recovery.img", PackageKind.SingleImage, null, null, null, DataFate.Kept, Wholeness.Unproven)]
    [InlineData("cairn-two-26w20.tar", PackageKind.FactorySet, "HX310", null, 2, DataFate.Choice, Wholeness.AsPublished)]
    [InlineData("cairn-two-26w24-loose.tar", PackageKind.FactorySet, "HX310", null, 2, DataFate.Choice, Wholeness.AsPublished)]
    public async Task Each_is_what_it_is(
        string file,
        PackageKind kind,
        string? model,
        string? region,
        int? revision,
        DataFate data,
        Wholeness whole
    )
    {
        var package = await DemoLibrary.ReadAnyAsync(file);
        Assert.Equal(kind, package.Kind);
        Assert.Equal(model is null ? [] : [model], package.Says(FactName.ModelCode));
        Assert.Equal(region is null ? [] : [region], package.Says(FactName.Region));
        Assert.Equal(revision is { } number ? [number] : [], package.Revisions);
        Assert.Equal(data, package.Data().Fate);
        Assert.Equal(whole, package.Whole().State);
        Assert.False(package.IsDamaged);
    }

    [Fact]
    public async Task Whatever_the_mirrors_offer_fits_the_phone_that_it_is_for()
    {
        var held = 0;
        foreach (var path in Directory.EnumerateFiles(await DemoLibrary.MirrorFolderAsync()))
        {
            var package = await DemoLibrary.ReadFileAsync(path);
            foreach (var model in package.Says(FactName.ModelCode).Select(code => Repo.Catalogue.Model(code)!))
            {
                foreach (var (image, room) in package.Images.Join(model.Partitions, i => i.Partition, p => p.Name, (i, p) => (i, p)))
                {
                    held++;
                    Assert.True(
                        image.Body.ExpandedBytes <= room.SizeBytes,
                        $"{Path.GetFileName(path)}: {image.Partition} of {image.Body.ExpandedBytes} bytes, {model.Code} has {room.SizeBytes}"
                    );
                }
            }
        }

        Assert.True(held > 20, $"{held} images were held against a partition.");
    }

    [Fact]
    public async Task The_two_region_packs_of_a_bundle_are_told_apart_by_what_they_hold()
    {
        var package = await DemoLibrary.ReadAnyAsync("TN63E_WHM_r5_full.zip");
        Assert.Equal(
            [PartKind.BootChain, PartKind.System, PartKind.Radio, PartKind.KeepDataPack, PartKind.CleanPack],
            package.Parts.Select(part => part.Kind)
        );
        Assert.Equal(["regionpack", "userdata"], package.Parts[^1].Images.Select(image => image.Partition));
    }

    [Fact]
    public async Task A_layout_beside_a_bundle_is_read_and_fits_its_model()
    {
        var package = await DemoLibrary.ReadAnyAsync("TN63E_WHM_r5_with_layout.zip");
        Assert.Equal(8, package.Layout!.Image!.Inside!.Table!.Entries.Count);
        Assert.DoesNotContain(package.Findings, finding => finding.Text.Contains("layout"));
        Assert.EndsWith("with layout", package.KindWords());
    }

    [Fact]
    public async Task An_update_names_the_build_it_goes_from_and_its_doubled_ending()
    {
        var package = await DemoLibrary.ReadAnyAsync("update.zip.zip");
        Assert.Equal("OB17_2.6.112_r04_DNM", package.BaseBuild);
        Assert.Contains(package.Findings, finding => finding.Text.Contains("doubled"));
    }

    [Fact]
    public async Task Backups_name_the_phone_and_the_day()
    {
        Assert.Equal(new BackupOrigin("OBF20117", "2026-02-14", "stock"), (await DemoLibrary.ReadAnyAsync("fell-own-backup.tar")).Backup);
        Assert.NotEqual("OBF20117", (await DemoLibrary.ReadAnyAsync("fell-backup-from-the-web.tar")).Backup!.Serial);
    }

    [Fact]
    public async Task Partitions_inside_one_big_image_are_listed_with_their_sizes()
    {
        var package = await DemoLibrary.ReadAnyAsync("cairn-two-26w20.tar");
        var inside = package.Image("super")!.Body.Inside!.Dynamic!;
        Assert.Equal(
            [("system_a", 20L << 20), ("system_b", 0), ("product_a", 8 << 20), ("product_b", 0)],
            inside.Entries.Select(entry => (entry.Name, entry.SizeBytes))
        );
    }

    [Fact]
    public async Task OS_and_patch_are_read_from_the_boot_header()
    {
        var package = await DemoLibrary.ReadAnyAsync("tern4-26w10.tar");
        Assert.Contains(package.Statements, said =>
            said.Fact == FactName.OsVersion && said is { Value: "11", Where: "boot header of boot.img" }
        );
    }
}
