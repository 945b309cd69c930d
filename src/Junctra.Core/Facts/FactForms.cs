namespace Junctra.Core.Facts;

/// <summary>The forms of facts, each made once.</summary>
internal static class FactForms
{
    public static TextForm Text { get; } = new();
    public static CodeForm Code { get; } = new();
    public static MonthForm Month { get; } = new();
    public static DigestForm Digest { get; } = new();
    public static VersionForm Version { get; } = new();
    public static SizeForm Bytes { get; } = new();
    public static WordForm<bool> YesNo { get; } = new((true, "yes", "yes"), (false, "no", "no"));
    public static WholeForm<Revision> Revisions { get; } = new(0, Revision.Max, "", number => number, revision => revision.Number);
    public static WholeForm<Percent> Percent { get; } = new(0, 100, " %", number => new Percent(number), percent => percent.Number);
    public static WordForm<PhoneMode> Modes { get; } =
        new([.. Enum.GetValues<PhoneMode>().Select(mode => (mode, mode.Id(), mode.Label()))]);
    public static WordForm<LockState> Lock { get; } =
        new((LockState.Locked, "locked", "locked"), (LockState.Unlocked, "unlocked", "unlocked"));
    public static WordForm<UnlockSwitch> Switch { get; } =
        new(
            (UnlockSwitch.On, "on", "on"),
            (UnlockSwitch.Off, "off", "off"),
            (UnlockSwitch.Hidden, "hidden", "hidden"),
            (UnlockSwitch.Greyed, "greyed", "greyed")
        );
    public static WordForm<DeviceStatus> Status { get; } =
        new((DeviceStatus.Official, "official", "official"), (DeviceStatus.Custom, "custom", "custom"));
    public static WordForm<TamperFuse> Fuse { get; } =
        new((TamperFuse.Intact, "intact", "intact"), (TamperFuse.Tripped, "tripped", "tripped"));
    public static WordForm<RecoveryKind> Recovery { get; } =
        new((RecoveryKind.Stock, "stock", "stock"), (RecoveryKind.Custom, "custom", "custom"));
    public static WordForm<Presence> Thing { get; } = new((Presence.None, "none", "none"), (Presence.Present, "present", "present"));
    public static WordForm<Debugging> Usb { get; } =
        new(
            (Debugging.Off, "off", "off"),
            (Debugging.On, "on", "on"),
            (Debugging.Authorised, "authorised", "authorised for this computer")
        );
    public static WordForm<AccountState> Account { get; } =
        new((AccountState.None, "none", "none"), (AccountState.SignedIn, "signed-in", "signed in"));
    public static WordForm<bool> OnOff { get; } = new((true, "on", "on"), (false, "off", "off"));
    public static WordForm<CardPlace> Place { get; } =
        new(
            (CardPlace.Root, "root", "in the root of the external card"),
            (CardPlace.Folder, "folder", "in a folder of the external card"),
            (CardPlace.Internal, "internal", "on internal storage"),
            (CardPlace.None, "none", "not copied")
        );
    public static WordForm<UpdateAnswer> Update { get; } =
        new(
            (UpdateAnswer.UpToDate, "up-to-date", "it is up to date"),
            (UpdateAnswer.NewerOffered, "newer-offered", "a newer one is offered"),
            (UpdateAnswer.Odd, "odd", "it refuses, or says “changed”")
        );
    public static WordForm<NetworkState> Network { get; } =
        new(
            (NetworkState.Registers, "registers", "in its network"),
            (NetworkState.DoesNot, "does-not", "none, with a SIM in it"),
            (NetworkState.NoCard, "no-card", "no SIM to try with")
        );
    public static WordForm<IdentityState> Identity { get; } =
        new(
            (IdentityState.Unchanged, "unchanged", "as on label or box"),
            (IdentityState.Missing, "missing", "none, or noughts"),
            (IdentityState.Differ, "differ", "others")
        );
    public static WordForm<HomeScreenState> Home { get; } =
        new((HomeScreenState.Own, "own", "as its owner arranged it"), (HomeScreenState.New, "new", "as when new"));
    public static WordForm<BackupState> Backup { get; } = new((BackupState.Exists, "exists", "exists"), (BackupState.None, "none", "none"));

    public static WholeForm<int> Number(int min, int max, string unit = "") => new(min, max, unit, number => number, number => number);
}
