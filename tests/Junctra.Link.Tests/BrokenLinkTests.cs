using Junctra.Core.Plans.Acts;
using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Link.Tests;

/// <summary>
/// Writes over the links of recovery, download with a layout, and a chip that answers alone, broken at random bytes: the journal and the
/// phone agree on what was accepted, and the same path, planned anew from where the phone was left, ends well.
/// </summary>
[Trait("Turn", "7")]
public class BrokenLinkTests(PhoneBench bench) : HandsBench(bench)
{
    /// <summary>Size of the loader of the demo world.</summary>
    private const long LoaderBytes = 96 << 10;

    // A few in every run of the suite; all of them with JUNCTRA_EVERY_FAULT=1.
    public static TheoryData<string, int> Breaks
    {
        get
        {
            var breaks = new TheoryData<string, int>();
            foreach (var path in Sampled.Few(ReadyPhone.Written, 1))
                for (var seed = 0; seed < Sampled.Of(40, 1); seed++)
                    breaks.Add(path, seed);
            return breaks;
        }
    }

    [Theory]
    [MemberData(nameof(Breaks))]
    public async Task Wherever_it_breaks_journal_and_phone_agree(string path, int seed)
    {
        var (name, plan, files, phone) = await ReadyPhone.MakeAsync(Phones, path, anew: true);
        var random = new Random(Sampled.Seed + seed * 31 + path[0]);
        // Of a chip that answers alone within its loader and its boot chain: afterwards it is a phone as any other.
        var most = path == "L" ? LoaderBytes + plan.Steps.First(step => step.Act is WriteThroughLoader).Bytes : plan.BytesToSend;
        await Phones.FaultAsync(name, seed % 5 == 4 ? new { refuseWith = "not now" } : new { dropAtByte = random.NextInt64(1, most) });
        var broken = await CarryOutAsync(name, plan, files, phone);
        Assert.True(broken.Status == RunStatus.Failed, broken.WhatHappened);
        Assert.Equal(
            Journal.OfType<PieceAccepted>().Select(piece => $"write {piece.Partition}"),
            (await Phones.AcceptedAsync(name)).Where(line => line.StartsWith("write", StringComparison.Ordinal))
        );
        Assert.Equal(ReadyPhone.ModeOf(path), await Phones.ModeAsync(name));

        await Phones.FaultAsync(name, new { });
        var (_, again, _, now) = await ReadyPhone.MakeAsync(Phones, path, anew: false);
        var end = await CarryOutAsync(name, again, files, now);
        Assert.True(end.Status == RunStatus.Finished, $"{broken.WhatHappened}; again: {end.WhatHappened}");
        await Until.TrueAsync(
            async () => await Phones.ModeAsync(name) == (path == "H" ? "system" : "setup-wizard"),
            $"phone {name} starts by path {path} in the end"
        );
    }
}
