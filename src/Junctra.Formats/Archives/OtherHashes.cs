using System.Security.Cryptography;
using Junctra.Core.Packages;

namespace Junctra.Formats.Archives;

/// <summary>Which digests besides SHA-256 somebody published, and so are worth computing.</summary>
[Flags]
internal enum HashKinds
{
    None = 0,
    Md5 = 1,
    Sha1 = 2,
    Sha512 = 4,
}

/// <summary>Digests besides SHA-256 of what passes.</summary>
internal sealed class OtherHashes(HashKinds kinds) : IDisposable
{
    private readonly IncrementalHash? md5 = kinds.HasFlag(HashKinds.Md5) ? IncrementalHash.CreateHash(HashAlgorithmName.MD5) : null;
    private readonly IncrementalHash? sha1 = kinds.HasFlag(HashKinds.Sha1) ? IncrementalHash.CreateHash(HashAlgorithmName.SHA1) : null;
    private readonly IncrementalHash? sha512 = kinds.HasFlag(HashKinds.Sha512)
        ? IncrementalHash.CreateHash(HashAlgorithmName.SHA512)
        : null;

    /// <summary>The kinds that some published digests are of.</summary>
    public static HashKinds Of(IEnumerable<string?> digests) => digests.Aggregate(HashKinds.None, (kinds, digest) => kinds
            | digest?.Length switch
            {
                ChecksumLine.Md5Digits => HashKinds.Md5,
                ChecksumLine.Sha1Digits => HashKinds.Sha1,
                ChecksumLine.Sha512Digits => HashKinds.Sha512,
                _ => HashKinds.None,
            });

    public void Append(ReadOnlySpan<byte> bytes)
    {
        md5?.AppendData(bytes);
        sha1?.AppendData(bytes);
        sha512?.AppendData(bytes);
    }

    /// <summary>The digests of what passed so far.</summary>
    public OtherDigests Digests() => new(Text(md5), Text(sha1), Text(sha512));

    public void Dispose()
    {
        md5?.Dispose();
        sha1?.Dispose();
        sha512?.Dispose();
    }

    private static string? Text(IncrementalHash? hash) => hash is null ? null : Convert.ToHexStringLower(hash.GetCurrentHash());
}
