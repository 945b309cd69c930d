using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>Hands in a menu, whether it is touched or has keys.</summary>
public static class MenuHands
{
    private const int TapMs = 200,
        MostEntries = 40;

    /// <summary>The phone after an entry was chosen, and confirmed where it asks; null where it does not stand there.</summary>
    public static TwinState? Choose(PhoneTwin twin, TwinState state, string entry)
    {
        var after = One(twin, state, entry);
        if (after?.Asks is not null)
            after = One(twin, after, "yes");
        return after is null ? null : Hands.AtRest(twin, after);
    }

    private static TwinState? One(PhoneTwin twin, TwinState state, string entry)
    {
        if (twin.MenuOf(state) is not { } menu || twin.EntriesOf(state).All(one => one.Id != entry))
            return null;
        if (menu.IsTouch)
            return twin.Next(state, new Choose(entry));
        for (var i = 0; i < MostEntries; i++)
        {
            var screen = twin.ScreenOf(state);
            if (screen.Marked >= 0 && screen.Entries[screen.Marked].Id == entry)
                return Tap(twin, state, menu.SelectKey ?? twin.Family.Behaviour.SelectKey);
            state = Tap(twin, state, "volume-down");
        }

        return null;
    }

    private static TwinState Tap(PhoneTwin twin, TwinState state, string key) =>
        twin.Run(state, [new KeyDown(key), new TimePasses(TapMs), new KeyUp(key)]);
}
