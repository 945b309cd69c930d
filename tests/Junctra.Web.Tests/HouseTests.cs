using System.Reflection;

namespace Junctra.Web.Tests;

/// <summary>Which part of the house may use which: imports point down only.</summary>
public class HouseTests
{
    private static readonly Dictionary<string, string[]> Allowed = new()
    {
        ["Junctra.Core"] = [],
        ["Junctra.Formats"] = ["Junctra.Core"],
        ["Junctra.Link"] = ["Junctra.Core", "Junctra.Formats"],
        ["Junctra.Store"] = ["Junctra.Core"],
        ["Junctra.StandIns"] = ["Junctra.Core", "Junctra.Formats", "Junctra.Link"],
        ["Junctra.Web"] = ["Junctra.Core", "Junctra.Formats", "Junctra.Link", "Junctra.Store"],
    };

    public static TheoryData<string> Parts => [.. Allowed.Keys];

    [Theory]
    [MemberData(nameof(Parts))]
    public void Imports_point_down_only(string part)
    {
        var used = Assembly.Load(part).GetReferencedAssemblies().Select(a => a.Name!).Where(name => name.StartsWith("Junctra.", StringComparison.Ordinal));
        Assert.Empty(used.Except(Allowed[part]));
    }

    [Fact]
    public void The_core_does_no_input_or_output_and_has_no_clock_of_its_own()
    {
        string[] forbidden = ["System.Net.", "System.IO.File", "Microsoft.", "Npgsql", "YamlDotNet", "System.Console"];
        var used = Assembly.Load("Junctra.Core").GetReferencedAssemblies().Select(a => a.Name!);
        Assert.DoesNotContain(used, name => forbidden.Any(f => name.StartsWith(f, StringComparison.Ordinal)));
        var folder = Path.Combine(Testing.Repo.Root, "src", "Junctra.Core");
        foreach (var file in Directory.EnumerateFiles(folder, "*.cs", SearchOption.AllDirectories).Where(f => !f.Contains("/obj/")))
        {
            var text = File.ReadAllText(file);
            foreach (var word in new[] { "DateTimeOffset.Now", "DateTimeOffset.UtcNow", "DateTime.Now", "DateTime.UtcNow", "Guid.NewGuid", "new Random", "Random.Shared", "File.Open", "File.Read" })
                Assert.False(text.Contains(word), $"{Path.GetFileName(file)} uses {word}");
        }
    }
}
