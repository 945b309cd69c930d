using System.Text.Json.Serialization;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>Hands choose an entry of a menu by its words, never by its place, and wait until what it does is done.</summary>
/// <param name="Menu">The mode whose menu it is.</param>
/// <param name="Entry">Id of the entry (<c>catalogue/common-ways.yaml</c>).</param>
/// <param name="Label">Its words; they differ from phone to phone.</param>
/// <param name="Partition">The partition that it erases, or null.</param>
/// <param name="Takes">Seconds until the phone is done with it.</param>
/// <param name="Restarts">Whether the phone restarts by it.</param>
public sealed record ChooseEntry(PhoneMode Menu, string Entry, string Label, string? Partition, double Takes, bool Restarts) : Act
{
    private const double HandsSeconds = 20;
    private const double SlowTimes = 3;
    private const string Yes = "yes",
        Select = "power",
        Next = "volume-down";
    private const int MaxPresses = 64;

    /// <summary>What the partition is for where it is not the user data.</summary>
    [JsonIgnore(Condition = JsonIgnoreCondition.WhenWritingNull)]
    public PartitionRole? Role { get; init; }

    /// <summary>Whether it is chosen in a recovery: whose it is shows only once it is there, and either has the entry.</summary>
    [JsonIgnore]
    public bool IsInRecovery => Menu.IsRecovery();

    /// <inheritdoc/>
    public override ActBy By => ActBy.Hands;

    /// <inheritdoc/>
    public override bool IsAtThePhone => true;

    /// <inheritdoc/>
    public override PhoneMode? In => Menu;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches =>
        Partition is null ? [] : [new(Partition, Role ?? PartitionRole.UserData, true)];

    /// <inheritdoc/>
    public override bool TouchesAtOnce => true;

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            $"Choose “{Label}”",
            $"Waiting for “{Label}”",
            PhoneScreens.Of(Menu),
            Restarts ? "The maker's picture shows." : "The menu shows again and says that it is done."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => new(HandsSeconds + Takes, (HandsSeconds + Takes) * SlowTimes);

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        var state = now;
        foreach (var happening in Choose(scene.Twin, now, Entry))
        {
            yield return happening;
            state = scene.Twin.Next(state, happening);
        }

        if (state.Asks is not null)
        {
            foreach (var happening in Choose(scene.Twin, state, Yes))
            {
                yield return happening;
                state = scene.Twin.Next(state, happening);
            }
        }

        if (state.Task is { } task)
            yield return new TimePasses(task.UntilMs - state.NowMs);
        // Whoever switches it off sees it go dark; with a cable in, it then charges.
        if (state.Stage == PhoneStage.SwitchingOff)
        {
            foreach (var time in Junctra.Core.Twin.Hands.UntilRest(scene.Twin, state))
                yield return time;
        }
    }

    /// <summary>Touches an entry, or moves to it by keys and selects it; nothing where the menu does not show it.</summary>
    public static IEnumerable<TwinEvent> Choose(PhoneTwin twin, TwinState now, string entry)
    {
        if (twin.MenuOf(now) is not { } menu || twin.EntriesOf(now) is not { } entries || !entries.Any(one => one.Id == entry))
            yield break;
        if (menu.IsTouch)
        {
            yield return new Choose(entry);
            yield break;
        }

        var state = now;
        for (
            var presses = 0;
            presses < MaxPresses && twin.EntriesOf(state)[Math.Min(state.MenuAt, entries.Count - 1)].Id != entry;
            presses++
        )
        {
            foreach (var happening in Press(Next))
            {
                yield return happening;
                state = twin.Next(state, happening);
            }
        }

        foreach (var happening in Press(menu.SelectKey ?? twin.Family.Behaviour.SelectKey ?? Select))
            yield return happening;
    }

    private static TwinEvent[] Press(string key) => [new KeyDown(key), new TimePasses(100), new KeyUp(key), new TimePasses(200)];
}
