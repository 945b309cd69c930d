using System.IO.Hashing;
using System.Security.Cryptography;

namespace Junctra.Link.Bench;

/// <summary>
/// By what both ends hold raw bytes of the bench protocol against each other (<c>docs/protocols.md</c>): XXH128 where the phone knows it,
/// which costs next to nothing and finds any damage on the way; else SHA-256. What an image is has been settled before by the SHA-256 of
/// the package.
/// </summary>
public abstract class PieceDigest : IDisposable
{
    /// <summary>Key under which it is said, and by which the phone names it.</summary>
    public const string Quick = "xxh128";

    /// <inheritdoc cref="Quick"/>
    public const string Full = "sha256";

    /// <summary>Begins.</summary>
    /// <param name="name"><see cref="Quick"/>; everything else means <see cref="Full"/>.</param>
    public static PieceDigest Of(string? name) => name == Quick ? new Xxh128() : new Sha256();

    /// <summary>Key under which it is said.</summary>
    public abstract string Name { get; }

    /// <summary>Whether it costs less than handing the bytes to another thread.</summary>
    public bool IsQuick => Name == Quick;

    /// <summary>Takes the next bytes.</summary>
    public abstract void Append(ReadOnlySpan<byte> bytes);

    /// <summary>The digest of all bytes so far, lower-case hexadecimal.</summary>
    public abstract string End();

    /// <inheritdoc/>
    public virtual void Dispose() => GC.SuppressFinalize(this);

    private sealed class Xxh128 : PieceDigest
    {
        private readonly XxHash128 hash = new();

        public override string Name => Quick;

        public override void Append(ReadOnlySpan<byte> bytes) => hash.Append(bytes);

        public override string End() => Convert.ToHexStringLower(hash.GetCurrentHash());
    }

    private sealed class Sha256 : PieceDigest
    {
        private readonly IncrementalHash hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);

        public override string Name => Full;

        public override void Append(ReadOnlySpan<byte> bytes) => hash.AppendData(bytes);

        public override string End() => Convert.ToHexStringLower(hash.GetCurrentHash());

        public override void Dispose()
        {
            hash.Dispose();
            base.Dispose();
        }
    }
}
