using Junctra.Core.Facts;

namespace Junctra.Core.Runs;

/// <summary>
/// What the port of a run hears while hands are at work, in a sentence: the wrong phone and a mode that idles are named as such.
/// </summary>
/// <param name="IsOther">Whether another phone is there, with which nothing may be done.</param>
/// <param name="Words">The sentence.</param>
public sealed record Hearing(bool IsOther, string Words)
{
    /// <summary>Puts into words what is heard.</summary>
    /// <param name="port">Name of the port.</param>
    /// <param name="serial">Serial of the job's phone; null where nobody has read it.</param>
    /// <param name="wanted">The mode that hands are to bring; null where they bring none that a link can tell.</param>
    /// <param name="heard">Mode and serial as the phone at the port tells them; null where none answers.</param>
    /// <param name="listed">How many phones the computer lists there; null where nobody can ask it.</param>
    public static Hearing Of(string port, string? serial, PhoneMode? wanted, (PhoneMode Mode, string? Serial)? heard, int? listed)
    {
        var more = listed > 1 ? $" The computer lists {listed} phones there: they are told apart by serial, never by place." : "";
        if (heard is not { } phone)
            return new(
                false,
                (
                    listed == 1 ? $"Port {port}: a phone is listed and does not answer yet."
                    : wanted == PhoneMode.Download
                        ? $"Port {port} hears nothing yet. The warning screen is not download mode: it is answered by its key first."
                    : $"Port {port} hears nothing yet."
                ) + more
            );
        if (serial is not null && phone.Serial is not null && !string.Equals(serial, phone.Serial, StringComparison.OrdinalIgnoreCase))
            return new(
                true,
                $"Port {port} hears another phone: serial {phone.Serial}, and this job’s is {serial}. Nothing is done with it. Put the right one there.{more}"
            );
        var isTold = phone.Serial is not null && serial is not null;
        var who = isTold ? "this phone" : "a phone, and whether it is this job’s cannot be told,";
        if (phone.Mode == wanted)
            return new(
                false,
                isTold
                    ? $"Port {port} hears this phone in {phone.Mode.Label()}: the run goes on by itself.{more}"
                    : $"Port {port} hears {who} in {phone.Mode.Label()}. Look at it, and press what it shows.{more}"
            );
        var idles = phone.Mode == PhoneMode.Download ? " It idles there: nothing is being written, though “do not unplug” shows." : "";
        return new(
            false,
            $"Port {port} hears {who} in {phone.Mode.Label()}{(wanted is { } mode ? $", not yet in {mode.Label()}" : "")}.{idles}{more}"
        );
    }
}
