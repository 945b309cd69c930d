using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;

namespace Junctra.Store;

/// <summary>A package file of the library and what was found in it.</summary>
public sealed class PackageRow
{
    /// <summary>SHA-256 of the file, lower-case hexadecimal.</summary>
    public required string Id { get; set; }
    public required string FileName { get; set; }

    /// <summary>Where the file lies in a watched folder; null where it lies in the store alone.</summary>
    public string? Path { get; set; }

    /// <summary>Whether its bytes lie in the content store.</summary>
    public bool IsStored { get; set; }
    public long SizeBytes { get; set; }
    public DateTimeOffset FileChangedAt { get; set; }
    public DateTimeOffset InspectedAt { get; set; }

    /// <summary>Version of the inspection that found <see cref="Contents"/>; another one's findings are not read.</summary>
    public int InspectorVersion { get; set; }
    public required PackageContents Contents { get; set; }

    /// <summary>Opens its locked members; comes with the package from its publisher and is no secret of anybody here.</summary>
    public string? Password { get; set; }

    /// <summary>Digest that somebody published for the file, or null.</summary>
    public string? PublishedDigest { get; set; }

    /// <summary>Who published it and is trusted by the shop; null for a list that came with the file or that nobody answers for.</summary>
    public string? PublishedBy { get; set; }

    /// <summary>What was found wrong with the lists beside it, as it stands in its contents.</summary>
    public string PublishedNote { get; set; } = "";

    /// <summary>Where it came from: a mirror's name, <c>folder</c>, <c>upload</c> or <c>path</c>.</summary>
    public string Source { get; set; } = FromFolder;
    public DateTimeOffset AddedAt { get; set; }
    public string AddedBy { get; set; } = "";

    /// <summary>Source of what somebody put into the watched folder.</summary>
    public const string FromFolder = "folder";

    // What the catalogue makes of it, in columns by which it is searched; written anew when the catalogue changes.

    /// <summary>PostgreSQL's row version, by which a package that was read out of the row once is known to be still the same.</summary>
    public uint Version { get; private set; }

    /// <summary>Which catalogue these columns were read with.</summary>
    public string ReadWith { get; set; } = "";
    public string Title { get; set; } = "";
    public PackageKind Kind { get; set; }
    public string[] ModelCodes { get; set; } = [];
    public string[] Regions { get; set; } = [];
    public int? Revision { get; set; }
    public Wholeness Wholeness { get; set; }

    /// <summary>Digests of its images, as sent and expanded: two packages that share one are related.</summary>
    public string[] ImageDigests { get; set; } = [];

    /// <summary>Reads the columns anew.</summary>
    /// <param name="package">The package, as the catalogue reads it.</param>
    /// <param name="stamp">Which catalogue that is.</param>
    public void Describe(Package package, string stamp)
    {
        ReadWith = stamp;
        Title = package.Title;
        Kind = package.Kind;
        ModelCodes = [.. package.Says(FactName.ModelCode)];
        Regions = [.. package.Says(FactName.Region)];
        Revision = package.Revisions is [var only] ? only.Number : null;
        Wholeness = package.Whole().State;
        ImageDigests =
        [
            .. package.Images.SelectMany(image => new[] { image.Body.Sha256, image.Body.ExpandedSha256 }).OfType<string>().Distinct(),
        ];
    }
}

/// <summary>A mirror: a place from which stock packages are fetched.</summary>
public sealed class MirrorRow
{
    public int Id { get; set; }
    public required string Name { get; set; }

    /// <summary>Address below which its index and files lie.</summary>
    public required string BaseAddress { get; set; }

    /// <summary>Form of its index: <c>json</c> or <c>checksum-list</c>.</summary>
    public required string IndexForm { get; set; }

    /// <summary>Path of its index below the address.</summary>
    public required string IndexPath { get; set; }

    /// <summary>Whether it asks for a ticket code or an account with every file.</summary>
    public bool NeedsTicket { get; set; }

    /// <summary>The ticket code, or an account as <c>name:password</c>, sealed; null before one was entered.</summary>
    public string? SealedTicket { get; set; }

    /// <summary>What an earlier version kept as it was typed; sealed, and null, as soon as the program has started.</summary>
    public string? OldTicket { get; set; }
    public bool PublishesChecksums { get; set; }
    public bool IsOn { get; set; } = true;

