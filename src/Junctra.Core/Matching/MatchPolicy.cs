using Junctra.Core.Catalogue;
using Junctra.Core.Routes;

namespace Junctra.Core.Matching;

/// <summary>The schools of which regions' software may be written to a phone, the strictest first.</summary>
public enum RegionSchool
{
    /// <summary>Only that of the phone's own region.</summary>
    Own,

    /// <summary>That of any region of its group, which shares hardware bands and a software branch.</summary>
    Group,

    /// <summary>That of any region for which this model is made.</summary>
    Any,
}

/// <summary>The schools of raising the bootloader revision, the strictest first.</summary>
public enum RevisionSchool
{
    /// <summary>Never.</summary>
    Never,

    /// <summary>Stay on the floor where there is a choice; raising is a consequence that somebody accepts.</summary>
    Stay,

    /// <summary>The newest first.</summary>
    Newest,
}

/// <summary>The schools of whose packages are written, the strictest first.</summary>
public enum OriginSchool
{
    /// <summary>Only what is proved to be its maker's, as sent out to everybody.</summary>
    Official,

    /// <summary>Pre-releases too; nothing of unknown origin.</summary>
    Known,

    /// <summary>What is of unknown origin too, with the risk named.</summary>
    Any,
}

/// <summary>The schools of packages for which nobody published digests, the strictest first.</summary>
public enum DigestSchool
{
    /// <summary>Not written.</summary>
    Refuse,

    /// <summary>Written, with the risk named.</summary>
    Warn,
}

/// <summary>Which version is wanted.</summary>
public enum WishKind
{
    /// <summary>None said.</summary>
    None,

    /// <summary>The newest that is there.</summary>
    Newest,

    /// <summary>Exactly this build or OS version.</summary>
    Exactly,

    /// <summary>No newer than this build or OS version.</summary>
    NotAbove,

    /// <summary>The bootloader revision that the phone has.</summary>
    SameRevision,
}

/// <summary>A wish for a version.</summary>
/// <param name="Kind">Which.</param>
/// <param name="Version">A build string or an OS version, for the kinds that need one; else empty.</param>
public sealed record VersionWish(WishKind Kind, string Version = "")
{
    /// <summary>None said.</summary>
    public static VersionWish None { get; } = new(WishKind.None);

    /// <summary>Whether a kind needs a version with it.</summary>
    public static bool NeedsVersion(WishKind kind) => kind is WishKind.Exactly or WishKind.NotAbove;
}

/// <summary>What a shop and a customer have decided and the rules must know.</summary>
/// <param name="Region">The region school that counts for this job.</param>
/// <param name="DataMayGo">Whether the customer has said that everything on the phone may be erased.</param>
public sealed record MatchPolicy(RegionSchool Region = RegionSchool.Own, bool DataMayGo = false)
{
    /// <summary>Own region only, and the data is wanted.</summary>
    public static MatchPolicy Careful { get; } = new();

    /// <summary>Whether the bootloader revision may be raised.</summary>
    public RevisionSchool Revision { get; init; } = RevisionSchool.Stay;

    /// <summary>Whose packages are written.</summary>
    public OriginSchool Origin { get; init; } = OriginSchool.Any;

    /// <summary>Whether packages without published digests are written.</summary>
    public DigestSchool Digests { get; init; } = DigestSchool.Warn;

    /// <summary>Which ways between modes are used.</summary>
    public RoutePolicy Routes { get; init; } = RoutePolicy.Usual;

    /// <summary>How it is planned.</summary>
    public PlanPolicy Plans { get; init; } = PlanPolicy.Usual;

    /// <summary>What the phone is to be written for.</summary>
    public JobGoal Goal { get; init; } = JobGoal.Stock;

    /// <summary>Which version is wanted.</summary>
    public VersionWish Wish { get; init; } = VersionWish.None;

    /// <summary>Whether the finding is that the boot chain is gone, so that the board must be rescued before anything is written.</summary>
    public bool NeedsBoardRescue { get; init; }
}
