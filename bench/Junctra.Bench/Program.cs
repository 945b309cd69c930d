using System.Globalization;
using Junctra.Bench;

// Measures, as ratios in one run, and writes them into docs/benchmarks.md. Started by ./junctra bench, which has built everything and
// says where it is: `ROOT WORK DATABASE`. Names of rows after that measure only those: inspect, bundle, write, match, route, netlist,
// rehearse, pages, logbook, day, weeks; shop (half an hour) is measured only by its name. `hammer MINUTES SEED` breaks everything that
// can break instead, or what the tests named after that break: ./junctra hammer.
if (args is not [var root, var work, var database, .. var only])
{
    Console.Error.WriteLine("Start this with ./junctra bench.");
    return 2;
}

if (only is ["hammer", var minutes, var seed, .. var tests])
    return await Hammer.RunAsync(
        root,
        database[..database.LastIndexOf(';')],
        TimeSpan.FromMinutes(double.Parse(minutes, CultureInfo.InvariantCulture)),
        int.Parse(seed, CultureInfo.InvariantCulture),
        tests
    );
Directory.CreateDirectory(work);
var rows = new List<BenchRow>();
if (Wanted("inspect"))
    rows.AddRange(await InspectBench.RunAsync(root, work));
if (Wanted("bundle"))
    rows.AddRange(await BundleBench.RunAsync(root, work));
if (Wanted("write"))
    rows.AddRange(await WriteBench.RunAsync(root, work, database));
if (Wanted("match"))
    rows.AddRange(await MatchBench.RunAsync(work, database));
if (Wanted("route"))
    rows.AddRange(RouteBench.Run(root));
if (Wanted("netlist"))
    rows.AddRange(NetlistBench.Run(root));
if (Wanted("rehearse"))
    rows.AddRange(await RehearseBench.RunAsync(root, work));
if (Wanted("pages"))
    rows.AddRange(await PageBench.RunAsync(root, work, database));
if (only.Contains("shop"))
    rows.AddRange(await ShopBench.RunAsync(root, work, database));
if (Wanted("logbook"))
    rows.AddRange(await LogbookBench.RunAsync(root, database));
if (Wanted("day"))
    rows.AddRange(DayBench.Run());
if (Wanted("weeks"))
    rows.AddRange(await DayBench.WeeksAsync(root, work));
var table = BenchRow.Table(rows);
Console.WriteLine(table);
var document = Path.Combine(root, "docs", "benchmarks.md");
await File.WriteAllTextAsync(document, BenchRow.Document(rows, only.Length == 0 ? "" : await File.ReadAllTextAsync(document)));
return rows.All(row => row.Holds) ? 0 : 1;

bool Wanted(string name) => only.Length == 0 || only.Contains(name);
