using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
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

    /// <summary>The whole job, where one is practised.</summary>
    public JobPractice? Job { get; private set; }

    /// <summary>The phone, to be held.</summary>
    public HoldModel Hold => new(Phone, Family, LeftHanded);

    /// <summary>Now, in milliseconds: when a question was first seen.</summary>
    public long Now => time.GetUtcNow().ToUnixTimeMilliseconds();

    /// <summary>Whether it is said where the phone is: not where that is asked.</summary>
    public bool TellsMode => Exercise.Task is not QuestionTask { Asks: Asked.WhichScreen };

    /// <summary>What is to be done, in a sentence.</summary>
    public string Aim =>
        Exercise.Task switch
        {
            KeyTask task => $"Bring it into {task.Aim.Label()}.",
            JobTask => "Take it through, from what is wrong with it to its hand-back.",
            _ => Question!.Asks,
        };

    public IActionResult OnGet(string id) => Load(id) ? Page() : NotFound();

    /// <summary>What was done so far, replayed.</summary>
    public IActionResult OnPostPlay(string id, [FromBody] PartSent? played)
    {
        if (!Load(id) || Keys is null)
            return NotFound();
        if ((played ?? new PartSent { Now = -1 }).WhyNot() is { } whyNot)
            return BadRequest(whyNot);
        return new JsonResult(JobModel.MomentOf(new JobPart(JobStage.Route, []) { Keys = Keys }, played!, played!.Now, catalogue));
    }

    /// <summary>It is over: it is judged once more, and kept.</summary>
    public async Task<IActionResult> OnPostFinishAsync(string id, [FromBody] PartSent? played, CancellationToken cancel)
    {
        if (!Load(id) || Keys is null)
            return NotFound();
        if ((played ?? new PartSent { Now = -1 }).WhyNot() is { } whyNot)
            return BadRequest(whyNot);
        var view = Keys.At(
            TwinHands.Played(played!.Acts, PracticePhone.Computer, Keys.Start.Card),
            played.Hints ?? [],
            played.Now,
            hasEnded: true
        );
        var run = await practice.SaveAsync(User.Identity!.Name!, Exercise, view.Score, played, cancel);
        return new JsonResult(new { url = Url.Page("/Practice/Run", new { id = run }) });
    }

    /// <summary>A question is answered.</summary>
    public async Task<IActionResult> OnPostAnswerAsync(string id, string? answer, long began, int hints, CancellationToken cancel)
    {
        if (!Load(id) || Question is null)
            return NotFound();
        var took = Math.Clamp(Now - began, 0, (long)Longest.TotalMilliseconds);
        var score = Question.Score(answer, Question.Hint is null ? 0 : Math.Clamp(hints, 0, 1), took);
        var run = await practice.SaveAsync(User.Identity!.Name!, Exercise, score, new PartSent { Answers = [answer], Now = took }, cancel);
        return RedirectToPage("/Practice/Run", new { id = run });
    }

    /// <summary>A whole job is begun, or gone on with.</summary>
    public async Task<IActionResult> OnPostBeginAsync(string id, CancellationToken cancel)
    {
        if (!Load(id) || Job is null)
            return NotFound();
        return RedirectToPage("/Practice/Job", new { id = await practice.BeginAsync(User.Identity!.Name!, Exercise, cancel) });
    }

    private bool Load(string id)
    {
        if (shelf.Find(id) is not { } exercise || catalogue.Model(exercise.Phone.ModelCode) is not { } model)
            return false;
        (Exercise, Phone, Family) = (exercise, model, catalogue.KeyFamilyOf(model));
        if (exercise.Task is KeyTask)
            Keys = new KeyPractice(exercise, catalogue);
        else if (exercise.Task is JobTask)
            Job = shelf.JobOf(exercise);
        else
            Question = PracticeQuestion.Of(exercise, catalogue);
        return exercise.Task is not JobTask || Job is not null;
    }
}
