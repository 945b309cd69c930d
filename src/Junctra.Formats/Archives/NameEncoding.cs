using System.Text;

namespace Junctra.Formats.Archives;

/// <summary>
/// How names of a ZIP are read that do not say how they are written: as UTF-8 where they are that, else by the old code page 437, in which
/// every byte is some character, so that two names never become one.
/// </summary>
internal sealed class NameEncoding : Encoding
{
    private static readonly UTF8Encoding Strict = new(false, throwOnInvalidBytes: true);
    private static readonly Encoding Old = CodePagesEncodingProvider.Instance.GetEncoding(437)!;

    public override int GetByteCount(char[] chars, int index, int count) => Strict.GetByteCount(chars, index, count);

    public override int GetBytes(char[] chars, int charIndex, int charCount, byte[] bytes, int byteIndex) =>
        Strict.GetBytes(chars, charIndex, charCount, bytes, byteIndex);

    public override int GetCharCount(byte[] bytes, int index, int count) => Of(bytes, index, count).GetCharCount(bytes, index, count);

    public override int GetChars(byte[] bytes, int byteIndex, int byteCount, char[] chars, int charIndex) =>
        Of(bytes, byteIndex, byteCount).GetChars(bytes, byteIndex, byteCount, chars, charIndex);

    public override int GetMaxByteCount(int charCount) => Strict.GetMaxByteCount(charCount);

    public override int GetMaxCharCount(int byteCount) => Strict.GetMaxCharCount(byteCount);

    private static Encoding Of(byte[] bytes, int index, int count) =>
        System.Text.Unicode.Utf8.IsValid(bytes.AsSpan(index, count)) ? Strict : Old;
}
