using Junctra.Core.Facts;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>M11: an incremental update changes the very build it was made from, byte for byte, and refuses anything else.</summary>
public sealed class M11Incremental : IMatchRule
{
    private static readonly (FactName Fact, string Value)[] Modified =
    [
        FactName.DeviceStatus.Means(DeviceStatus.Custom),
        FactName.Root.Means(Presence.Present),
        FactName.Recovery.Means(RecoveryKind.Custom),
    ];

    private static readonly RuleSentence Complete = RuleSentence.Idle("It changes no build in place: it goes from any.");
    private static readonly RuleSentence OnBase = RuleSentence.Go(
        "It goes from {base}, which is on the phone, and nothing on it is modified."
    );
    private static readonly RuleSentence UnknownBuild = RuleSentence.Ask(
        "It goes only from {base}, and the build on the phone is not known. {how}"
    );
    private static readonly RuleSentence UnknownStatus = RuleSentence.Ask(
        "It refuses a modified phone, and whether this one is modified is not known. {how}"
    );
    private static readonly RuleSentence IsModified = RuleSentence.Stop(
        "It changes {base} byte for byte, and this phone is modified ({what}: {value}). Take a full package."
    );
    private static readonly RuleSentence OtherBuild = RuleSentence.Stop(
        "It goes only from {base}; the phone has {build}. Take a full package."
    );

    /// <inheritdoc/>
    public RuleId Id => RuleId.Base;

    /// <inheritdoc/>
    public string Title => "Base";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } = [FactName.Build, FactName.DeviceStatus, FactName.Root, FactName.Recovery];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } = [Complete, OnBase, UnknownBuild, UnknownStatus, IsModified, OtherBuild];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (c.Package.BaseBuild is not { } from)
            return Complete.With();
        foreach (var (fact, value) in Modified)
            if (c.Phone[fact].Values.Contains(value, StringComparer.OrdinalIgnoreCase))
                return IsModified.With(from, fact.Label.ToLowerInvariant(), value);
        var build = Judging.Each(
            c.Phone[FactName.Build],
            () => UnknownBuild.With(from, c.HowToRead(FactName.Build)),
            value => value.Equals(from, StringComparison.OrdinalIgnoreCase) ? OnBase.With(from) : OtherBuild.With(from, value)
        );
        if (build.Verdict != Verdict.Go)
            return build;
        return c.Phone[FactName.DeviceStatus].State == FactState.Unknown ? UnknownStatus.With(c.HowToRead(FactName.DeviceStatus)) : build;
    }
}
