using System.Formats.Tar;
using System.Text;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.CatalogueFiles;
using Junctra.Formats.Images;
using Junctra.Formats.Inspection;
using Junctra.Formats.PhoneFiles;
using Junctra.Formats.Sparse;
using Junctra.Testing;

namespace Junctra.Formats.Tests;

/// <summary>Images of other tools, and files of phones and folders.</summary>
public sealed partial class ForeignToolTests
{
    private static async Task<byte[]> EmptySparseAsync()
    {
        var image = new MemoryStream();
        (await SparseWriter.BeginAsync(image, new SparseHeader(4096, 0, 0, 0))).End();
        return image.ToArray();
    }

    [Fact]
    public async Task Nothing_vanishes_behind_a_header_that_was_wiped()
    {
        var tar = Packs.Tar(TarEntryFormat.Ustar, ("boot.img", Boot), ("radio.img", Packs.Noise(5000)), ("overlay.img", Packs.Noise(700)));
        var second = 512 + (Boot.Length + 511) / 512 * 512;
        tar.AsSpan(second, 512).Clear();
        Assert.True((await Packs.InspectAsync(tar)).IsRefused());
    }

    // Marks of file systems, and where they stand.
    [Theory]
    [InlineData(1080, new byte[] { 0x53, 0xEF })]
    [InlineData(1024, new byte[] { 0xE2, 0xE1, 0xF5, 0xE0 })]
    [InlineData(1024, new byte[] { 0x10, 0x20, 0xF5, 0xF2 })]
    [InlineData(0, new byte[] { 0x68, 0x73, 0x71, 0x73 })]
    public async Task An_image_of_a_usual_file_system_is_known_alone(int at, byte[] mark)
    {
        var image = Packs.Noise(20_000);
        mark.CopyTo(image, at);
        var contents = await Packs.InspectAsync(image);
        Assert.Equal((FileForm.Image, true), (contents.Form, contents.IsSingle));
        Assert.Empty(contents.Findings);
    }

    [Fact]
    public async Task A_member_that_is_called_image_takes_nobodys_name()
    {
        var package = PackageReader.Read(
            "system.tar.gz",
            await Packs.InspectAsync(Packs.Gzip(Packs.Tar(TarEntryFormat.Pax, ("image", Packs.Noise(9000)), ("boot.img", Boot)))),
            Repo.Catalogue
        );
        Assert.DoesNotContain(package.Images, image => image.Partition == "system");
    }

    [Fact]
    public void Boot_headers_of_every_age_are_read()
    {
        var old = Boot.ToArray();
        // Where the version stands now, there once stood a size.
        BitConverter.TryWriteBytes(old.AsSpan(40), 8192u);
        Assert.Equal((0, "15"), (BootHeaderReader.Read(old, old.Length).Version, BootHeaderReader.Read(old, old.Length).OsVersion));
        var vendor = new byte[40_960];
        "VNDRBOOT"u8.CopyTo(vendor);
        BitConverter.TryWriteBytes(vendor.AsSpan(8), 4u);
        BitConverter.TryWriteBytes(vendor.AsSpan(12), 4096u);
        BitConverter.TryWriteBytes(vendor.AsSpan(24), 8192u);
        "TN63E"u8.CopyTo(vendor.AsSpan(2080));
        Assert.Equal(new BootHeader(4, null, null, "TN63E"), BootHeaderReader.Read(vendor, vendor.Length));
        "HX204"u8.CopyTo(old.AsSpan(48));
        Assert.Equal("HX204", BootHeaderReader.Read(old, old.Length).Board);
    }

    [Fact]
    public async Task A_few_bytes_that_claim_to_be_a_disk_cost_no_minutes()
    {
        var image = new MemoryStream();
        var writer = await SparseWriter.BeginAsync(image, new SparseHeader(4096, 8 << 20, 1, 0));
        await writer.DontCareAsync(8 << 20);
        writer.End();
        var member = Assert.Single((await Packs.InspectAsync(image.ToArray())).Members);
        Assert.Equal((32L << 30, null), (member.Image!.ExpandedBytes, member.Image.ExpandedSha256));
    }

