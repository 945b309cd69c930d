using Junctra.Core.Facts;
using Junctra.Core.Plans;

namespace Junctra.Core.Runs;

// What a run says of the phone, in words.
public sealed partial record RunState
{
    /// <summary>What state the phone is in, by what it accepted, in words.</summary>
    public string PhoneNow
    {
        get
        {
            if (!HasTouchedPhone)
                return "Nothing was written: the phone is as it came.";
            if (Status == RunStatus.Finished)
                return Plan.Writes ? "Everything was accepted; the phone restarts into stock." : "All of it is done; the phone restarts.";
            var touches = Plan.Steps.SelectMany(step => step.Act.Touches).ToList();
            var wanted = touches.Where(touch => !touch.Erases).Select(touch => touch.Partition).ToList();
            var open =
                At is { } partition && wanted.Contains(partition) && !Accepted.ContainsKey(partition) && Pieces.Asked > 0
                    ? partition
                    : null;
            var pieces = Pieces.Of > 1 ? $" ({Pieces.Accepted} of {Pieces.Of} pieces accepted)" : "";
            var missing = wanted.Where(name => !Accepted.ContainsKey(name) && name != open).ToList();
            var erases = touches.Where(touch => touch.Erases).Select(touch => touch.Partition).ToList();
            return string.Join(
                " ",
                new[]
                {
                    wanted.Count == 0 ? null
                    : Accepted.Count > 0 ? $"Accepted whole: {string.Join(", ", wanted.Where(Accepted.ContainsKey))}."
                    : "No image was accepted whole.",
                    open is null ? null : $"{(IsInDoubt ? "Perhaps half written" : "Written in part")}: {open}{pieces}.",
                    missing.Count > 0 ? $"Not begun: {string.Join(", ", missing)}." : null,
                    erases.Count == 0 || erases.All(Erased.Contains) ? null
                    // The order went out, and no answer came back: the phone may have carried it out all the same.
                    : erases.Any(Touched.Contains) ? "Perhaps erased: the user data. The phone was told to, and never said that it had."
                    : "The user data was not erased.",
                    HasAskedLock ? "Its lock may have changed: read it anew." : null,
                }.Where(part => part is not null)
            );
        }
    }

    /// <summary>What the phone's screen should show now.</summary>
    public string ScreenNow =>
        Status == RunStatus.Finished
            ? Plan.StartsThePhone
                ? Plan.ErasesData
                    ? "The maker's picture, then the set-up"
                    : "The maker's picture, then the lock screen"
                : "What it showed before"
            : Step?.Act.Words.Shows
                ?? PhoneScreens.Of(Plan.Steps.Select(step => step.Act.In).FirstOrDefault(mode => mode is not null) ?? PhoneMode.Fastboot);
}
