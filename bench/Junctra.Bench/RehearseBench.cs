using System.Diagnostics;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Formats.CatalogueFiles;
using Junctra.Formats.Inspection;

namespace Junctra.Bench;

/// <summary>
/// The rehearsal of a factory set of forty steps with every interruption, for a phone of which nothing is known that need not be.
/// </summary>
internal static class RehearseBench
{
    private const int Steps = 40,
        Runs = 40;
    private const double MaxMilliseconds = 100;

    public static async Task<IReadOnlyList<BenchRow>> RunAsync(string root, string work)
    {
        var catalogue = CatalogueReader.Read(Path.Combine(root, "catalogue"));
        var folder = Path.Combine(work, "rehearsed");
        using (
            var made = Programs.Start(
                "dotnet",
                [],
                Path.Combine(root, "src/Junctra.StandIns/bin/Release/net10.0/Junctra.StandIns.dll"),
                "packages",
                folder,
                "factory-sets"
            )
        )
            await made.WaitForExitAsync();
        var file = new FileInfo(Path.Combine(folder, "cairn-stock-26w10.tar"));
        var package = PackageReader.Read(
            file.Name,
            await FolderInspection.InspectAsync(file, LibraryFolder.Read(folder), new Dictionary<string, string>()),
            catalogue
        );
        var phone = new Phone([
            FactName.ModelCode.Claim("HX204", FactSource.Link, DateTimeOffset.UnixEpoch, "bench"),
            FactName.Serial.Claim("HXA70431", FactSource.Link, DateTimeOffset.UnixEpoch, "bench"),
            FactName.LockState.Claim(LockState.Unlocked, FactSource.Link, DateTimeOffset.UnixEpoch, "bench"),
            FactName.RollbackFloor.Claim(3, FactSource.Link, DateTimeOffset.UnixEpoch, "bench"),
            FactName.Mode.Claim(PhoneMode.Fastboot, FactSource.Link, DateTimeOffset.UnixEpoch, "bench"),
        ]);
        var @case = new PathCase(phone, package, false, catalogue);
        var plan = PathList.Compile(@case).Plan ?? throw new InvalidOperationException(string.Join(" ", PathList.Compile(@case).Refusals));
        // Longer than any plan of the catalogue: its last image is written again and again.
        var again = plan.Steps.Last(step => step.Act is WriteImage).Act;
        var at = plan.Steps.ToList().FindLastIndex(step => step.Act is WriteImage);
        var acts = plan.Steps.Select(step => step.Act).ToList();
        while (acts.Count < Steps)
            acts.Insert(at, again);
        plan = plan with { Steps = [.. acts.Select((act, i) => new PlanStep(i + 1, act, act.Seconds(catalogue.Figures), false))] };

        var times = new List<double>();
        for (var run = 0; run < Runs; run++)
        {
            var watch = Stopwatch.StartNew();
            if (Rehearser.Rehearse(plan, @case, package).WhyNot is { } why)
                throw new InvalidOperationException(why);
            // The first ones bring it to where it is in a program that has run for a while.
            if (run >= Runs / 4)
                times.Add(watch.Elapsed.TotalMilliseconds);
        }

        var (median, high) = (BenchRow.Median(times), times.Order().ElementAt((int)(times.Count * 0.95)));
        return
        [
            new BenchRow(
                $"rehearse a plan of {Steps} steps with every interruption, 95th percentile",
                "",
                $"{high:0.0} ms",
                $"median {median:0.0} ms",
                $"{high:0.0} ms",
                $"at most {MaxMilliseconds:0} ms",
                high <= MaxMilliseconds
            ),
        ];
    }
}