    [Fact]
    public void The_checksum_of_a_run_is_that_of_its_bytes()
    {
        var random = new Random(5);
        for (var i = 0; i < 60; i++)
        {
            var (head, value, repeats) = (Packs.Noise(random.Next(1, 900), i), (uint)random.NextInt64(uint.MaxValue), random.Next(0, 5000));
            byte[] run = [.. Enumerable.Repeat(BitConverter.GetBytes(value), repeats).SelectMany(four => four)];
            var running = new RunningCrc();
            running.Append(head);
            running.AppendRepeated(value, run.Length);
            running.Append(head);
            Assert.Equal(System.IO.Hashing.Crc32.HashToUInt32([.. head, .. run, .. head]), running.Value);
        }
    }

    [Theory]
    [InlineData("facts: {source: link, facts: [[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[[")]
    [InlineData("a: &x\n  *x : 1\n")]
    [InlineData("a: &x [*x]\n")]
    [InlineData("? {a: 1}\n: 2\n")]
    [InlineData("source: label\nfacts:\n  mode: fastbot\n")]
    [InlineData("source: label\nfacts:\n  model-code: null\n")]
    [InlineData("source: label\nfacts:\n  model-code: ~\n")]
    [InlineData("source: label\nfacts:\n  battery-percent: yes\n")]
    [InlineData("source: label\nfacts:\n  storage-gb: 64\n  storage-gb: 128\n")]
    public void A_phones_file_that_cannot_be_right_ends_in_mistakes_with_their_lines(string text)
    {
        var error = Assert.Throws<CatalogueException>(() =>
            PhoneFileReader.Read(Put("phone.yaml", Encoding.UTF8.GetBytes(text)), Repo.Catalogue)
        );
        Assert.All(error.Problems, problem => Assert.True(problem.Line >= 0));
    }

    [Fact]
    public void Forty_thousand_brackets_end_at_once() =>
        Assert.Throws<CatalogueException>(() =>
            PhoneFileReader.Read(Put("phone.yaml", Encoding.UTF8.GetBytes("facts: " + new string('[', 40_000))), Repo.Catalogue)
        );

    [Fact]
    public async Task The_folders_look_survives_whatever_lies_in_it()
    {
        Put("set.tar", Packs.Tar(TarEntryFormat.Pax, ("boot.img", Boot)));
        await Packs.ShellAsync(
            folder,
            "mkfifo waits.tar; ln -s nowhere dangling.tar; ln -s /dev/zero endless.tar; ln -s set.tar linked.tar; : >nothing.tar; touch $'not\\xffutf8.tar'; mkdir folder.tar"
        );
        var read = LibraryFolder.Read(folder);
        Assert.Equal(["linked.tar", "nothing.tar", "set.tar"], read.Packages.Select(file => file.Name));
        Assert.Equal(4, read.PassedOver.Count);
        Assert.True((await LookAsync("nothing.tar")).IsRefused());
        // Its name cannot be given back by what reads names.
        await Packs.ShellAsync(folder, "rm -rf -- *");
    }

    [Fact]
    public async Task A_sample_of_the_mutations_ends_in_findings()
    {
        var report = await Mutations.RunAsync(
            await MutationSeeds.AllAsync(),
            850,
            7,
            Repo.Catalogue,
            cancel: TestContext.Current.CancellationToken
        );
        Assert.Empty(report.Escapes);
        Assert.Empty(report.Wrong);
        Assert.True(report.Refused > 400, $"{report.Refused} refused");
    }

    [Fact]
    public async Task Every_good_file_of_the_mutations_is_whole()
    {
        foreach (var (name, bytes) in await MutationSeeds.AllAsync())
        {
            var package = PackageReader.Read(name, await Packs.InspectAsync(bytes), Repo.Catalogue);
            Assert.False(package.IsDamaged, $"{name}: {string.Join(" ", package.Findings.Select(finding => finding.Text))}");
        }
    }
}
