using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Routes;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Phones and places from which routes are sought.</summary>
public partial class RouterTests
{
    private static bool Arrives(PhoneTwin twin, PhoneModel model, PlannedRoute first, PhoneMode to, Random dice)
    {
        var state = Twin(model, first.From, first) with { Seed = (uint)dice.Next(1, 1000) };
        var (began, most) = (state.NowMs, (long)(3 * first.Minutes * 60_000));
        var route = first;
        while (state.Mode != to)
        {
            // Wherever it really is now: asked anew, as a person would who says what the phone shows.
            if (state.Mode != route.From)
                route = Find(model.Code, state.Mode, to).Best ?? route;
            if (!route.Next.TryGetValue(state.Mode, out var way) || state.NowMs - began > most)
                return false;
            state = Hands.Play(twin, state, way.Score, Computer, _ => Gauss(dice) * Unsteady).End;
        }

        return state.NowMs - began <= most;
    }

    private static double Gauss(Random dice) => Math.Sqrt(-2 * Math.Log(1 - dice.NextDouble())) * Math.Cos(2 * Math.PI * dice.NextDouble());

    private static IEnumerable<(PhoneMode From, PhoneMode To)> Pairs() => Places.SelectMany(from => Places.Select(to => (from, to)));

    /// <summary>Modes that a model's phones can be in.</summary>
    private static bool Possible(PhoneModel model, PhoneMode mode) =>
        mode switch
        {
            PhoneMode.Fastboot or PhoneMode.Download => mode == model.WriteMode,
            PhoneMode.RecoveryCommands => model.Slots > 1,
            PhoneMode.WarningScreen => model.KeyFamily is "home-key" or "two-keys-and-cable",
            PhoneMode.LockChange => model.KeyFamily is not ("home-key" or "one-key-and-cable"),
            PhoneMode.BootMenu => model.KeyFamily is "older-menu",
            PhoneMode.NoCommand => OtherCatalogue.WithAllKeyFamilies.KeyFamilyOf(model).Behaviour.RecoveryOpensWith == PhoneStage.NoCommand,
            _ => true,
        };

    private static readonly (FactName Name, string Value)[] Nothing = [];

    private static readonly (FactName Name, string Value)[] Everything =
    [
        (FactName.UsbDebugging, "authorised"),
        (FactName.Root, "present"),
        (FactName.UnlockPermission, "greyed"),
        (FactName.Recovery, "stock"),
    ];

    private static Phone Facts((FactName Name, string Value)[] known) =>
        Sample.Phone([.. known.Select(fact => Sample.Fact(fact.Name, fact.Value))]);

    private static RouteReport Find(string code, PhoneMode from, PhoneMode to, (FactName Name, string Value)[]? known = null) =>
        Router.Find(Facts(known ?? Nothing), OtherCatalogue.WithAllKeyFamilies.Model(code)!, from, to, OtherCatalogue.WithAllKeyFamilies);

    private static TwinState Twin(PhoneModel model, PhoneMode from, PlannedRoute route) =>
        TwinFactory.In(
            model,
            from,
            new TwinNature
            {
                Unlocked = true,
                Root = "8.2",
                Debugging = true,
                Allowed = [Computer],
                Computer = from == PhoneMode.Charging ? Computer : null,
                CustomRecovery = route.Legs.Any(leg => leg.To == PhoneMode.CustomRecovery) || from == PhoneMode.CustomRecovery,
            }
        );
}
