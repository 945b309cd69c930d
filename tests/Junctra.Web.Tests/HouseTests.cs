using System.Reflection;
using Junctra.Testing;
using Mono.Cecil;

namespace Junctra.Web.Tests;

/// <summary>Which part of the house may use which: imports point down only.</summary>
public partial class HouseTests
{
    private static readonly Dictionary<string, string[]> Allowed = new()
    {
        ["Junctra.Core"] = [],
        ["Junctra.Formats"] = ["Junctra.Core"],
        ["Junctra.Link"] = ["Junctra.Core", "Junctra.Formats"],
        ["Junctra.Schedule"] = ["Junctra.Core"],
        ["Junctra.Store"] = ["Junctra.Core"],
        ["Junctra.StandIns"] = ["Junctra.Core", "Junctra.Formats", "Junctra.Link", "Junctra.Schedule", "Junctra.Store"],
        ["Junctra.Web"] = ["Junctra.Core", "Junctra.Formats", "Junctra.Link", "Junctra.Schedule", "Junctra.Store"],
    };

    /// <summary>The core's folders, the lowest first: each uses itself and those before it, nothing else.</summary>
    private static readonly string[] Order =
    [
        "Facts",
        "Boards",
        "Catalogue",
        "Phones",
        "Twin",
        "Routes",
        "Packages",
        "Triage",
        "Matching",
        "Rescue",
        "Plans",
        "Runs",
        "Checking",
        "Jobs",
        "Logbook",
        "Insight",
        "Practice",
    ];

    public static TheoryData<string> Parts => [.. Allowed.Keys];

    [Theory]
    [MemberData(nameof(Parts))]
    public void Imports_point_down_only(string part)
    {
        var used = Assembly
            .Load(part)
            .GetReferencedAssemblies()
            .Select(a => a.Name!)
            .Where(name => name.StartsWith("Junctra.", StringComparison.Ordinal));
        Assert.Empty(used.Except(Allowed[part]));
    }

