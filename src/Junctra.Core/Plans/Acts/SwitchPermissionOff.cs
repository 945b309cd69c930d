using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Twin;

namespace Junctra.Core.Plans.Acts;

/// <summary>
/// What follows a lock that was closed (specification: section 11 of the job): the switch that permits changing it is turned off in the
/// settings. It may be hidden until the phone was online and asked for an update, sometimes until one more restart. Seen to at the check.
/// </summary>
public sealed record SwitchPermissionOff : Act
{
    private static readonly Band Takes = new(8 * 60, 25 * 60);
    private const int MaxTaps = 10;

    /// <inheritdoc/>
    public override ActBy By => ActBy.Phone;

    /// <inheritdoc/>
    public override bool WantsHands => true;

    /// <inheritdoc/>
    public override PhoneMode? In => null;

    /// <inheritdoc/>
    public override IReadOnlyList<PartitionTouch> Touches => [];

    /// <inheritdoc/>
    public override ActWords Words =>
        new(
            "Turn off the permission to change the lock",
            "The permission to change the lock is turned off",
            "The settings, developer options",
            "Bring it online and ask for an update: the switch may show only then, or after one more restart. Off, restart, look again. A switch that is on does not mean unlocked."
        );

    /// <inheritdoc/>
    public override Band Seconds(Figures figures) => Takes;

    /// <inheritdoc/>
    public override IEnumerable<TwinEvent> OnTwin(TwinScene scene, TwinState now)
    {
        var hands = new MenuHands(scene.Twin, now);
        hands.Touch(entry => entry.Does == MenuEffect.FinishSetup);
        for (var taps = 0; taps < MaxTaps && !hands.Shows(MenuEffect.SwitchPermission); taps++)
            hands.Touch(entry => entry.Does == MenuEffect.BuildNumberTap);
        if (!hands.Shows(MenuEffect.SwitchPermission))
            hands.Touch(entry => entry.Does == MenuEffect.AskForUpdate);
        if (!hands.Shows(MenuEffect.SwitchPermission))
            hands.Touch(entry => entry.Target == Target.Start);
        if (hands.State.PermissionOn)
            hands.Touch(entry => entry.Does == MenuEffect.SwitchPermission);
        hands.Touch(entry => entry.Target == Target.Start);
        return hands.Events;
    }

    /// <summary>Touches entries of menus, and waits each time until the phone has come to rest.</summary>
    private sealed class MenuHands(PhoneTwin twin, TwinState start)
    {
        public TwinState State { get; private set; } = start;

        public List<TwinEvent> Events { get; } = [];

        public bool Shows(MenuEffect effect) => twin.EntriesOf(State).Any(entry => entry.Does == effect);

        /// <summary>Touches the first such entry; nothing where none shows.</summary>
        public void Touch(Func<MenuEntry, bool> which)
        {
            if (twin.EntriesOf(State).FirstOrDefault(which) is not { } entry)
                return;
            Happens(new Choose(entry.Id));
            foreach (var time in Junctra.Core.Twin.Hands.UntilRest(twin, State).ToList())
                Happens(time);
        }

        private void Happens(TwinEvent happening)
        {
            Events.Add(happening);
            State = twin.Next(State, happening);
        }
    }
}
