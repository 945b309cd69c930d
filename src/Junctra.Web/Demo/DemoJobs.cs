using Junctra.Core.Facts;
using Junctra.Core.Triage;
using Junctra.Store;

namespace Junctra.Web.Demo;

/// <summary>A job that lies on the bench when the demo starts.</summary>
/// <param name="Number">Its number in the demo world.</param>
/// <param name="Ticket">Its ticket.</param>
/// <param name="Description">The phone.</param>
/// <param name="Complaint">What was said at the counter.</param>
/// <param name="Wish">What may be lost.</param>
/// <param name="TakenMinutesAgo">How long ago it was taken in.</param>
/// <param name="PromisedInMinutes">When it is promised.</param>
/// <param name="Facts">What is known of it.</param>
/// <param name="Said">What was answered at intake: reason, what it does now, what was done to it last.</param>
public sealed record DemoJob(
    int Number,
    string Ticket,
    string Description,
    string Complaint,
    DataWish Wish,
    int TakenMinutesAgo,
    int PromisedInMinutes,
    IReadOnlyList<(FactName Name, string Value, FactSource Source)> Facts,
    IReadOnlyList<Observation> Said
)
{
    /// <summary>Claims of the customer or others, with who said them.</summary>
    public IReadOnlyList<(string Text, string SaidBy)> Claims { get; init; } = [];

    /// <summary>What came along.</summary>
    public string Accessories { get; init; } = "";

    /// <summary>The facts at a moment, as somebody at the counter recorded them.</summary>
    public IEnumerable<Fact> FactsAt(DateTimeOffset at, string by) =>
        Facts.Select(fact => new Fact(fact.Name, fact.Value, fact.Source, at, by));
}

