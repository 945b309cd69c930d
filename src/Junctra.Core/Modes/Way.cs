using Junctra.Core.Phones;

namespace Junctra.Core.Modes;

/// <summary>Something that must be so for a way to work.</summary>
/// <param name="Fact">The fact.</param>
/// <param name="Is">Values of it that do.</param>
/// <param name="Presumed">Whether it is taken to be so where nobody knows: most phones are.</param>
public sealed record WayNeed(FactName Fact, IReadOnlyList<string> Is, bool Presumed = false);
