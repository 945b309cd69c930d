using System.Text.Json;
using System.Text.Json.Nodes;
using Junctra.Core.Plans;

namespace Junctra.Store;

/// <summary>
/// Reads plans of every version that runs were begun with. The first one had no number: a step had a kind and a partition instead of an
/// act, fates and expectations lay in the plan itself, and what a break would mean was a sentence.
/// </summary>
public static class PlanVersions
{
    private const string Letter = "F";

    /// <summary>A plan out of a row.</summary>
    /// <exception cref="JsonException">It is no plan.</exception>
    public static Plan Read(string text)
    {
        var plan = JsonNode.Parse(text)?.AsObject() ?? throw new JsonException("A plan is expected, not null.");
        if (!plan.ContainsKey("version"))
            plan = FromFirst(plan);
        return plan.Deserialize<Plan>(StoreJson.Options) ?? throw new JsonException("A plan is expected, not null.");
    }

    private static JsonObject FromFirst(JsonObject first)
    {
        var steps = first["steps"]!.AsArray().Select(step => step!.AsObject()).ToList();
        var erases = (bool?)first["erasesData"] ?? false;
        JsonObject? before = null;
        var mended = new JsonArray();
        var risks = new JsonArray();
        foreach (var step in steps)
        {
            var number = (int)step["number"]!;
            var noReturn = (bool?)step["noReturn"] ?? false;
            mended.Add(
                (JsonNode)
                    new JsonObject
                    {
                        ["number"] = number,
                        ["act"] = ActOf(step),
                        ["seconds"] = step["seconds"]?.DeepClone(),
                        ["mayStopBefore"] = (string?)step["kind"] is "write" or "erase" && (bool?)before?["noReturn"] is not true,
                    }
            );
            risks.Add(
                (JsonNode)
                    new JsonObject
                    {
                        ["step"] = number,
                        ["risk"] =
                            noReturn ? "only-emergency"
                            : number <= 2 ? "safe-to-stop"
                            : "keys-bring-it-back",
                        ["dataGone"] = false,
                        ["by"] = "",
                        ["at"] = "",
                    }
            );
            before = step;
        }

        return new JsonObject
        {
            ["version"] = 1,
            ["choice"] = new JsonObject
            {
                ["path"] = Letter,
                ["title"] = erases ? "Factory set, data erased" : "Factory set, data kept",
                ["erasesData"] = erases,
            },
            ["target"] = first["target"]?.DeepClone(),
            ["packages"] = new JsonArray(
                new JsonObject
                {
                    ["id"] = first["packageId"]?.DeepClone(),
                    ["title"] = first["packageTitle"]?.DeepClone(),
                    ["revision"] = first["packageRevision"]?.DeepClone(),
                }
            ),
            ["steps"] = mended,
            ["ifItLoops"] = new JsonArray(),
            ["rehearsal"] = new JsonObject
            {
                ["fates"] = first["fates"]?.DeepClone() ?? new JsonArray(),
                ["expectations"] = first["expectations"]?.DeepClone() ?? new JsonArray(),
                ["risks"] = risks,
                ["branches"] = 0,
            },
        };
    }

    private static JsonObject ActOf(JsonObject step)
    {
        var (partition, role, bytes) = ((string?)step["partition"], (string?)step["role"], (long?)step["bytes"] ?? 0);
        return (string?)step["kind"] switch
        {
            "verify" => new JsonObject
            {
                ["act"] = "verify-files",
                ["bytes"] = 0,
                ["unpackedBytes"] = 0,
            },
            "reread" => new JsonObject
            {
                ["act"] = "confirm-target",
                ["mode"] = "fastboot",
                ["compare"] = "",
            },
            "write" => new JsonObject
            {
                ["act"] = "write-image",
                ["image"] = new JsonObject
                {
                    ["partition"] = partition,
                    ["role"] = role,
                    ["bytes"] = bytes,
                    ["expandedBytes"] = bytes,
                    ["sha256"] = "",
                    ["origin"] = new JsonObject { ["kind"] = "stock" },
                },
            },
            "erase" => new JsonObject
            {
                ["act"] = "erase-partition",
                ["partition"] = partition,
                ["role"] = role,
            },
            "restart-bootloader" => new JsonObject
            {
                ["act"] = "restart-into",
                ["toBootloader"] = true,
                ["why"] = "",
            },
            "restart-system" => new JsonObject
            {
                ["act"] = "restart-into",
                ["toBootloader"] = false,
                ["why"] = "",
            },
            "first-boot" => new JsonObject
            {
                ["act"] = "await-stage",
                ["work"] = "first-boot",
                ["apps"] = 0,
            },
            "check" => new JsonObject { ["act"] = "check-result" },
            var kind => throw new JsonException($"A step of the kind {kind} is not known."),
        };
    }
}