/// <summary>The jobs of the demo world.</summary>
public static class DemoJobs
{
    /// <summary>All fourteen.</summary>
    public static IReadOnlyList<DemoJob> All { get; } =
    [
        new(
            1,
            "0418",
            "blue case, ferry crew",
            "Starts over and over since a custom system was put on it. The photos are wanted.",
            DataWish.Keep,
            70,
            95,
            [
                (FactName.ModelCode, "TN63E", FactSource.Label),
                (FactName.Region, "WHM", FactSource.Label),
                (FactName.RollbackFloor, "5", FactSource.BootloaderScreen),
                (FactName.LockState, "unlocked", FactSource.BootloaderScreen),
                (FactName.DeviceStatus, "custom", FactSource.BootloaderScreen),
                (FactName.TamperFuse, "tripped", FactSource.BootloaderScreen),
                (FactName.Recovery, "stock", FactSource.BootloaderScreen),
                Mode(PhoneMode.BootLoop),
            ],
            Said("does-not-start", "loop", "custom")
        )
        {
            Accessories = "SIM, case",
            Claims = [("A write with the keep-data pack keeps everything, it says on the forum.", "customer, of a forum")],
        },
        new(
            2,
            "0415",
            "silver, no case",
            "Healthy. Wants the update that is already out in Karrow.",
            DataWish.Keep,
            190,
            300,
            [
                (FactName.ModelCode, "TN41E", FactSource.Settings),
                (FactName.Region, "WHM", FactSource.Settings),
                (FactName.DeviceStatus, "official", FactSource.Settings),
                (FactName.LockState, "locked", FactSource.Settings),
                (FactName.BatteryPercent, "83", FactSource.Settings),
                Mode(PhoneMode.System),
            ],
            Said("update", "system", "nothing")
        ),
        new(
            3,
            "0416",
            "white, carrier sticker",
            "Came with a bundle on a stick that a friend copied. Wants it back as it left the maker.",
            DataWish.MayGo,
            170,
            240,
            [
                (FactName.ModelCode, "TN41K", FactSource.Label),
                (FactName.Region, "LNT", FactSource.Settings),
                (FactName.CarrierLocked, "yes", FactSource.Settings),
                (FactName.DeviceStatus, "custom", FactSource.CustomSystem),
                Mode(PhoneMode.System),
            ],
            Said("to-stock", "system", "custom")
        )
        {
            Claims = [("The bundle on the stick is the right one and leaves the warranty alone.", "customer, of a friend")],
        },
        new(
            4,
            "0421",
            "grey case, ferry crew sticker",
            "Runs a custom system with root. Is to be sold: wants it as it left the maker.",
            DataWish.MayGo,
            35,
            120,
            [
                (FactName.ModelCode, "HX204", FactSource.Label),
                (FactName.DeviceStatus, "custom", FactSource.Customer),
                (FactName.Root, "present", FactSource.CustomSystem),
                Mode(PhoneMode.System),
            ],
            Said("to-stock", "system", "custom")
        ),
        new(
            5,
            "0424",
            "cracked corner, no case",
            "Restarts for ever since a one-click update failed half way. The photos on it are wanted.",
            DataWish.Keep,
            12,
            240,
            [(FactName.ModelCode, "HX204", FactSource.Label), Mode(PhoneMode.BootLoop)],
            Said("does-not-start", "loop", "write-broke")
        )
        {
            Accessories = "SIM",
        },
        new(
            6,
            "0419",
            "black, rubber case",
            "Monthly update, and root is to stay. Two patched parts lie on its card.",
            DataWish.Keep,
            62,
            200,
            [
                (FactName.ModelCode, "TN63E", FactSource.Settings),
                (FactName.Region, "WHM", FactSource.Settings),
                (FactName.Root, "present", FactSource.Settings),
                (FactName.RootManager, "8.2", FactSource.Settings),
                (FactName.Build, "TN63E.5.2606.WHM1", FactSource.Settings),
                (FactName.LockState, "unlocked", FactSource.BootloaderScreen),
                (FactName.RollbackFloor, "5", FactSource.BootloaderScreen),
                Mode(PhoneMode.System),
            ],
            Said("keep-root", "system", "custom")
        ),
        new(
            7,
            "0420",
            "green back, own backup on a card",
            "Modified. There is a backup from before; somebody else's lies beside it. Wants it as it was.",
            DataWish.MayGo,
            58,
            260,
            [
                (FactName.ModelCode, "OB17", FactSource.Label),
                (FactName.Serial, "OBF20117", FactSource.Label),
                (FactName.LockState, "unlocked", FactSource.BootloaderScreen),
                (FactName.DeviceStatus, "custom", FactSource.CustomSystem),
                (FactName.Recovery, "custom", FactSource.BootloaderScreen),
                (FactName.OwnBackup, "exists", FactSource.Customer),
                Mode(PhoneMode.System),
            ],
            Said("to-stock", "system", "custom")
        )
        {
            Accessories = "storage card",
        },
        new(
            8,
            "0422",
            "red back, storage card in it",
            "The update is on the card and recovery does not take it.",
            DataWish.Keep,
            31,
            150,
            [
                (FactName.ModelCode, "OB17", FactSource.Settings),
                (FactName.Region, "DNM", FactSource.Settings),
                (FactName.DeviceStatus, "official", FactSource.Settings),
                (FactName.Card, "present", FactSource.Settings),
                Mode(PhoneMode.System),
            ],
            Said("update-fails", "system", "card")
        )
        {
            Accessories = "storage card",
        },
        new(
            9,
            "0423",
            "orange, thick case",
            "Is in its write mode; the computer lists two phones, one with a warning mark.",
            DataWish.Keep,
            25,
            110,
            [(FactName.ModelCode, "TRB62", FactSource.Label), Mode(PhoneMode.Download)],
            Said("not-seen", "write-mode", "nothing")
        ),
        new(
            10,
            "0425",
            "small, pink case",
            "Shows a picture and “no command” since the morning.",
            DataWish.Keep,
            10,
            60,
            [(FactName.ModelCode, "HX204C", FactSource.Label), Mode(PhoneMode.NoCommand)],
            Said("does-not-start", "waits", "nothing")
        ),
        new(
            11,
            "0426",
            "navy, scratched back",
            "No reaction at all since a write broke off at home. It was here a year ago.",
            DataWish.MayGo,
            9,
            360,
            [(FactName.ModelCode, "TN63W", FactSource.Label), (FactName.RollbackFloor, "7", FactSource.Logbook), Mode(PhoneMode.Off)],
            Said("does-not-start", "nothing", "write-broke")
        ),
        new(
            12,
            "0427",
            "gold, no case",
            "No reaction at all since a write broke off. It was here before the winter.",
            DataWish.MayGo,
            8,
            360,
            [(FactName.ModelCode, "TN63W", FactSource.Label), (FactName.RollbackFloor, "6", FactSource.Logbook), Mode(PhoneMode.Off)],
            Said("does-not-start", "nothing", "write-broke")
        ),
        new(
            13,
            "0428",
            "like new, in its box",
            "Stock, but unlocked. Is to be locked again.",
            DataWish.MayGo,
            6,
            180,
            [
                (FactName.ModelCode, "TN63E", FactSource.Settings),
                (FactName.Region, "WHM", FactSource.Settings),
                (FactName.DeviceStatus, "official", FactSource.Settings),
                (FactName.LockState, "unlocked", FactSource.BootloaderScreen),
                (FactName.UnlockPermission, "greyed", FactSource.Settings),
                (FactName.RollbackFloor, "5", FactSource.BootloaderScreen),
                Mode(PhoneMode.System),
            ],
            Said("relock", "system", "write-done")
        )
        {
            Accessories = "box, charger",
        },
        new(
            14,
            "0429",
            "black, dusty port",
            "Dead since the weekend.",
            DataWish.Keep,
            4,
            90,
            [(FactName.ModelCode, "HX204", FactSource.Label), Mode(PhoneMode.Off)],
            Said("does-not-start", "nothing", "nothing")
        ),
    ];

    private static (FactName, string, FactSource) Mode(PhoneMode mode) => (FactName.Mode, mode.Id(), FactSource.Customer);

    private static Observation[] Said(string reason, string now, string last) =>
        [new("reason", reason), new("now", now), new("last", last)];
}
