using System.Text.Json.Nodes;

namespace Junctra.Store.Tests;

public sealed partial class ExchangeTests
{
    public static TheoryData<string, string> BadLines =>
        new()
        {
            { "nothing at all", "no JSON" },
            { """{"jobs":{"key":"a"},"jobs":{"key":"b"}}""", "no JSON" },
            { """{"jobs":{"?":5}}""", "no key" },
            { Job("""{"facts":[{"nmae":"serial"}]}"""), "there is no column “nmae”" },
            {
                Job(
                    """{"runs":[],"findings":[{"classId":"x","by":"x","at":"2026-01-01T00:00:00Z"}],"claims":[{"text":"x","saidBy":"x","recordedBy":"x","at":7}]}"""
                ),
                "at cannot be read"
            },
            { "[1, 2]", "There is no “jobs”" },
            { """{"jobs":{}}""", "no key" },
            { """{"jobs":{"key":"no-guid","ticket":"1","description":"x","complaint":"x"}}""", "key cannot be read" },
            { """{"jobs":{"key":"5b1c8f4e-0b6d-4a11-9a53-0f2a9d8c7b6a","ticket":" ","description":"x","complaint":"x"}}""", "no ticket" },
            { """{"jobs":{"key":"5b1c8f4e-0b6d-4a11-9a53-0f2a9d8c7b6a","description":"x","complaint":"x"}}""", "there is no ticket" },
            { Job("""{"facts":7}"""), "no list of rows" },
            { Job("""{"cars":[]}"""), "nothing that hangs on a job" },
            {
                Job("""{"facts":[{"name":"serial","value":"A","source":"nowhere","at":"2026-01-01T00:00:00Z","recordedBy":"x"}]}"""),
                "source cannot be read"
            },
            { Job("""{"facts":[{"name":"serial","value":"A","source":"link","at":"yesterday","recordedBy":"x"}]}"""), "at cannot be read" },
            {
                Job(
                    """{"facts":[{"name":"mode","value":"A","source":"link","at":"2026-01-01T00:00:00Z","recordedBy":"x","triageAnswerId":5}]}"""
                ),
                "no answer 5"
            },
            { Job("""{"runEvents":[{"runId":9,"seq":1,"at":"2026-01-01T00:00:00Z","event":{"kind":"finished"}}]}"""), "no run 9" },
            { Job("""{"runs":[{"id":1,"plan":{"version":99},"begunBy":"x"}]}"""), "plan cannot be read" },
            {
                Job("""{"facts":[{"name":"serial","value":"A\u0000B","source":"link","at":"2026-01-01T00:00:00Z","recordedBy":"x"}]}"""),
                "cannot be kept"
            },
            {
                Job($$"""{"claims":[{"text":"{{new string('x', 501)}}","saidBy":"x","recordedBy":"x","at":"2026-01-01T00:00:00Z"}]}"""),
                "longer than it may be"
            },
        };

    private static string Job(string parts)
    {
        var job = (JsonObject)JsonNode.Parse(parts)!;
        job["jobs"] = JsonNode.Parse(
            """{"key":"5b1c8f4e-0b6d-4a11-9a53-0f2a9d8c7b6a","ticket":"0303","description":"x","complaint":"x","takenInAt":"2026-01-01T00:00:00Z"}"""
        );
        return job.ToJsonString();
    }
}
