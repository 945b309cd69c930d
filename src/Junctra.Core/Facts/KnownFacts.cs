namespace Junctra.Core.Facts;

/// <summary>
/// The facts that have a name of their own, in the order in which they are shown (specification: the facts of the job, section 3). Each is
/// declared once: its id, its label, the form of its values with what they mean, and what a write must touch to make earlier readings void.
/// </summary>
public readonly partial record struct FactName
{
    private static readonly List<FactDefinition> Declared = [];

    /// <summary>Exact variant, as printed in settings and on the label.</summary>
    public static FactOf<string> ModelCode { get; } = Declare("model-code", "Model code", FactForms.Code);

    /// <summary>The name it is sold by; never enough to tell a variant.</summary>
    public static FactOf<string> ProductName { get; } = Declare("product-name", "Product name", FactForms.Text);

    /// <summary>Who made it.</summary>
    public static FactOf<string> Maker { get; } = Declare("maker", "Maker", FactForms.Text);

    /// <summary>The phone's own number, by which one of two connected phones is told from the other.</summary>
    public static FactOf<string> Serial { get; } = Declare("serial", "Serial", FactForms.Text);

    /// <summary>The mode the phone is in.</summary>
    public static FactOf<PhoneMode> Mode { get; } =
        Declare("mode", "Mode now", FactForms.Modes, WriteTouch.Anything, change: FactChange.Momentary, isTypable: false);

    /// <summary>Chip family, as the catalogue writes it.</summary>
    public static FactOf<string> ChipFamily { get; } = Declare("chip-family", "Chip family", FactForms.Text);

    /// <summary>Storage size in decimal gigabytes.</summary>
    public static FactOf<int> StorageSize { get; } = Declare("storage-gb", "Storage size", FactForms.Number(1, 4096, " GB"));

    /// <summary>Sales region of the software now on the phone.</summary>
    public static FactOf<string> Region { get; } = Declare("region", "Region code", FactForms.Code, WriteTouch.System);

    /// <summary>Group of the sales region, where a build string tells no more.</summary>
    public static FactOf<string> RegionGroup { get; } = Declare("region-group", "Region group", FactForms.Text, WriteTouch.System);

    /// <summary>Whether it only works with one carrier.</summary>
    public static FactOf<bool> CarrierLocked { get; } = Declare("carrier-locked", "Carrier-locked", FactForms.YesNo);

    /// <summary>The build now on the phone.</summary>
    public static FactOf<string> Build { get; } = Declare("build", "Build", FactForms.Text, WriteTouch.System);

    /// <summary>Version of the operating system.</summary>
    public static FactOf<OsVersion> OsVersion { get; } = Declare("os-version", "OS version", FactForms.Version, WriteTouch.System);

    /// <summary>Month of the security patch, <c>2026-08</c>.</summary>
    public static FactOf<string> SecurityPatch { get; } = Declare("security-patch", "Security patch", FactForms.Month, WriteTouch.System);

    /// <summary>The radio's own build.</summary>
    public static FactOf<string> RadioBuild { get; } = Declare("radio-build", "Radio build", FactForms.Text, WriteTouch.Radio);

    /// <summary>Revision of the boot chain now on the phone; a lower bound of the rollback floor.</summary>
    public static FactOf<Revision> BootloaderRevision { get; } =
        Declare("bootloader-revision", "Bootloader revision", FactForms.Revisions, WriteTouch.BootChain);

    /// <summary>Lowest bootloader revision the phone still accepts, from its one-time fuses.</summary>
    // Only a floor read since the last write allows another one, whatever that write was.
    public static FactOf<Revision> RollbackFloor { get; } =
        Declare("rollback-floor", "Rollback floor", FactForms.Revisions, WriteTouch.Anything);

    /// <summary>Whether it accepts only signed software.</summary>
    public static FactOf<LockState> LockState { get; } = Declare("lock-state", "Lock state", FactForms.Lock, WriteTouch.Anything);

    /// <summary>The switch in developer options that allows changing the lock.</summary>
    public static FactOf<UnlockSwitch> UnlockPermission { get; } =
        Declare(
            "unlock-permission",
            "Unlock-permission switch",
            FactForms.Switch,
            WriteTouch.UserData | WriteTouch.Lock,
            change: FactChange.ByHand
        );

    /// <summary>What the system says of itself.</summary>
    public static FactOf<DeviceStatus> DeviceStatus { get; } =
        Declare("device-status", "Device status", FactForms.Status, WriteTouch.System);

    /// <summary>One-time mark that modified software was started.</summary>
    public static FactOf<TamperFuse> TamperFuse { get; } =
        Declare("tamper-fuse", "Tamper fuse", FactForms.Fuse, WriteTouch.System | WriteTouch.Recovery);

    /// <summary>Whose recovery it has.</summary>
    public static FactOf<RecoveryKind> Recovery { get; } = Declare("recovery", "Recovery", FactForms.Recovery, WriteTouch.Recovery);

    /// <summary>Whether it has root.</summary>
    public static FactOf<Presence> Root { get; } = Declare("root", "Root", FactForms.Thing, WriteTouch.System);

    /// <summary>Version of the root manager on the phone.</summary>
    public static FactOf<string> RootManager { get; } =
        Declare("root-manager", "Root manager's version", FactForms.Text, WriteTouch.System | WriteTouch.UserData);

    /// <summary>Whether this computer may command the running system.</summary>
    public static FactOf<Debugging> UsbDebugging { get; } =
        Declare("usb-debugging", "USB debugging", FactForms.Usb, WriteTouch.UserData, change: FactChange.ByHand);

    /// <summary>Whether an account is signed in.</summary>
    public static FactOf<AccountState> Account { get; } =
        Declare("account", "Account signed in", FactForms.Account, WriteTouch.UserData, change: FactChange.ByHand);

    /// <summary>Whether the user data is encrypted.</summary>
    public static FactOf<bool> Encryption { get; } = Declare("encryption", "Encryption", FactForms.OnOff, WriteTouch.UserData);

    /// <summary>Charge.</summary>
    public static FactOf<Percent> BatteryPercent { get; } =
        Declare("battery-percent", "Battery", FactForms.Percent, WriteTouch.Anything, change: FactChange.Momentary);

    /// <summary>Whether the battery can be taken out.</summary>
    public static FactOf<bool> BatteryOut { get; } = Declare("battery-out", "Battery can be taken out", FactForms.YesNo);

    /// <summary>Whether a storage card is in it.</summary>
    public static FactOf<Presence> Card { get; } = Declare("card", "Storage card", FactForms.Thing, change: FactChange.Momentary);

    /// <summary>Free on the storage card, in decimal megabytes.</summary>
    public static FactOf<int> CardFree { get; } =
        Declare("card-free-mb", "Free on the card", FactForms.Number(0, 100_000_000, " MB"), change: FactChange.Momentary);

    /// <summary>Where a copied update lies.</summary>
    public static FactOf<CardPlace> CardPlace { get; } =
        Declare("card-place", "Update on the card", FactForms.Place, change: FactChange.Momentary);

    /// <summary>The name under which a copied update lies there.</summary>
    public static FactOf<string> CardFileName { get; } =
        Declare("card-file-name", "Name of the copy", FactForms.Text, change: FactChange.Momentary);

    /// <summary>SHA-256 of the copy, read from the card.</summary>
    public static FactOf<string> CardFileDigest { get; } =
        Declare("card-file-digest", "Digest of the copy", FactForms.Digest, change: FactChange.Momentary);

    /// <summary>Whether it has a home key, which tells key families apart.</summary>
    public static FactOf<bool> HomeKey { get; } = Declare("home-key", "Home key", FactForms.YesNo);

    /// <summary>The build that last ran well on this phone.</summary>
    public static FactOf<string> LastGoodBuild { get; } = Declare("last-good-build", "Last good build", FactForms.Text);

    /// <summary>Whether an own backup image exists.</summary>
    public static FactOf<BackupState> OwnBackup { get; } =
        Declare("own-backup", "Own backup image", FactForms.Backup, change: FactChange.ByHand);

    /// <summary>How many apps are installed.</summary>
    public static FactOf<int> AppCount { get; } =
        Declare("app-count", "Apps installed", FactForms.Number(0, 9999), WriteTouch.UserData, change: FactChange.ByHand);

    /// <summary>Networks that are set up.</summary>
    public static FactOf<string> Networks { get; } =
        Declare("networks", "Networks set up", FactForms.Text, WriteTouch.UserData, change: FactChange.ByHand);

    /// <summary>How the home screen looks, which shows at a glance whether the data is there.</summary>
    public static FactOf<HomeScreenState> HomeScreen { get; } =
        Declare("home-screen", "Home screen", FactForms.Home, WriteTouch.UserData, change: FactChange.ByHand);

    /// <summary>What the phone's own search for updates answers.</summary>
    public static FactOf<UpdateAnswer> UpdateCheck { get; } =
        Declare("update-check", "Search for updates", FactForms.Update, WriteTouch.Anything, change: FactChange.Momentary);

    /// <summary>Whether it is in its network.</summary>
    public static FactOf<NetworkState> Network { get; } =
        Declare("network", "Network", FactForms.Network, WriteTouch.Anything, change: FactChange.Momentary);

    /// <summary>Whether its identity numbers are there and those of its label. The numbers themselves are never kept.</summary>
    public static FactOf<IdentityState> IdentityNumbers { get; } =
        Declare("identity-numbers", "Identity numbers", FactForms.Identity, WriteTouch.Anything);

    /// <summary>All of them; sizes of partitions and modes that were reached besides.</summary>
    public static IReadOnlyList<FactName> All { get; } = [.. Declared.Select(definition => new FactName(definition.Id))];

    private static readonly Dictionary<string, FactDefinition> ById = Declared.ToDictionary(
        definition => definition.Id,
        StringComparer.Ordinal
    );

    private static FactOf<T> Declare<T>(
        string id,
        string label,
        FactForm<T> form,
        WriteTouch touchedBy = WriteTouch.None,
        FactChange change = FactChange.Never,
        bool isTypable = true
    )
    {
        Declared.Add(
            new FactDefinition(id, label, form, touchedBy)
            {
                IsMomentary = change == FactChange.Momentary,
                IsChangedByHand = change == FactChange.ByHand,
                IsTypable = isTypable,
            }
        );
        return new FactOf<T>(new FactName(id), form);
    }
}
