using System.CommandLine;
using System.Text.Encodings.Web;
using System.Text.Json;
using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Formats.CatalogueFiles;
using Junctra.Formats.Inspection;

namespace Junctra.Cli;

/// <summary>What the commands share: options, reading what they name, printing, and the numbers they end with.</summary>
internal static class Shell
{
    /// <summary>Folder of the catalogue.</summary>
    public static Option<DirectoryInfo> Catalogue { get; } =
        new("--catalogue") { Description = "Folder of the catalogue", DefaultValueFactory = _ => new DirectoryInfo("catalogue") };

    /// <summary>For programs instead of people.</summary>
    public static Option<bool> Json { get; } = new("--json") { Description = "Print JSON, as docs/formats.md describes it" };

    /// <summary>A list of digests that counts as its publisher's.</summary>
    public static Option<FileInfo?> Trust { get; } =
        new("--trust") { Description = "Checksum list that you answer for: what agrees with it counts as its publisher's" };

    /// <summary>File of a phone.</summary>
    public static Option<FileInfo> Phone { get; } =
        new("--phone") { Description = "File with the phone's facts, as docs/formats.md describes it", Required = true };

    /// <summary>Mode from which something begins.</summary>
    public static Option<string?> From { get; } =
        new("--from") { Description = "Mode in which the phone is; what its facts say where it is left out" };

    private static readonly JsonSerializerOptions Written = new(JsonSerializerDefaults.Web)
    {
        WriteIndented = true,
        Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping,
        DefaultIgnoreCondition = JsonIgnoreCondition.Never,
    };

    /// <summary>The catalogue that a call names.</summary>
    public static ModelCatalogue CatalogueOf(ParseResult result) => CatalogueReader.Read(result.GetValue(Catalogue)!.FullName);

    /// <summary>Digests that count as their publisher's.</summary>
    public static IReadOnlyDictionary<string, string> Trusted(ParseResult result) =>
        result.GetValue(Trust) is { } list ? FolderInspection.ReadTrusted(list.FullName) : new Dictionary<string, string>();

    /// <summary>A mode by its id.</summary>
    /// <exception cref="IOException">It is none.</exception>
    public static PhoneMode Mode(string id) =>
        PhoneModes.Parse(id)
        ?? throw new IOException($"{id} is no mode. Modes are {string.Join(", ", Enum.GetValues<PhoneMode>().Select(mode => mode.Id()))}.");

    /// <summary>Prints a report, for people or as JSON.</summary>
    public static void Show<T>(ParseResult result, T report, Action<T, TextWriter> forPeople)
    {
        if (result.GetValue(Json))
            result.InvocationConfiguration.Output.WriteLine(JsonSerializer.Serialize(report, Written));
        else
            forPeople(report, result.InvocationConfiguration.Output);
    }

    /// <summary>Carries a command out: 0 when all is well, 1 when the answer is no, 2 when the question could not be understood.</summary>
    public static async Task<int> GuardAsync(ParseResult result, Func<Task<int>> act)
    {
        try
        {
            return await act();
        }
        catch (Exception error) when (error is CatalogueException or IOException or UnauthorizedAccessException)
        {
            result.InvocationConfiguration.Error.WriteLine(error.Message);
            return 2;
        }
    }
}
