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
        Warm = 60,
        Runs = 60;
    private const double MaxMilliseconds = 100;
    private static readonly int[] Lengths = [10, 20, Steps, 80];

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
        Plan Of(int steps)
        {
            var acts = plan.Steps.Select(step => step.Act).ToList();
            while (acts.Count < steps)
                acts.Insert(at, again);
            while (acts.Count > steps)
                acts.RemoveAt(acts.FindLastIndex(act => act is WriteImage));
            return plan with { Steps = [.. acts.Select((act, i) => new PlanStep(i + 1, act, act.Seconds(catalogue.Figures), false))] };
        }

        double Milliseconds(Plan one)
        {
            var watch = Stopwatch.StartNew();
            if (Rehearser.Rehearse(one, @case, package).WhyNot is { } why)
                throw new InvalidOperationException(why);
            return watch.Elapsed.TotalMilliseconds;
        }

        // A program that has run for a while: its first rehearsals are not yet compiled as well as the later ones.
        var first = Milliseconds(Of(Steps));
        for (var run = 0; run < Warm; run++)
            Milliseconds(Of(Steps));
        var times = Lengths.ToDictionary(steps => steps, _ => new List<double>());
        for (var run = 0; run < Runs; run++)
        {
            foreach (var steps in Lengths)
                times[steps].Add(Milliseconds(Of(steps)));
        }

        var high = times[Steps].Order().ElementAt((int)(Runs * 0.95));
        var growth = string.Join(" · ", Lengths.Select(steps => $"{steps} steps {BenchRow.Median(times[steps]):0.0}"));
        return
        [
            new BenchRow(
                $"rehearse a plan of {Steps} steps with every interruption, 95th percentile",
                "",
                $"{high:0.0} ms",
                $"medians in ms: {growth}; the very first {first:0}",
                $"{high:0.0} ms",
                $"at most {MaxMilliseconds:0} ms",
                high <= MaxMilliseconds
            ),
        ];
    }
}