    /// <summary>
    /// A parallel query blocks a thread of the pool until others of it have done their parts: pages asked for at once wait for each other.
    /// </summary>
    [Theory]
    [MemberData(nameof(Parts))]
    public void No_part_asks_by_parallel_queries(string part) =>
        Assert.DoesNotContain(Assembly.Load(part).GetReferencedAssemblies(), used => used.Name == "System.Linq.Parallel");

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
            foreach (
                var word in new[]
                {
                    "DateTimeOffset.Now",
                    "DateTimeOffset.UtcNow",
                    "DateTime.Now",
                    "DateTime.UtcNow",
                    "Guid.NewGuid",
                    "new Random",
                    "Random.Shared",
                    "File.Open",
                    "File.Read",
                }
            )
                Assert.False(text.Contains(word), $"{Path.GetFileName(file)} uses {word}");
        }
    }

    [Fact]
    public void The_cores_folders_use_what_lies_below_them_only()
    {
        using var core = AssemblyDefinition.ReadAssembly(Assembly.Load("Junctra.Core").Location);
        var uses = core
            .MainModule.GetTypes()
            .Where(type => FolderOf(type) is not null)
            .SelectMany(type => UsedBy(type).Select(used => (By: type, Used: used)))
            .Where(use => FolderOf(use.Used) is not null && FolderOf(use.Used) != FolderOf(use.By))
            .ToList();

        // A folder that the list does not know, and one that is gone, are both found here.
        Assert.Equal(Order.Order(), core.MainModule.GetTypes().Select(FolderOf).OfType<string>().Distinct().Order());
        Assert.True(uses.Count > 1000, "So few uses were found that the test cannot be looking.");
        Assert.Empty(
            uses.Where(use => Array.IndexOf(Order, FolderOf(use.Used)) > Array.IndexOf(Order, FolderOf(use.By)))
                .Select(use => $"{use.By.FullName} uses {use.Used.FullName}")
                .Distinct()
        );
    }

    [Fact]
    public void A_file_of_the_core_lies_in_the_folder_that_its_namespace_says()
    {
        var folder = Path.Combine(Testing.Repo.Root, "src", "Junctra.Core");
        foreach (var file in Directory.EnumerateFiles(folder, "*.cs", SearchOption.AllDirectories).Where(f => !f.Contains("/obj/")))
        {
            var said = Path.GetDirectoryName(Path.GetRelativePath(folder, file))!.Replace('/', '.');
            Assert.Contains($"namespace Junctra.Core{(said.Length > 0 ? "." : "")}{said};", File.ReadAllText(file));
        }
    }

    /// <summary>A sentence stays in one piece, so that it can be searched for; everything else is laid out by the formatter.</summary>
    [Fact]
    public void No_line_of_code_is_longer_than_140_characters_but_for_the_words_in_it()
    {
        var longOnes = CodeFiles()
            .SelectMany(file =>
                WithoutPages(File.ReadAllText(file))
                    .Split('\n')
                    .Where(line => line.Length > 140 && !line.Contains('"'))
                    .Select(line => $"{file}: {line.Trim()}")
            );
        Assert.Empty(longOnes);

        // Whole pages and documents stand in raw literals, in their own layout.
        static string WithoutPages(string text) => System.Text.RegularExpressions.Regex.Replace(text, "\"{3}[^\"][\\s\\S]*?\"{3}", "");
    }

    /// <summary>In pages words need no line of their own: a line may end at any space between them.</summary>
    [Fact]
    public void No_line_of_a_page_is_longer_than_140_characters() =>
        Assert.Empty(
            Directory
                .EnumerateFiles(Path.Combine(Repo.Root, "src", "Junctra.Web"), "*.cshtml", SearchOption.AllDirectories)
                .SelectMany(file => File.ReadLines(file).Where(line => line.Length > 140).Select(line => $"{file}: {line.Trim()}"))
        );

    [Fact]
    public void No_file_of_code_is_longer_than_300_lines() =>
        Assert.All(CodeFiles(), file => Assert.True(File.ReadLines(file).Count() <= 300, file));

    [Fact]
    public void A_test_is_named_by_a_sentence() =>
        Assert.Empty(
            CodeFiles()
                .Where(file => file.Contains("/tests/"))
                .SelectMany(file =>
                    TestMethod()
                        .Matches(File.ReadAllText(file))
                        .Select(match => match.Groups["name"].Value)
                        .Where(name => !name.Contains('_'))
                )
        );

    [System.Text.RegularExpressions.GeneratedRegex(
        @"\n    \[(Fact|Theory)[^\n]*\n(    [^\n]+\n)*?    public (async )?(Task|void) (?<name>\w+)\(",
        System.Text.RegularExpressions.RegexOptions.NonBacktracking
    )]
    private static partial System.Text.RegularExpressions.Regex TestMethod();

    private static IEnumerable<string> CodeFiles() =>
        new[] { "src", "tests", "bench" }
            .SelectMany(folder => Directory.EnumerateFiles(Path.Combine(Testing.Repo.Root, folder), "*.cs", SearchOption.AllDirectories))
            .Where(file => !file.Contains("/obj/") && !file.Contains("/Migrations/"));

    /// <summary>
    /// What the tables looked like at each migration is asked for only by whoever takes one back, and weighs a thousand lines and more.
    /// </summary>
    [Fact]
    public void Only_the_last_two_migrations_keep_what_the_tables_looked_like()
    {
        var folder = Path.Combine(Testing.Repo.Root, "src", "Junctra.Store", "Migrations");
        var all = Directory.EnumerateFiles(folder, "2*.cs").Where(file => !file.EndsWith(".Designer.cs", StringComparison.Ordinal));
        Assert.Equal(
            all.Order().TakeLast(2).Select(file => Path.ChangeExtension(file, ".Designer.cs")),
            Directory.EnumerateFiles(folder, "*.Designer.cs").Order()
        );
    }

    [Fact]
    public void The_guide_says_the_order_of_the_cores_folders()
    {
        var guide = File.ReadAllText(Path.Combine(Testing.Repo.Root, "docs", "architecture.md"));
        Assert.Contains(string.Join(" ← ", Order.Select(name => $"`{name}`")), guide);
    }

    /// <summary>The folder of a type of the core, from its namespace; null for other assemblies and for the core's own root.</summary>
    private static string? FolderOf(TypeReference type)
    {
        while (type.DeclaringType is not null)
            type = type.DeclaringType;
        return type.Namespace.StartsWith("Junctra.Core.", StringComparison.Ordinal) ? type.Namespace.Split('.')[2] : null;
    }

    /// <summary>
    /// Every type that a type names: in what it is, has, takes, gives, and does. Constants leave no trace in the compiled code.
    /// </summary>
    private static IEnumerable<TypeReference> UsedBy(TypeDefinition type)
    {
        var named = new List<TypeReference?> { type.BaseType };
        named.AddRange(type.Interfaces.Select(one => one.InterfaceType));
        named.AddRange(type.CustomAttributes.Select(one => one.AttributeType));
        named.AddRange(
            type.CustomAttributes.SelectMany(one => one.ConstructorArguments).Select(argument => argument.Value).OfType<TypeReference>()
        );
        named.AddRange(type.Fields.Select(field => field.FieldType));
        foreach (var method in type.Methods)
        {
            named.AddRange(Signature(method));
            if (!method.HasBody)
                continue;
            named.AddRange(method.Body.Variables.Select(variable => variable.VariableType));
            foreach (var operand in method.Body.Instructions.Select(instruction => instruction.Operand))
            {
                if (operand is TypeReference one)
                    named.Add(one);
                else if (operand is FieldReference field)
                    named.AddRange([field.DeclaringType, field.FieldType]);
                else if (operand is MethodReference called)
                    named.AddRange(Signature(called).Append(called.DeclaringType));
            }
        }

        return named.OfType<TypeReference>().SelectMany(Parts);

        static IEnumerable<TypeReference?> Signature(MethodReference method) =>
            method
                .Parameters.Select(parameter => parameter.ParameterType)
                .Append(method.ReturnType)
                .Concat(method is GenericInstanceMethod generic ? generic.GenericArguments : []);

        // A list of phones is a use of phones.
        static IEnumerable<TypeReference> Parts(TypeReference one) =>
            one switch
            {
                GenericInstanceType generic => generic.GenericArguments.SelectMany(Parts).Append(generic.ElementType),
                TypeSpecification wrapped => Parts(wrapped.ElementType),
                _ => [one],
            };
    }
}
