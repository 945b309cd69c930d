using CsCheck;
using Junctra.Core.Logbook;

namespace Junctra.Core.Tests;

/// <summary>How records and questions are cut into words.</summary>
public sealed class SearchWordsTests
{
    [Theory]
    [InlineData("TN63E.5.2606.WHM1", true)]
    [InlineData("tn63e", true)]
    [InlineData("TN63E.5", true)]
    [InlineData("2606.whm", true)]
    [InlineData("whm1 loop", true)]
    [InlineData("Zoë", true)]
    [InlineData("zoe", true)]
    [InlineData("(loop)", true)]
    [InlineData("loop, zoe", true)]
    [InlineData("5", false)]
    [InlineData("t", false)]
    [InlineData("606", false)]
    [InlineData("63E", false)]
    [InlineData("loop missing", false)]
    [InlineData("TN63E.6", false)]
    public void A_question_finds_what_its_words_begin(string question, bool finds) =>
        Assert.Equal(
            finds,
            SearchWords.Finds(
                SearchWords.Asked(question),
                SearchWords.Of(["Boot loop on TN63E.5.2606.WHM1,", null, "said Zoë\n(at the counter)"])
            )
        );

    [Theory]
    [InlineData("")]
    [InlineData("   ")]
    [InlineData("-- ' \\ %")]
    [InlineData("\0\u0001")]
    public void Signs_alone_ask_for_nothing(string question) => Assert.Empty(SearchWords.Asked(question));

    [Fact]
    public void Whatever_text_comes_is_cut_into_words_that_find_it() =>
        Gen.String.Sample(text =>
        {
            var found = SearchWords.Of([text]);
            return found.All(word => word.Length is > 0 and <= SearchWords.MaxCharacters && char.IsLetterOrDigit(word[0]))
                && SearchWords.Finds(SearchWords.Asked(text), found);
        });
}
