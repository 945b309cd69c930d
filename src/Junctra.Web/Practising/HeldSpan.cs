using Junctra.Core.Practice;

namespace Junctra.Web.Practising;

/// <summary>A key that was really held, or a plug that was in, beside the score that asked for it.</summary>
/// <param name="Stave">The key.</param>
/// <param name="From">When it went down, in seconds of the score.</param>
/// <param name="To">When it was let go.</param>
public sealed record HeldSpan(string Stave, double From, double To)
{
    /// <summary>What was held in an exercise of keys since its score was last begun.</summary>
    public static IReadOnlyList<HeldSpan> Of(KeyPractice keys, PartSent done)
    {
        var acts = done.Acts.Where(act => act.Stave is not null).OrderBy(act => act.At).ToList();
        var view = keys.At(
            TwinHands.Played(done.Acts, PracticePhone.Computer, keys.Start.Card),
            done.Hints ?? [],
            done.Now,
            hasEnded: true
        );
        // The moments of the trial count from where the score was begun the last time.
        var began = view.AttemptMs;
        return
        [
            .. acts.Where(act => act.Down && act.At >= began)
                .Select(act => new HeldSpan(
                    act.Stave!,
                    (act.At - began) / 1000.0,
                    (
                        act.Stave == Junctra.Core.Catalogue.Stave.Screen
                            ? act.At
                            : acts.Find(later => later.Stave == act.Stave && !later.Down && later.At >= act.At)?.At ?? done.Now
                    ) / 1000.0
                        - began / 1000.0
                )),
        ];
    }
}
