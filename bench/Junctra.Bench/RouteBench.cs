using System.Diagnostics;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Routes;
using Junctra.Formats.CatalogueFiles;

namespace Junctra.Bench;

/// <summary>A route for every model from every mode into every mode, with alternatives and with what would shorten it.</summary>
internal static class RouteBench
{
    private const double MaxMilliseconds = 1;

    public static IReadOnlyList<BenchRow> Run(string root)
    {
        var catalogue = CatalogueReader.Read(Path.Combine(root, "catalogue"));
        var phone = new Phone([]);
        var pairs = (
            from model in catalogue.Models
            from @from in Enum.GetValues<PhoneMode>()
            from to in Enum.GetValues<PhoneMode>()
            select (model, @from, to)
        ).ToList();
        // The first rounds bring it to where it is in a program that has run for a while: compiled for speed.
        for (var warm = 0; warm < 5; warm++)
            foreach (var (model, from, to) in pairs)
                Router.Find(phone, model, from, to, catalogue);
        var times = new List<double>();
        foreach (var (model, from, to) in pairs)
        {
            var watch = Stopwatch.StartNew();
            Router.Find(phone, model, from, to, catalogue);
            times.Add(watch.Elapsed.TotalMilliseconds);
        }

        var (median, high) = (BenchRow.Median(times), times.Order().ElementAt((int)(times.Count * 0.95)));
        return
        [
            new BenchRow(
                $"find a route with its alternatives, {pairs.Count:N0} pairs of modes of {catalogue.Models.Count()} models, 95th percentile",
                "",
                $"{high:0.000} ms",
                $"median {median:0.000} ms",
                $"{high:0.000} ms",
                $"at most {MaxMilliseconds:0} ms",
                high <= MaxMilliseconds
            ),
        ];
    }
}
