using System.Formats.Tar;
using System.IO.Compression;
using System.Security.Cryptography;
using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.Inspection;

namespace Junctra.Formats.Tests;

/// <summary>Every format that is read: what was packed comes out again, and the system's own tools agree.</summary>
public sealed class ArchiveTests : IDisposable
{
    private readonly string folder = Directory.CreateTempSubdirectory("junctra-archives-").FullName;

    public void Dispose() => Directory.Delete(folder, recursive: true);

    private static string Digest(byte[] bytes) => Convert.ToHexStringLower(SHA256.HashData(bytes));

    private static readonly Gen<(string Name, byte[] Bytes)[]> Members = Gen.Select(Gen.Int[1, 90_000], Gen.Int, (size, seed) =>
            Packs.Noise(size, seed)
        )
        .Array[1, 5]
        .Select(images => images.Select((bytes, i) => ($"folder/part{i}.img", bytes)).ToArray());

    private static readonly string LongName = string.Join('/', Enumerable.Repeat("a-folder-with-a-long-name", 8)) + "/boot.img";

    private static async Task AssertReadsBackAsync(
        byte[] file,
        IEnumerable<(string Name, byte[] Bytes)> members,
        Wrapping wrapping = Wrapping.None
    )
    {
        var contents = await Packs.InspectAsync(file);
        Assert.Empty(contents.Findings);
        Assert.Equal((file.Length, Digest(file)), ((int)contents.SizeBytes, contents.Sha256));
        Assert.Equal(
            members.Select(m => (m.Name, m.Bytes.Length, Digest(m.Bytes), wrapping)),
            contents.Members.Where(m => m.Image is not null).Select(m => (m.Name, (int)m.Image!.Bytes, m.Image.Sha256, m.Image.Wrapping))
        );
    }

    [Theory]
    [InlineData(TarEntryFormat.V7)]
    [InlineData(TarEntryFormat.Ustar)]
    [InlineData(TarEntryFormat.Pax)]
    [InlineData(TarEntryFormat.Gnu)]
    public Task A_tar_of_every_kind_reads_back(TarEntryFormat format) =>
        Members.SampleAsync(
            async members =>
            {
                var file = Packs.Tar(format, members);
                await AssertReadsBackAsync(file, members);
                // Where a member is said to lie, it lies.
                foreach (var member in (await Packs.InspectAsync(file)).Members)
                    Assert.Equal(
                        member.Image!.Sha256,
                        Digest(file[(int)member.Image.Offset!.Value..(int)(member.Image.Offset.Value + member.Image.Bytes)])
                    );
            },
            iter: 25
        );

    [Theory]
    [InlineData(CompressionLevel.NoCompression)]
    [InlineData(CompressionLevel.Fastest)]
    public Task A_zip_reads_back_stored_and_deflated(CompressionLevel level) =>
        Members.SampleAsync(members => AssertReadsBackAsync(Packs.Zip(level, members), members), iter: 25);

    [Fact]
    public Task Wrapped_images_read_back() =>
        Members.SampleAsync(
            async members =>
            {
                await AssertReadsBackAsync(
                    Packs.Tar(TarEntryFormat.Pax, [.. members.Select(m => (m.Name + ".gz", Packs.Gzip(m.Bytes)))]),
                    members.Select(m => (m.Name + ".gz", m.Bytes)),
                    Wrapping.Gzip
                );
                await AssertReadsBackAsync(
                    Packs.Tar(TarEntryFormat.Pax, [.. members.Select(m => (m.Name + ".lz4", Packs.Lz4(m.Bytes)))]),
                    members.Select(m => (m.Name + ".lz4", m.Bytes)),
                    Wrapping.Lz4
                );
            },
            iter: 25
        );

    [Fact]
    public Task A_wrapped_archive_reads_back_as_the_archive() =>
        Members.SampleAsync(
            async members =>
            {
                await AssertReadsBackAsync(Packs.Gzip(Packs.Tar(TarEntryFormat.Gnu, members)), members);
                await AssertReadsBackAsync(Packs.Lz4(Packs.Tar(TarEntryFormat.Ustar, members)), members);
                await AssertReadsBackAsync(Packs.Gzip(Packs.Zip(CompressionLevel.Fastest, members)), members);
            },
            iter: 15
        );

    [Fact]
    public Task Archives_in_archives_read_back_and_leave_nothing_behind() =>
        Members.SampleAsync(
            async members =>
            {
                byte[][] inner =
                [
                    Packs.Zip(CompressionLevel.Fastest, members),
                    Packs.Tar(TarEntryFormat.Pax, members),
                    Packs.Gzip(Packs.Tar(TarEntryFormat.Pax, members)),
                ];
                foreach (var archive in inner)
                {
                    foreach (
                        var outer in new[]
                        {
                            Packs.Tar(TarEntryFormat.Pax, ("images", archive)),
                            Packs.Zip(CompressionLevel.Fastest, ("images", archive)),
                        }
                    )
                    {
                        await AssertReadsBackAsync(outer, members.Select(m => ("images/" + m.Name, m.Bytes)));
                        var contents = await Packs.InspectAsync(outer);
                        Assert.Equal(
                            ("images", MemberKind.Archive, Digest(archive)),
                            (contents.Members[0].Name, contents.Members[0].Kind, contents.Members[0].Sha256)
                        );
                        Assert.All(contents.Members.Skip(1), member => Assert.Equal("images", member.Within));
                    }
                }

                // What other programs keep beside it is not ours.
                Assert.Empty(Directory.EnumerateFiles(Path.GetTempPath(), $"junctra-walk-{Environment.ProcessId}-*"));
            },
            iter: 10,
            threads: 1
        );

