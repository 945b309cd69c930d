using Junctra.Core.Catalogue;

namespace Junctra.Core.Rescue;

// What cannot have happened now, in one place.
public sealed partial class RescueState
{
    /// <summary>Why something cannot have happened now; null where it can.</summary>
    /// <param name="happening">What somebody says that happened.</param>
    /// <param name="now">Now.</param>
    /// <param name="bounds">What the rest of the job allows.</param>
    public string? WhyNot(RescueEvent happening, DateTimeOffset now, RescueBounds bounds)
    {
        if (!IsBegun && bounds.WhyNotOpen is { } notOpened && happening is not DriverRule)
            return notOpened;
        switch (happening)
        {
            case StepTicked { Step: var id }:
                if (Guide.Step(id) is not { } step)
                    return "There is no such step.";
                if (done.ContainsKey(id))
                    return $"“{step.Title}” is ticked already.";
                if (!IsNeeded(step))
                    return step.PutsScrewsIn
                        ? $"“{step.Title}” is not needed: so far it was not opened."
                        : $"{Ended} Put it back together.";
                if (Next is { } next && next.Id != id)
                    return Guide.Steps.SkipWhile(one => one.Id != next.Id).TakeWhile(one => one.Id != id).Any(one => one.Disconnects)
                        ? "Battery connector first. Nothing else is offered before that is ticked."
                        : $"“{next.Title}” comes first.";
                if (step.Phase == RescuePhase.CloseUp && !bounds.HasPassed && Ended is null)
                    return "It is closed up once its checks hold, or once it is given up; until then the few screws are enough.";
                if (
                    step.Screws.Select(Guide.Screw).OfType<Screw>().Where(screw => IsOut(screw) == step.PutsScrewsIn).ToList() is
                    { Count: > 0 } open
                )
                    return $"Screws that are not ticked {(step.PutsScrewsIn ? "in" : "out")}: {string.Join(", ", open.Select(screw => screw.Id))}.";
                return step.PutsScrewsIn && Wrong is [var odd, ..] ? odd.Words : null;
            case StepTakenBack { Step: var id }:
                return Guide.Step(id) is { } taken && done.ContainsKey(id)
                    ? Ended is { } ended && !taken.PutsScrewsIn
                        ? $"{ended} What was opened is put back by the steps that close it."
                        : Guide.Steps.SkipWhile(one => one != taken).Skip(1).Any(one => done.ContainsKey(one.Id))
                            ? "Only the last step that was ticked can be taken back."
                            : null
                    : "It is not ticked.";
            case ScrewOut { Screw: var id }:
                if (Guide.Screw(id) is not { } screwOut)
                    return "There is no such screw.";
                // One that went in wrong comes out again at any time.
                return wrong.ContainsKey(id) ? null
                    : IsOut(screwOut) ? $"{id} is out already."
                    : Next is { Phase: RescuePhase.Open } now_ && now_.Screws.Contains(id) ? null
                    : $"{id} comes out at another step.";
            case ScrewIn { Screw: var id, LengthMm: var length }:
                return Guide.Screw(id) is not { } screwIn ? "There is no such screw."
                    : Guide.Screws.All(known => Math.Abs(known.LengthMm - length) > 0.05) ? "No screw of this phone has that length."
                    : !IsOut(screwIn) ? $"{id} is in already."
                    : Next is { PutsScrewsIn: true } closing && closing.Screws.Contains(id) ? null
                    : $"{id} goes in at another step.";
            case NeedleHeld:
                return Ended is { } over ? $"{over} Put it back together."
                    : !IsBare ? "The pad is reached once the opening is done, and before it is closed."
                    : RestsUntil(now) is { } until
                        ? FormattableString.Invariant($"Let the contact rest {Math.Ceiling((until - now).TotalSeconds):0} s more.")
                    : null;
            case LoaderTried:
                return Ended is { } noMore ? $"{noMore} Put it back together."
                    : ChipAnswers ? null
                    : "No port of the chip is heard: the needle comes first.";
            case AttemptTakenBack:
                return attempts.Count > 0 ? null : "Nothing was tried yet.";
            case GivenUp { Up: true, Why: var reason }:
                return !IsBegun ? "Nothing was begun: there is nothing to give up."
                    : IsGivenUp ? "It is given up already."
                    : bounds.IsRunning ? "A run waits for this phone. End it first, on its page."
                    : reason.Trim().Length is < 3 or > 200 ? "Say why, in 3 to 200 characters."
                    : null;
            case GivenUp:
                return !IsGivenUp ? "It was not given up."
                    : Guide.Steps.Any(step => step.PutsScrewsIn && done.ContainsKey(step.Id))
                        ? "It is being put back together: take those steps back first."
                    : null;
            case DriverRule { Computer: var computer, Changed: var changed }:
                return computer.Trim().Length is < 1 or > 40 ? "Say which computer, in at most 40 characters."
                    : changed == ruleChangedOn.Contains(computer)
                        ? (changed ? "It is noted as changed there already." : "It was not changed there.")
                    : null;
            default:
                return null;
        }
    }
}
