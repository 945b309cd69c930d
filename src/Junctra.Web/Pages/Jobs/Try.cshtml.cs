using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Twin;
using Junctra.Web.Bench;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>
/// One score, tried on the twin of a job's phone: keys held here, answers of the twin, and where a press was early or late.
/// </summary>
public sealed class TryModel(JobLoader jobs, RouteService desk, ModelCatalogue catalogue) : JobPage(jobs)
{
    private const string Computer = "this computer";
    private const int MaxActs = 400;
    private const long MaxMilliseconds = 10 * 60 * 1000;

    public override Station Station => Station.Route;

    // Nothing is changed by trying: whoever may look may try.
    public override string ActsBy => Policies.Anyone;

    [BindProperty(SupportsGet = true, Name = "way")]
    public string? WayId { get; set; }

    [BindProperty(SupportsGet = true, Name = "from")]
    public string? FromId { get; set; }

    [BindProperty(SupportsGet = true, Name = "hand")]
    public string? Hand { get; set; }

    public bool LeftHanded => Hand == "left";

    public Way? Way { get; private set; }

    public KeyFamily? Family { get; private set; }

    /// <summary>What can be done on this phone, and the key of the keyboard that does it.</summary>
    public IReadOnlyList<(Stave Stave, string Keyboard, string Says)> Acts { get; private set; } = [];

    protected override Task PrepareAsync(CancellationToken cancel)
    {
        if (Job.Model is not { } model || PhoneModes.Parse(FromId) is not { } from || WayId is null)
            return Task.CompletedTask;
        Way = desk.WayOf(Job, from, WayId);
        Family = catalogue.KeyFamilyOf(model);
        Acts =
        [
            .. Family
                .Staves.Where(stave => stave.Id != Stave.Battery || model.BatteryOut)
                .Select(stave => (stave, Keyboard(stave.Id), KeyboardName(stave.Id))),
        ];
        return Task.CompletedTask;
    }

    public IActionResult OnGet() => Way is null ? NotFound() : Page();

    /// <summary>What was done so far, replayed.</summary>
    public IActionResult OnPostPlay([FromBody] Trial? trial)
    {
        if (Way is not { } way || Family is null || Job.Model is not { } model)
            return NotFound();
        if (
            trial?.Acts is null
            || trial.Acts.Count > MaxActs
            || trial.Now is < 0 or > MaxMilliseconds
            || trial.Acts.Any(act => act is null or { At: < 0 or > MaxMilliseconds })
        )
            return BadRequest($"At most {MaxActs} acts in {MaxMilliseconds / 60_000} minutes.");
        var twin = new PhoneTwin(model, catalogue);
        var start = TwinFactory.Of(Job.Phone, model, way.From, Computer);
        // What the score asks for before it begins is done: the cable lies as it should.
        if (way.Score.Cable == CableAtStart.Out && start.Cable != CableTo.Nothing)
            start = twin.Run(start, [new CableOut(), new TimePasses(2000)]);
        if (way.Score.Cable == CableAtStart.Computer && start.Cable != CableTo.Computer)
            start = twin.Run(start, [new CableOut(), new CableIn(Computer), new TimePasses(3000)]);
        var acts = trial
            .Acts.Select(act => (act.At, Happening: EventOf(act)))
            .Where(act => act.Happening is not null)
            .Select(act => new TrialAct(act.At, act.Happening!))
            .ToList();
        var view = ScoreTrial.At(twin, start, way, acts, trial.Now);
        var screen = twin.ScreenOf(view.State);
        return new JsonResult(
            new
            {
                screen = new
                {
                    title = screen.Title,
                    lines = screen.Lines,
                    picture = screen.Picture,
                    marked = screen.Marked,
                    entries = screen.Entries.Select(entry => new { id = entry.Id, label = entry.Label }),
                },
                mode = view.State.Mode.Label(),
                down = view.State.Keys.Keys,
                cable = view.State.Cable != CableTo.Nothing,
                battery = view.State.BatteryIn,
                due = view.DueMs,
                arrived = view.Arrived,
                marks = view.SeenMs,
                moments = view.Moments.Select(moment => new
                {
                    says = $"{Family.StaveOf(moment.Bar.StaveId).Name} {Verb(moment)}",
                    off = OffWords(moment),
                    verdict = moment.Verdict.ToString().ToLowerInvariant(),
                }),
            }
        );
    }

    private static string Verb(JudgedMoment moment) =>
        moment.Bar.StaveId switch
        {
            Stave.Cable or Stave.Battery => moment.IsPress == (moment.Bar.StaveId == Stave.Cable) ? "in" : "out",
            Stave.Screen => "touched",
            _ => moment.IsPress ? "pressed" : "let go",
        };

    private static string OffWords(JudgedMoment moment) =>
        Math.Abs(moment.OffSeconds) < 0.15
            ? "on the beat"
            : string.Create(
                System.Globalization.CultureInfo.InvariantCulture,
                $"{Math.Abs(moment.OffSeconds):0.0} s {(moment.OffSeconds < 0 ? "early" : "late")}"
            );

    private static TwinEvent? EventOf(TrialEvent act) =>
        (act.Stave, act.Down) switch
        {
            (Stave.Cable, true) => new CableIn(Computer),
            (Stave.Cable, false) => new CableOut(),
            (Stave.Battery, true) => new BatteryOut(),
            (Stave.Battery, false) => new BatteryIn(),
            (Stave.Screen, true) => new Choose(act.Does ?? ""),
            (null or "" or Stave.Screen or Stave.Computer, _) => null,
            (var key, true) => new KeyDown(key),
            (var key, false) => new KeyUp(key),
        };

    private static string Keyboard(string stave) =>
        stave switch
        {
            "volume-up" => "ArrowUp",
            "volume-down" => "ArrowDown",
            "home" => "h",
            "power" => "p",
            Stave.Cable => "c",
            Stave.Battery => "b",
            _ => stave[..1],
        };

    private static string KeyboardName(string stave) =>
        Keyboard(stave) switch
        {
            "ArrowUp" => "↑",
            "ArrowDown" => "↓",
            var key => key,
        };

    /// <summary>What the browser sends.</summary>
    /// <param name="Acts">Acts so far.</param>
    /// <param name="Now">Milliseconds since the first.</param>
    public sealed record Trial(IReadOnlyList<TrialEvent> Acts, long Now);

    /// <summary>One act.</summary>
    /// <param name="At">Milliseconds since the trial began.</param>
    /// <param name="Stave">What was acted on.</param>
    /// <param name="Down">Pressed, plugged in or taken out; else let go.</param>
    /// <param name="Does">The menu entry, for a touch.</param>
    public sealed record TrialEvent(long At, string? Stave, bool Down, string? Does);
}
