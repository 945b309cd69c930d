using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Phones;
using Junctra.Testing;
using static Junctra.Core.Tests.Rules.RuleJudging;

namespace Junctra.Core.Tests.Rules;

/// <summary>Decision table of M18.</summary>
public class M18CardTests
{
    // M18: card, place, name, digest (whole or not), free megabytes; what the sentence must say.
    [Theory]
    [InlineData("present", "root", "fell-update.zip", true, "900", Verdict.Go, "lies whole")]
    [InlineData("present", null, "fell-update.zip", true, "900", Verdict.Ask, "Copy it, never move it")]
    [InlineData("present", "internal", "fell-update.zip", true, "900", Verdict.Ask, "where recovery does not look")]
    [InlineData("present", "folder", "fell-update.zip", true, "900", Verdict.Ask, "lies in a folder")]
    [InlineData("present", "root", null, true, "900", Verdict.Ask, "Name the copy fell-update.zip")]
    [InlineData("present", "root", "fell-update.zip.zip", true, "900", Verdict.Ask, "its ending was doubled")]
    [InlineData("present", "root", "update(1).zip", true, "900", Verdict.Ask, "Rename it")]
    [InlineData("present", "root", "fell-update.zip", false, "900", Verdict.Ask, "Copy it again")]
    [InlineData("present", "root", "fell-update.zip", null, "900", Verdict.Ask, "read its digest")]
    [InlineData("present", "root", "fell-update.zip", true, null, Verdict.Ask, "How much is free")]
    [InlineData("present", "root", "fell-update.zip", true, "0", Verdict.Ask, "Make room")]
    [InlineData("none", null, null, null, null, Verdict.Ask, "No storage card")]
    public void A_card_update_lies_whole_at_its_place_under_its_name_with_room(
        string card,
        string? place,
        string? name,
        bool? whole,
        string? free,
        Verdict expected,
        string sentence
    )
    {
        var package = Sample.Set("OB17", "OB17_2.6.118_r04_DNM", "post-build=OB17_2.6.118_r04_DNM");
        var phone = Of(
            (FactName.ModelCode, "OB17"),
            (FactName.Card, card),
            (FactName.CardPlace, place),
            (FactName.CardFileName, name),
            (
                FactName.CardFileDigest,
                whole is null ? null
                : whole == true ? package.Id
                : Sample.Digest("cut off")
            ),
            (FactName.CardFree, free)
        );
        var judgement = Judge(new M18Card(), phone, package);
        Assert.Equal(expected, judgement.Verdict);
        Assert.Contains(sentence, judgement.Sentence);
    }

    [Fact]
    public void Room_exactly_as_large_as_needed_is_enough_and_one_less_is_not()
    {
        var package = Sample.Set("OB17", "OB17_2.6.118_r04_DNM", "post-build=OB17_2.6.118_r04_DNM");
        Phone With(long free) =>
            Of(
                (FactName.ModelCode, "OB17"),
                (FactName.Card, "present"),
                (FactName.CardPlace, "root"),
                (FactName.CardFileName, "fell-update.zip"),
                (FactName.CardFileDigest, package.Id),
                (FactName.CardFree, $"{free}")
            );
        Assert.Equal(Verdict.Go, Judge(new M18Card(), With(M18Card.RoomMegabytes(package)), package).Verdict);
        Assert.Equal(Verdict.Ask, Judge(new M18Card(), With(M18Card.RoomMegabytes(package) - 1), package).Verdict);
    }

    [Fact]
    public void What_is_no_card_update_needs_no_card() => Assert.Equal(Verdict.Go, Judge(new M18Card(), Of(), Sample.Package()).Verdict);
}
