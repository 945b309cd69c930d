using Junctra.Core.Runs;
using Junctra.Testing;

namespace Junctra.Link.Tests;

/// <summary>Eight phones at once, each by its own path and with its own trouble: none costs another anything.</summary>
[Trait("Turn", "3")]
public sealed class ManyPhonesTests : IAsyncLifetime
{
    private static readonly string[] Paths = ["H", "E", "G", "L"];
    private readonly List<PhoneBench> benches = [new(), new()];

    private sealed class OneBench(PhoneBench bench) : HandsBench(bench)
    {
        /// <summary>A write that breaks somewhere, and the same again to its end.</summary>
        /// <returns>What was wrong, or null.</returns>
        public async Task<string?> WriteTwiceAsync(string path, Random random)
        {
            var (name, plan, files, phone) = await ReadyPhone.MakeAsync(Phones, path, anew: true);
            Sampled.Tried();
            var most = path == "L" ? 96 << 10 : plan.BytesToSend;
            var drops = path is "H" or "E" or "L";
            if (drops)
                await Phones.FaultAsync(name, new { dropAtByte = random.NextInt64(1, most) });
            var first = await CarryOutAsync(name, plan, files, phone);
            if (!drops)
                return first.Status == RunStatus.Finished ? null : $"{path}: {first.WhatHappened}";
            var written = Journal.OfType<PieceAccepted>().Select(piece => $"write {piece.Partition}").ToList();
            var accepted = (await Phones.AcceptedAsync(name)).Where(line => line.StartsWith("write", StringComparison.Ordinal));
            if (first.Status != RunStatus.Failed || !accepted.SequenceEqual(written))
                return $"{path}: {first.Status}, and the journal has {string.Join(", ", written)}";
            await Phones.FaultAsync(name, new { });
            var (_, again, _, now) = await ReadyPhone.MakeAsync(Phones, path, anew: false);
            var end = await CarryOutAsync(name, again, files, now);
            return end.Status == RunStatus.Finished ? null : $"{path}, again: {end.WhatHappened}";
        }
    }

    public async ValueTask InitializeAsync()
    {
        foreach (var bench in benches)
            await bench.InitializeAsync();
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var bench in benches)
            await bench.DisposeAsync();
    }

    [Fact]
    public async Task Eight_phones_are_written_at_once()
    {
        for (var round = 0; round < Sampled.Of(10, 1); round++)
        {
            var wrong = await Task.WhenAll(
                from bench in benches
                from path in Paths
                let random = new Random(Sampled.Seed + round * 100 + benches.IndexOf(bench) * 10 + path[0])
                select Task.Run(() => new OneBench(bench).WriteTwiceAsync(path, random))
            );
            Assert.All(wrong, Assert.Null);
        }
    }
}
