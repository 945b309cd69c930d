using Junctra.Bench;

// Measures, as ratios in one run, and writes docs/benchmarks.md. Started by ./junctra bench, which has built everything and says where
// it is: `ROOT WORK DATABASE`.
if (args is not [var root, var work, var database])
{
    Console.Error.WriteLine("Start this with ./junctra bench.");
    return 2;
}

Directory.CreateDirectory(work);
var rows = new List<BenchRow>();
rows.AddRange(await InspectBench.RunAsync(root, work));
rows.AddRange(await WriteBench.RunAsync(root, work, database));
var table = BenchRow.Table(rows);
Console.WriteLine(table);
await File.WriteAllTextAsync(Path.Combine(root, "docs", "benchmarks.md"), BenchRow.Document(table));
return rows.All(row => row.Holds) ? 0 : 1;