    [Theory]
    [InlineData("tar --format=v7 -cf out.tar a")]
    [InlineData("tar --format=oldgnu -cf out.tar a")]
    [InlineData("tar --format=gnu -cf out.tar a")]
    [InlineData("tar --format=ustar -cf out.tar a")]
    [InlineData("tar --format=posix -cf out.tar a")]
    [InlineData("tar --format=gnu -czf out.tar a")]
    [InlineData("tar --format=gnu -cf - a | lz4 -q - out.tar")]
    [InlineData("tar --format=gnu -b 1 -cf out.tar a")]
    public async Task The_systems_own_archives_are_read(string line)
    {
        var member = line.Contains("ustar") || line.Contains("v7") ? "a/boot.img" : "a/" + LongName;
        Directory.CreateDirectory(Path.Combine(folder, Path.GetDirectoryName(member)!));
        await File.WriteAllBytesAsync(Path.Combine(folder, member), Packs.Noise(70_001));
        await Packs.ShellAsync(folder, line);
        var contents = await PackageInspector.InspectFileAsync(Path.Combine(folder, "out.tar"));
        Assert.Empty(contents.Findings);
        Assert.Equal((member, Digest(Packs.Noise(70_001))), (contents.Members.Single().Name, contents.Members.Single().Image!.Sha256));
        Assert.Equal(contents.Sha256, (await Packs.ShellAsync(folder, "sha256sum out.tar"))[..64]);
    }

    [Theory]
    [InlineData("gzip -1")]
    [InlineData("gzip -9n")]
    [InlineData("lz4 -q -1")]
    [InlineData("lz4 -q -9 -BD -B4 --content-size")]
    [InlineData("lz4 -q -BX --no-frame-crc")]
    public async Task The_systems_own_wrappings_are_read(string line)
    {
        var image = Packs.Noise(300_000).Concat(new byte[300_000]).ToArray();
        await File.WriteAllBytesAsync(Path.Combine(folder, "boot.img"), image);
        await Packs.ShellAsync(folder, $"{line} < boot.img > boot.packed && tar -cf out.tar boot.packed");
        var member = (await PackageInspector.InspectFileAsync(Path.Combine(folder, "out.tar"))).Members.Single();
        Assert.Equal((Digest(image), image.Length), (member.Image!.Sha256, (int)member.Image.Bytes));
        Assert.Equal(member.Sha256, (await Packs.ShellAsync(folder, "sha256sum boot.packed"))[..64]);
        Assert.Null(member.Image.Offset);
    }

    [Fact]
    public async Task The_systems_own_tools_read_what_is_written()
    {
        (string Name, byte[] Bytes)[] members = [("boot.img", Packs.Noise(90_000)), ("radio.img", Packs.Noise(50_000, 3))];
        await File.WriteAllBytesAsync(Path.Combine(folder, "set.zip"), Packs.Zip(CompressionLevel.Fastest, members));
        await File.WriteAllBytesAsync(Path.Combine(folder, "set.tar"), Packs.Tar(TarEntryFormat.Ustar, members));
        await File.WriteAllBytesAsync(Path.Combine(folder, "boot.gz"), Packs.Gzip(members[0].Bytes));
        await File.WriteAllBytesAsync(Path.Combine(folder, "boot.lz4"), Packs.Lz4(members[0].Bytes));
        var found = (await PackageInspector.InspectFileAsync(Path.Combine(folder, "set.zip"))).Members;
        foreach (var member in found)
        {
            Assert.Equal(member.Sha256, (await Packs.ShellAsync(folder, $"unzip -p set.zip {member.Name} | sha256sum"))[..64]);
            Assert.Equal(member.Sha256, (await Packs.ShellAsync(folder, $"tar -xOf set.tar {member.Name} | sha256sum"))[..64]);
        }

        await Packs.ShellAsync(folder, "unzip -tqq set.zip");
        Assert.Equal(found[0].Sha256, (await Packs.ShellAsync(folder, "gzip -dc boot.gz | sha256sum"))[..64]);
        Assert.Equal(found[0].Sha256, (await Packs.ShellAsync(folder, "lz4 -dcq boot.lz4 | sha256sum"))[..64]);
    }

    [Fact]
    public async Task Images_unpack_to_what_was_found()
    {
        (string Name, byte[] Bytes)[] members = [("boot.img", Packs.Noise(90_000)), ("radio.img", Packs.Noise(50_000, 3))];
        foreach (
            var file in new[]
            {
                Packs.Zip(CompressionLevel.Fastest, members),
                Packs.Gzip(Packs.Tar(TarEntryFormat.Gnu, members)),
                Packs.Tar(TarEntryFormat.Pax, ("images.zip", Packs.Zip(CompressionLevel.Fastest, members))),
                Packs.Tar(TarEntryFormat.Pax, [.. members.Select(m => (m.Name + ".lz4", Packs.Lz4(m.Bytes)))]),
            }
        )
        {
            var images = (await Packs.InspectAsync(file))
                .Members.Where(member => member.Image is not null)
                .ToDictionary(member => member, _ => (Stream)new MemoryStream());
            await PackageUnpacker.UnpackAsync(() => new MemoryStream(file, writable: false), images);
            Assert.Equal(
                members.Select(m => Digest(m.Bytes)).Order(),
                images.Values.Select(stream => Digest(((MemoryStream)stream).ToArray())).Order()
            );

            var other = images.Keys.First();
            var wrong = new Dictionary<PackageMember, Stream>
            {
                [other with { Image = other.Image! with { Sha256 = Digest([1]) } }] = new MemoryStream(),
            };
            await Assert.ThrowsAsync<InvalidDataException>(() =>
                PackageUnpacker.UnpackAsync(() => new MemoryStream(file, writable: false), wrong)
            );
        }
    }
}
