using Junctra.Core.Boards;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;
using Junctra.Core.Twin;

namespace Junctra.StandIns;

// What hands do with a simulated phone that miss nothing: scores, menus, the needle.
internal sealed partial class BenchPhone
{
    private const string Yes = "yes";
    private const int MaxLegs = 8;

    /// <summary>Plays a score on it by hands that miss nothing, in no time.</summary>
    public Task PlayAsync(KeyRecipe recipe) => ChangeAsync(state => Hands.Play(Twin, state, recipe, Computer).End);

    /// <summary>Brings it into a mode by the cheapest route, by hands that miss nothing, in no time.</summary>
    /// <returns>Whether a route leads there, and led there.</returns>
    public async Task<bool> BringAsync(PhoneMode mode)
    {
        for (var legs = 0; legs < MaxLegs && State.Mode != mode; legs++)
        {
            var route = Router.Best(Known(), Twin.Model, State.Mode, mode, catalogue);
            if (route is not { Legs: [var way, ..] })
                return false;
            await PlayAsync(way.Score);
        }

        return State.Mode == mode;
    }

    /// <summary>Chooses an entry of the menu that shows, by touch or by its keys, and says yes where it asks.</summary>
    public Task SelectAsync(string entry) =>
        ChangeAsync(state =>
        {
            var chosen = ChooseEntry.Choose(Twin, state, entry).Aggregate(state, Twin.Next);
            return chosen.Asks is null ? chosen : ChooseEntry.Choose(Twin, chosen, Yes).Aggregate(chosen, Twin.Next);
        });

    /// <summary>What hands that miss nothing know of it.</summary>
    private Phone Known()
    {
        var facts = new List<Fact>
        {
            new(FactName.ModelCode, State.Model, FactSource.Label, default, Name),
            FactName.LockState.Claim(State.Unlocked ? LockState.Unlocked : LockState.Locked, FactSource.BootloaderScreen, default, Name),
            FactName.UnlockPermission.Claim(PhoneTwin.PermissionOf(State), FactSource.Settings, default, Name),
        };
        if (Twin.RecoveryOf(State) is { } recovery)
            facts.Add(
                FactName.Recovery.Claim(
                    recovery.Kind == SoftwareKind.Custom ? RecoveryKind.Custom : RecoveryKind.Stock,
                    FactSource.BootloaderScreen,
                    default,
                    Name
                )
            );
        return new Phone(facts);
    }

    /// <summary>Trained hands hold a needle on a pad of an opened phone, again and again until its chip answers.</summary>
    /// <returns>Whether it does; only where nothing else starts it.</returns>
    public async Task<bool> HoldNeedleAsync()
    {
        if (State is not { Stage: PhoneStage.Off, Faults: { DeadBoard: true, Shorted: false, BadSocket: false } })
            return false;
        while (State.Stage == PhoneStage.Off)
            await DoAsync(new HoldNeedle(NeedleOn.Wanted, Computer));
        return State.Stage == PhoneStage.Emergency;
    }

    /// <summary>Hands hold a needle on one pad of an opened phone, once.</summary>
    /// <param name="part">The pad's part in the netlist of the board.</param>
    /// <returns>Whether there is such a pad.</returns>
    public async Task<bool> HoldNeedleAsync(string part)
    {
        if (catalogue.BoardOf(Twin.Model.Code) is not { } guide || guide.Board.Pads.FirstOrDefault(pad => pad.Part == part) is not { } pad)
            return false;
        var on = guide.Map.RoleOf(pad.Net) switch
        {
            NetRole.StorageReset or NetRole.BootSelect => NeedleOn.Wanted,
            NetRole.Supply => NeedleOn.Supply,
            _ => NeedleOn.Elsewhere,
        };
        await DoAsync(new HoldNeedle(on, Computer));
        return true;
    }
}
