using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Formats.Text;

namespace Junctra.Formats.Tests;

public class TextTests
{
    private static readonly Gen<string> Word = Gen.Char.AlphaNumeric.Array[1, 8].Select(c => new string(c));

    [Fact]
    public void Requirement_lines_read_back_the_same() =>
        Gen.Select(Word, Word.Array[1, 4], Gen.Bool, (n, v, r) => new RequirementLine(n, v, r))
            .Array[1, 6]
            .Where(lines => lines.Any(l => l.IsRequired))
            .Sample(lines =>
            {
                var read = RequirementText.Read(RequirementText.Write(lines))!;
                Assert.Equal(
                    lines.Select(l => (l.Name, string.Join('|', l.Values), l.IsRequired)),
                    read.Lines.Select(l => (l.Name, string.Join('|', l.Values), l.IsRequired))
                );
            });

    [Theory]
    [InlineData("require board=HX204|HX204C\r\n# a remark\r\n\r\nbuild=HX204/15.26w10-7.r3\r\n", 2)]
    [InlineData("require board = HX204", 1)]
    public void Requirement_lines_are_read_as_people_write_them(string text, int lines) =>
        Assert.Equal(lines, RequirementText.Read(text)!.Lines.Count);

    [Theory]
    [InlineData("")]
    [InlineData("build=x")]
    [InlineData("require board")]
    [InlineData("require board=")]
    [InlineData("Dear customer, we require board=HX204")]
    public void What_is_no_requirement_text_is_not_read(string text) => Assert.Null(RequirementText.Read(text));

    [Fact]
    public void Checksum_lists_read_back_the_same_whatever_the_names() =>
        Gen.Select(Gen.Byte.Array[32], Gen.String[1, 12], (d, n) => new ChecksumLine(Convert.ToHexStringLower(d), n))
            .Array[1, 5]
            .Where(lines => lines.All(l => !l.FileName.Contains('\0') && l.FileName == l.FileName.Trim()))
            .Sample(lines => Assert.Equal(lines, ChecksumText.Read(ChecksumText.Write(lines))!.Lines));

    [Theory]
    [InlineData("not a list")]
    [InlineData("abc  file")]
    [InlineData("")]
    public void What_is_no_checksum_list_is_not_read(string text) => Assert.Null(ChecksumText.Read(text));

    // Whatever a package can say of itself is heard where it stands alone in a text, too.
    [Theory]
    [InlineData("device=TN63W")]
    [InlineData("post-device=TN63W")]
    [InlineData("backup-model=TN63W")]
    [InlineData("storage-gb=128")]
    [InlineData("os-version=14")]
    [InlineData("security_patch=2026-01")]
    [InlineData("rooted=yes")]
    public void A_text_of_one_line_that_says_what_it_is_is_no_stray(string line) => Assert.Single(MetadataText.Read(line + "\n")!.Lines);
}
