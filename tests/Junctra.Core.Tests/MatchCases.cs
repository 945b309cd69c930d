using CsCheck;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Tests.Rules;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Cases for what must hold of every phone, package and shop rule.</summary>
internal static class MatchCases
{
    /// <summary>Phones of which this or that is known, wrong or disputed, and packages of some builds.</summary>
    public static Gen<(Phone Phone, Package Package, MatchPolicy Policy)> All { get; } =
        Gen.Select(
            Gen.Int[0, 4],
            Gen.Int[0, 3],
            Gen.Int[0, 3],
            Gen.Int[0, 2],
            Gen.Int[0, 3],
            Gen.Int[0, 2],
            Gen.Select(Gen.Int[0, 3], Gen.Bool),
            (model, floor, locked, region, build, school, package) =>
            {
                List<Fact> facts = [Sample.Fact(FactName.Serial, "T1"), Sample.Fact(FactName.DeviceStatus, "official")];
                if (model > 0)
                    facts.Add(Sample.Fact(FactName.ModelCode, model == 4 ? "TN63W" : "TN63E"));
                if (model == 3)
                    facts.Add(Sample.Fact(FactName.ModelCode, "TN63W", FactSource.Label));
                if (floor > 0)
                    facts.Add(Sample.Fact(FactName.RollbackFloor, floor == 1 ? "5" : "6", floor == 3 ? FactSource.Label : FactSource.Link));
                if (locked > 0)
                    facts.Add(Sample.Fact(FactName.LockState, locked == 1 ? "unlocked" : "locked"));
                if (locked == 3)
                    facts.Add(Sample.Fact(FactName.LockState, "unlocked", FactSource.Settings));
                if (region > 0)
                    facts.Add(Sample.Fact(FactName.Region, region == 1 ? "WHM" : "SRV"));
                if (build > 0)
                    facts.Add(Sample.Fact(FactName.Build, new[] { "TN63E.5.2606.WHM1", "TN63E.6.2640.WHM1", "gibberish" }[build - 1]));
                return (
                    new Phone(facts),
                    RuleJudging.PackageOf(
                        "TN63E",
                        new[] { "TN63E.4.2536.WHM1", "TN63E.5.2608.WHM2", "TN63E.6.2630.WHM1", "TN63E.5.2609.SRV1" }[package.Item1],
                        published: package.Item2
                    ),
                    new MatchPolicy((RegionSchool)school)
                );
            }
        );
}