    /// <summary>Bytes a second that it gave lately; null before the first measurement.</summary>
    public double? Rate { get; set; }
    public DateTimeOffset? MeasuredAt { get; set; }

    /// <summary>What its index said when it was last read.</summary>
    public List<MirrorFileRow> Files { get; } = [];
    public DateTimeOffset? IndexedAt { get; set; }
    public string? Problem { get; set; }
}

/// <summary>A file that a mirror offers.</summary>
public sealed class MirrorFileRow
{
    public int Id { get; set; }
    public int MirrorId { get; set; }
    public MirrorRow Mirror { get; set; } = null!;

    /// <summary>Path below the mirror's address.</summary>
    public required string Path { get; set; }
    public long? SizeBytes { get; set; }
    public long? UnpackedBytes { get; set; }
    public string? Sha256 { get; set; }
    public string? Build { get; set; }
    public string? ModelCode { get; set; }
}

/// <summary>How far a download has come.</summary>
public enum ArrivalState
{
    /// <summary>Waits for its turn.</summary>
    Waiting,

    /// <summary>Bytes arrive.</summary>
    Fetching,

    /// <summary>All bytes are here; their digest is read.</summary>
    Checking,

    /// <summary>A person stopped it; it goes on where it was.</summary>
    Paused,

    /// <summary>The package is in the library.</summary>
    Done,

    /// <summary>It cannot go on by itself.</summary>
    Failed,

    /// <summary>A person gave it up.</summary>
    Cancelled,
}

/// <summary>A file on its way into the library: from a mirror, from a person's computer, or from a path of the server.</summary>
public sealed class ArrivalRow
{
    /// <summary>Also the name under which its bytes are collected.</summary>
    public required string Id { get; set; }
    public required string FileName { get; set; }

    /// <summary>A mirror's name, <c>upload</c> or <c>path</c>.</summary>
    public required string Source { get; set; }
    public int? MirrorId { get; set; }
    public MirrorRow? Mirror { get; set; }

    /// <summary>Path at the mirror, or on the server.</summary>
    public string? From { get; set; }

    /// <summary>Size as its source gives it; null before that is known.</summary>
    public long? SizeBytes { get; set; }
    public long BytesDone { get; set; }

    /// <summary>Room kept for the file and for what it unpacks to.</summary>
    public long ReservedBytes { get; set; }

    /// <summary>What tells one state of the file at the mirror from another: its entity tag or time.</summary>
    public string? Validator { get; set; }
    public string? PublishedDigest { get; set; }

    /// <summary>The mirror that published it; null where none did.</summary>
    public string? PublishedBy { get; set; }
    public ArrivalState State { get; set; }

    /// <summary>What a person wants of it while it is worked on: nothing, a pause or the end.</summary>
    public ArrivalState? Asked { get; set; }
    public string? Problem { get; set; }

    /// <summary>Whether its source gave a file that was damaged, cut off or not what it should be; stays when it is tried again.</summary>
    public bool IsSpoilt { get; set; }

    /// <summary>Bytes a second of late: in the middle, and in one time of ten; once it is there, of all that came at last.</summary>
    public double? Rate { get; set; }
    public double? SlowRate { get; set; }
    public DateTimeOffset CreatedAt { get; set; }
    public string CreatedBy { get; set; } = "";
    public DateTimeOffset UpdatedAt { get; set; }

    /// <summary>Who works on it, and until when that holds without a sign of life.</summary>
    public string? Worker { get; set; }
    public DateTimeOffset? LeaseUntil { get; set; }
    public string? PackageId { get; set; }
}

/// <summary>A digest that was published for a file, taken in from a list or a manifest.</summary>
public sealed class PublishedDigestRow
{
    public int Id { get; set; }
    public required string FileName { get; set; }
    public required string Digest { get; set; }
    public required string From { get; set; }
    public DateTimeOffset At { get; set; }
    public string By { get; set; } = "";

    /// <summary>Whether a lead took it in: only then does it prove whose a file is, and not only that it is whole.</summary>
    public bool IsTrusted { get; set; }
}

/// <summary>An image that was unpacked into the store; any package that has it uses the one copy.</summary>
public sealed class UnpackedImageRow
{
    /// <summary>Digest of the image as a phone is given it.</summary>
    public required string Sha256 { get; set; }
    public long SizeBytes { get; set; }
    public DateTimeOffset UnpackedAt { get; set; }
    public DateTimeOffset LastUsedAt { get; set; }
}
