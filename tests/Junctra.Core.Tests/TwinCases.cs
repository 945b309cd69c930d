using Junctra.Core.Facts;
using Junctra.Core.Twin;
using Junctra.Testing;

namespace Junctra.Core.Tests;

/// <summary>Twins as tests begin with them, and what is done to them again and again.</summary>
internal static class TwinCases
{
    public const string Computer = "bench 1";
    public static readonly TwinPart Custom = new("custom", SoftwareKind.Custom) { Build = "custom-2.1", Os = 14 };

    public static PhoneTwin Of(string code) => new(Repo.Catalogue.Model(code)!, Repo.Catalogue);

    public static TwinState Born(string code, PhoneMode mode, TwinNature? nature = null) =>
        TwinFactory.In(Repo.Catalogue.Model(code)!, mode, nature ?? new TwinNature());

    public static TwinState Rest(PhoneTwin twin, TwinState state) => twin.Run(state, Hands.UntilRest(twin, state));

    public static TwinState Seconds(PhoneTwin twin, TwinState state, double seconds) =>
        twin.Next(state, new TimePasses((long)(seconds * 1000)));

    public static TwinState Start(PhoneTwin twin, TwinState state)
    {
        state = twin.Next(state, new KeyDown("power"));
        state = twin.Next(Seconds(twin, state, 1.6), new KeyUp("power"));
        return Rest(twin, state);
    }

    /// <summary>Moves to an entry of a menu that has keys, and selects it.</summary>
    public static TwinState Choose(PhoneTwin twin, TwinState state, string label)
    {
        var entries = twin.ScreenOf(state).Entries;
        var at = entries.ToList().FindIndex(entry => entry.Label == label);
        Assert.True(at >= 0, $"“{label}” is not among {string.Join(", ", entries.Select(entry => entry.Label))}");
        for (var i = 0; i < at; i++)
            state = twin.Run(state, [new KeyDown("volume-down"), new TimePasses(100), new KeyUp("volume-down")]);
        var select = twin.Family.Behaviour.SelectKey;
        return twin.Run(state, [new KeyDown(select), new TimePasses(100), new KeyUp(select)]);
    }
}
