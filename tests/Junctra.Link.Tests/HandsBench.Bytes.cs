using System.Security.Cryptography;
using Junctra.Core.Catalogue;
using Junctra.Core.Packages;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Core.Twin;
using Junctra.Formats.Sparse;
using Junctra.Link.Running;
using Junctra.Testing;

namespace Junctra.Link.Tests;

// What lies in a simulated phone's partitions, held against the packages.
public abstract partial class HandsBench
{
    /// <summary>What the journal says was accepted lies in the phone's partitions, byte for byte.</summary>
    protected Task HoldsAsync(string name, RunState state, params PackageFile[] files) => HoldsAsync(name, state, false, files);

    /// <summary>The same of a run that ended early: of what it says was accepted.</summary>
    protected Task HoldsAcceptedAsync(string name, RunState state, params PackageFile[] files) => HoldsAsync(name, state, true, files);

    private async Task HoldsAsync(string name, RunState state, bool onlyAccepted, PackageFile[] files)
    {
        await CopiesAreWholeAsync(name, state);
        var sent = state.Plan.Steps.SelectMany(step => step.Act.Sends).ToList();
        Assert.True(sent.Count > 0 || state.Plan.Steps.Any(step => step.Act is CopyToCard or SaveData));
        foreach (var planned in sent.DistinctBy(image => image.Partition).Where(image => image.Role != PartitionRole.UserData))
        {
            var last = sent.Last(image => image.Partition == planned.Partition);
            if (onlyAccepted && !state.Accepted.ContainsKey(last.Partition))
                continue;
            if (!onlyAccepted || state.Accepted[last.Partition].Length > 0)
                Assert.Equal(last.Sha256, state.Accepted[last.Partition]);
            var (file, image) = files
                .SelectMany(file => file.Package.Images.Select(image => (file, image)))
                .First(pair => pair.image.Partition == last.Partition && pair.image.Body.Sha256 == last.Sha256);
            Assert.Equal(await ExpandedAsync(file, image), await InPartitionAsync(name, image));
        }
    }

    /// <summary>What the journal says was copied lies at the other end, byte for byte.</summary>
    private async Task CopiesAreWholeAsync(string name, RunState state)
    {
        foreach (var copy in state.Copied.Where(copy => copy.FromPhone))
            Assert.Equal(
                copy.Sha256,
                Convert.ToHexStringLower(SHA256.HashData(await File.ReadAllBytesAsync(Path.Combine(Kept, copy.Sha256))))
            );
        // A loader lies in the memory of the chip that asked for it, and nowhere else.
        var put = state.Copied.Where(copy => !copy.FromPhone && state.Plan.Steps[copy.Step - 1].Act is not SupplyEmergencyLoader).ToList();
        if (put.Count == 0)
            return;
        var there = (await Phones.FilesAsync(name, "storage")).Concat(await Phones.FilesAsync(name, "card")).ToHashSet();
        Assert.All(put, copy => Assert.Contains(KeyValuePair.Create(copy.Name, copy.Sha256), there));
    }

    /// <summary>Digest of an image as it lies in its partition.</summary>
    protected static async Task<string> ExpandedAsync(PackageFile file, PackageImage image)
    {
        var packed = Path.GetTempFileName();
        try
        {
            await using (var to = File.Create(packed))
            {
                if (image.Body.Offset is { } offset)
                {
                    await using var from = File.OpenRead(file.Path);
                    from.Position = offset;
                    var bytes = new byte[image.Body.Bytes];
                    await from.ReadExactlyAsync(bytes);
                    await to.WriteAsync(bytes);
                }
                else
                {
                    await Formats.Inspection.PackageUnpacker.UnpackAsync(
                        () => File.OpenRead(file.Path),
                        new Dictionary<PackageMember, Stream> { [image.Member] = to }
                    );
                }
            }

            return await DigestAsync(packed, image.Body.ExpandedBytes);
        }
        finally
        {
            File.Delete(packed);
        }
    }

    protected async Task<string> InPartitionAsync(string name, PackageImage image) =>
        await DigestAsync(
            Path.Combine(
                Phones.Data,
                name.ToLowerInvariant(),
                new PhoneTwin(Repo.Catalogue.Model(StateOf(name).Model)!, Repo.Catalogue).StoredName(StateOf(name), image.Partition)
                    + ".bin"
            ),
            image.Body.ExpandedBytes
        );

    /// <summary>Digest of the beginning of a file; a sparse image is expanded, with zeros where it says nothing.</summary>
    private static async Task<string> DigestAsync(string path, long bytes)
    {
        await using var file = File.OpenRead(path);
        var head = new byte[SparseHeader.Size];
        await file.ReadAtLeastAsync(head, head.Length, throwOnEndOfStream: false);
        file.Position = 0;
        var all = new byte[bytes];
        if (SparseHeader.IsSparse(head))
        {
            var reader = await SparseReader.OpenAsync(file);
            await reader.ReadAllAsync(null, (chunk, part, offset) =>
            {
                if (chunk.Kind != SparseChunkKind.DontCare)
                    part.CopyTo(all.AsMemory((int)offset));
                return ValueTask.CompletedTask;
            });
        }
        else
        {
            await file.ReadExactlyAsync(all);
        }

        return Convert.ToHexStringLower(SHA256.HashData(all));
    }
}
