using Junctra.Core.Facts;

namespace Junctra.Core.Plans;

/// <summary>A fact that nobody knows and on which it depends how a plan goes.</summary>
/// <param name="Fact">The fact.</param>
/// <param name="Difference">How much what may go wrong differs between its values, above 0; only good for an order.</param>
public sealed record OpenFact(FactName Fact, double Difference);
