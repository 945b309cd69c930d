using System.Globalization;
using System.Text;

namespace Junctra.Core.Twin;

/// <summary>Prints what happened to a phone, a line for each event and for each change of its screen.</summary>
public static class TwinPrint
{
    /// <summary>Replays events and prints them with what the phone did.</summary>
    /// <param name="twin">The phone's model.</param>
    /// <param name="start">The phone before.</param>
    /// <param name="events">What happened to it.</param>
    public static string Run(PhoneTwin twin, TwinState start, IEnumerable<TwinEvent> events)
    {
        var text = new StringBuilder();
        Line(start.NowMs, $"{twin.Model.Code} {start.Serial}: {Shows(twin, start)}");
        var state = start;
        foreach (var happening in events)
        {
            var next = twin.Next(state, happening);
            if (Words(happening) is { } words)
                Line(state.NowMs, words);
            if (next.Stage != state.Stage || next.Message != state.Message)
                Line(next.NowMs, "  " + Shows(twin, next));
            state = next;
        }

        return text.ToString();

        void Line(long milliseconds, string words) =>
            text.Append(CultureInfo.InvariantCulture, $"{milliseconds / 1000.0, 10:0.000} s  ").Append(words).Append('\n');
    }

    /// <summary>An event in words; null for time alone.</summary>
    public static string? Words(TwinEvent happening) =>
        happening switch
        {
            KeyDown down => $"{down.Key} down",
            KeyUp up => $"{up.Key} up",
            CableIn { Computer: { } computer } => $"cable in, to {computer}",
            CableIn => "cable in, to a charger",
            CableOut => "cable out",
            BatteryOut => "battery out",
            BatteryIn => "battery in",
            PowerGone => "the cell is flat",
            ForcedRestart => "a restart in the middle",
            Choose choose => $"touch {choose.Entry}",
            Command command => $"command {command.Id}",
            WritePart write => $"write {write.Partition}: {write.Part.Content}",
            ErasePart erase => $"erase {erase.Partition}",
            WriteLayout layout => $"write a layout of {layout.Sizes.Count} partitions",
            RestoreData restored => $"restore the data of {restored.Data.Build}",
            HoldNeedle { On: NeedleOn.Wanted } => "needle on the pad",
            HoldNeedle { On: NeedleOn.Elsewhere } => "needle beside the pad",
            HoldNeedle => "needle on a supply",
            SupplyLoader loader => $"loader for revisions up to {loader.HighestRevision}",
            CardPutIn card => $"card in, {card.Files.Count} files",
            CardTakenOut => "card out",
            _ => null,
        };

    private static string Shows(PhoneTwin twin, TwinState state)
    {
        var screen = twin.ScreenOf(state);
        return $"[{state.Stage.ToString()}] {string.Join(" · ", new[] { screen.Title.Length > 0 ? screen.Title : screen.Picture }.Concat(screen.Lines))}";
    }
}
