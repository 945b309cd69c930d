using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>What proves that a package is its maker’s: a digest from elsewhere, of it or of another with the same bytes.</summary>
public class StockProofTests
{
    private static readonly Package Published = WholePackage.Of(Repo.Catalogue.Model("OB17")!);

    /// <summary>A package with no digest from anywhere.</summary>
    private static Package Unproved(Package package) => package with { Contents = package.Contents with { PublishedBy = null } };

    private static Package? ProofOf(Package package, params Package[] library) =>
        new Surroundings(library, Repo.Catalogue).ProofOf(package);

    [Fact]
    public void A_package_whose_digest_its_publisher_says_proves_itself() => Assert.Same(Published, ProofOf(Published));

    [Fact]
    public void One_of_which_nobody_says_a_digest_is_proved_by_another_with_the_same_bytes_alone()
    {
        var copy = Unproved(Published) with { FileName = "copy.tar" };
        Assert.Null(ProofOf(copy));
        Assert.Same(Published, ProofOf(copy, Published));
        // Another of which nobody says anything either is no proof, however often the same lies there.
        Assert.Null(ProofOf(copy, copy, Unproved(Published)));
    }

    [Fact]
    public void A_single_image_is_proved_by_the_set_in_which_it_lies_byte_for_byte()
    {
        var recovery = Unproved(WholePackage.Recovery(Repo.Catalogue.Model("OB17")!));
        Assert.Same(Published, ProofOf(recovery, recovery, Published));
        var touched = recovery with
        {
            Images =
            [
                .. recovery.Images.Select(image =>
                    image with
                    {
                        Member = image.Member with
                        {
                            Image = image.Body with { Sha256 = Sample.Digest("touched"), ExpandedSha256 = Sample.Digest("other") },
                        },
                    }
                ),
            ],
        };
        Assert.Null(ProofOf(touched, Published));
    }

    [Fact]
    public void Every_image_must_be_proved_and_what_is_damaged_or_patched_proves_nothing()
    {
        var copy = Unproved(Published);
        var spoilt = Published.Images[^1];
        var half = copy with
        {
            Images = [.. copy.Images.Select(image => image == copy.Images[^1] ? image with { Partition = "another" } : image)],
        };
        Assert.NotNull(spoilt);
        Assert.Null(ProofOf(half, Published));
        Assert.Null(ProofOf(copy, Published with { Marks = Published.Marks with { Patched = "8.2" } }));
        Assert.Null(ProofOf(copy with { Images = [] }, Published));
    }
}
