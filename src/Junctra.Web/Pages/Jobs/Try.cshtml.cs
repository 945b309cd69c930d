using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Twin;
using Junctra.Web.Bench;
using Junctra.Web.Practising;
using Junctra.Web.Staff;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>
/// One score, tried on the twin of a job's phone: keys held here, answers of the twin, and where a press was early or late.
/// </summary>
public sealed class TryModel(JobLoader jobs, RouteService desk, ModelCatalogue catalogue) : JobPage(jobs)
{
    private const string Computer = "this computer";

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
        Acts = TwinHands.Of(Family, model);
        return Task.CompletedTask;
    }

    public IActionResult OnGet() => Way is null ? NotFound() : Page();

    /// <summary>What was done so far, replayed.</summary>
    public IActionResult OnPostPlay([FromBody] Trial? trial)
    {
        if (Way is not { } way || Family is null || Job.Model is not { } model)
            return NotFound();
        if (TwinHands.WhyNot(trial?.Acts, trial?.Now ?? -1) is { } whyNot)
            return BadRequest(whyNot);
        var twin = new PhoneTwin(model, catalogue);
        var start = TwinFactory.Of(Job.Phone, model, way.From, Computer);
        // What the score asks for before it begins is done: the cable lies as it should.
        if (way.Score.Cable == CableAtStart.Out && start.Cable != CableTo.Nothing)
            start = twin.Run(start, [new CableOut(), new TimePasses(2000)]);
        if (way.Score.Cable == CableAtStart.Computer && start.Cable != CableTo.Computer)
            start = twin.Run(start, [new CableOut(), new CableIn(Computer), new TimePasses(3000)]);
        var view = ScoreTrial.At(twin, start, way, TwinHands.Played(trial!.Acts, Computer), trial.Now);
        return new JsonResult(
            new
            {
                screen = TwinHands.Shown(twin, view.State),
                mode = view.State.Mode.Label(),
                down = view.State.Keys.Keys,
                cable = view.State.Cable != CableTo.Nothing,
                battery = view.State.BatteryIn,
                due = view.DueMs,
                arrived = view.Arrived,
                marks = view.SeenMs,
                moments = view.Moments.Select(moment => TwinHands.Said(Family, moment)),
            }
        );
    }

    /// <summary>What the browser sends.</summary>
    /// <param name="Acts">Acts so far.</param>
    /// <param name="Now">Milliseconds since the first.</param>
    public sealed record Trial(IReadOnlyList<HandsAct> Acts, long Now);
}
