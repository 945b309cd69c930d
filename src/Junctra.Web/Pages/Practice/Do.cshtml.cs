using Junctra.Core.Catalogue;
using Junctra.Core.Practice;
using Junctra.Web.Practising;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Practice;

/// <summary>
/// One exercise: hands on the drawn phone, or a question about it. What was done is kept when it is over, and not before.
/// </summary>
public sealed class DoModel(PracticeService practice, ExerciseShelf shelf, ModelCatalogue catalogue, TimeProvider time) : PageModel
{
    private const int MaxHints = 20;
    private static readonly TimeSpan Longest = TimeSpan.FromHours(1);

    [BindProperty(SupportsGet = true, Name = "hand")]
    public string? Hand { get; set; }

    public bool LeftHanded => Hand == "left";

    public Exercise Exercise { get; private set; } = null!;

    public PhoneModel Phone { get; private set; } = null!;

    public KeyFamily Family { get; private set; } = null!;

    /// <summary>Hands, where they are what is practised.</summary>
    public KeyPractice? Keys { get; private set; }

    /// <summary>The question, where one is asked.</summary>
    public PracticeQuestion? Question { get; private set; }

    /// <summary>What can be done on this phone, and the key of the keyboard that does it.</summary>
    public IReadOnlyList<(Stave Stave, string Keyboard, string Says)> Acts => TwinHands.Of(Family, Phone);

    /// <summary>Now, in milliseconds: when a question was first seen.</summary>
    public long Now => time.GetUtcNow().ToUnixTimeMilliseconds();

    /// <summary>Whether it is said where the phone is: not where that is asked.</summary>
    public bool TellsMode => Exercise.Task is not QuestionTask { Asks: Asked.WhichScreen };

    /// <summary>What is to be done, in a sentence.</summary>
    public string Aim => Exercise.Task is KeyTask task ? $"Bring it into {Junctra.Core.Facts.PhoneModes.Label(task.Aim)}." : Question!.Asks;

    public IActionResult OnGet(string id) => Load(id) ? Page() : NotFound();

    /// <summary>What was done so far, replayed.</summary>
    public IActionResult OnPostPlay(string id, [FromBody] Played? played)
    {
        if (!Load(id) || Keys is null)
            return NotFound();
        if (WhyNot(played) is { } whyNot)
            return BadRequest(whyNot);
        var view = Keys.At(TwinHands.Played(played!.Acts, PracticePhone.Computer), played.Hints ?? [], played.Now);
        return new JsonResult(
            new
            {
                screen = TwinHands.Shown(Keys.Twin, view.State),
                mode = Junctra.Core.Facts.PhoneModes.Label(view.State.Mode),
                due = view.DueMs,
                arrived = view.Score.Reached,
                moments = (view.Trial?.Moments ?? []).Select(moment => TwinHands.Said(Family, moment)),
                over = view.Score.IsOver,
            }
        );
    }

    /// <summary>It is over: it is judged once more, and kept.</summary>
    public async Task<IActionResult> OnPostFinishAsync(string id, [FromBody] Played? played, CancellationToken cancel)
    {
        if (!Load(id) || Keys is null)
            return NotFound();
        if (WhyNot(played) is { } whyNot)
            return BadRequest(whyNot);
        var view = Keys.At(TwinHands.Played(played!.Acts, PracticePhone.Computer), played.Hints ?? [], played.Now, hasEnded: true);
        var run = await practice.SaveAsync(User.Identity!.Name!, Exercise, view.Score, played, cancel);
        return new JsonResult(new { url = Url.Page("/Practice/Run", new { id = run }) });
    }

    /// <summary>A question is answered.</summary>
    public async Task<IActionResult> OnPostAnswerAsync(string id, string? answer, long began, CancellationToken cancel)
    {
        if (!Load(id) || Question is null)
            return NotFound();
        var took = Math.Clamp(Now - began, 0, (long)Longest.TotalMilliseconds);
        var score = Question.Score(answer, 0, took);
        var run = await practice.SaveAsync(User.Identity!.Name!, Exercise, score, new { answer }, cancel);
        return RedirectToPage("/Practice/Run", new { id = run });
    }

    private static string? WhyNot(Played? played) =>
        TwinHands.WhyNot(played?.Acts, played?.Now ?? -1)
        ?? (
            played!.Hints is { } hints && (hints.Count > MaxHints || hints.Any(at => at < 0))
                ? $"At most {MaxHints} hints, none before the first act."
                : null
        );

    private bool Load(string id)
    {
        if (shelf.Find(id) is not { } exercise || catalogue.Model(exercise.Phone.ModelCode) is not { } model)
            return false;
        (Exercise, Phone, Family) = (exercise, model, catalogue.KeyFamilyOf(model));
        if (exercise.Task is KeyTask)
            Keys = new KeyPractice(exercise, catalogue);
        else
            Question = PracticeQuestion.Of(exercise, catalogue);
        return true;
    }

    /// <summary>What the browser sends.</summary>
    /// <param name="Acts">Acts so far.</param>
    /// <param name="Now">Milliseconds since the first.</param>
    /// <param name="Hints">When hints were asked for.</param>
    public sealed record Played(IReadOnlyList<HandsAct> Acts, long Now, IReadOnlyList<long>? Hints);
}
