using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Catalogue;
using Junctra.Core.Packages;

namespace Junctra.Core.Practice;

/// <summary>A package on the practice shelf: there is no file, only what would be read in it.</summary>
/// <param name="Model">Code of the model for which it says it is.</param>
/// <param name="Build">Its build string.</param>
public sealed record ShelfPackage(string Model, string Build)
{
    /// <summary>Whether its publisher's digest proves it.</summary>
    public bool IsProven { get; init; } = true;

    /// <summary>Partitions that it lacks.</summary>
    public IReadOnlyList<string> Without { get; init; } = [];

    private const long ImageBytes = 64 << 10,
        FileBytes = 5_000_000;
    private const string Publisher = "practice";

    /// <summary>The package as it would be read from a file.</summary>
    /// <exception cref="ArgumentException">Its model is not in the catalogue.</exception>
    public Package Read(ModelCatalogue catalogue)
    {
        var model = catalogue.Model(Model) ?? throw new ArgumentException($"{Model} is no model of the catalogue.");
        var members = new List<PackageMember>();
        foreach (var spec in model.Partitions.Where(spec => spec.IsStock && !Without.Contains(spec.Name)))
        {
            Add(spec.Name, spec.Role == PartitionRole.RegionPack ? "pack-keep.tar" : null);
            if (spec.Role == PartitionRole.RegionPack)
            {
                Add(spec.Name, "pack-clean.tar");
                Add(model.Partitions.First(one => one.Role == PartitionRole.UserData).Name, "pack-clean.tar");
            }
        }

        var id = Digest($"{Model} {Build} {IsProven} {string.Join(',', Without)}");
        return PackageReader.Read(
            $"{Build.Replace('/', '-')}.tar",
            new PackageContents(
                FileBytes,
                id,
                IsProven ? id : null,
                members,
                [new("board", [model.Code], true), new("build", [Build], false)],
                [],
                [],
                FileForm.Tar,
                PublishedBy: IsProven ? Publisher : null
            ),
            catalogue
        );

        void Add(string partition, string? within)
        {
            var digest = Digest(Build + partition);
            members.Add(
                new PackageMember(
                    members.Count,
                    $"{(within is null ? "" : within + "/")}{partition}.img",
                    within,
                    MemberKind.Image,
                    ImageBytes,
                    digest,
                    new MemberImage(ImageFormat.Raw, Wrapping.None, ImageBytes, digest, ImageBytes, digest, null)
                )
            );
        }
    }

    private static string Digest(string text) => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(text)));
}
