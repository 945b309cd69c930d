using Junctra.Core.Matching;

namespace Junctra.Web.Bench;

/// <summary>What the shop, or a job, has decided where a page decides by it; both sides are one click away.</summary>
/// <param name="Ticket">Ticket of the job.</param>
/// <param name="Questions">The questions.</param>
/// <param name="Policy">The policy by which they are answered.</param>
public sealed record ShopPolicyLine(string Ticket, IReadOnlyList<SchoolQuestion> Questions, MatchPolicy Policy);
