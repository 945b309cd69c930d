using Junctra.Core;
using Junctra.Core.Boards;
using Junctra.Core.Catalogue;
using Junctra.Core.Insight;
using Junctra.Core.Jobs;
using Junctra.Core.Matching;
using Junctra.Core.Rescue;
using Junctra.Web.Bench;
using Junctra.Web.Bench.Acts;
using Junctra.Web.Drawing;
using Microsoft.AspNetCore.Mvc;

namespace Junctra.Web.Pages.Jobs;

/// <summary>A part of the branch to board rescue.</summary>
public enum RescuePart
{
    /// <summary>Whether it is worth it.</summary>
    Worth,

    /// <summary>Opening, step by step.</summary>
    Open,

    /// <summary>The pad, and the needle on it.</summary>
    Pad,

    /// <summary>Back together.</summary>
    Close,
}

/// <summary>Board rescue: worth it or not, opening, the pad and the needle, back together (specification: section 12 of the job).</summary>
public sealed class RescueModel(
    JobLoader jobs,
    RescueRecord record,
    RescueService rescue,
    ObservationService observations,
    ModelCatalogue catalogue,
    TimeProvider time
) : JobPage(jobs)
{
    public override Station Station => Station.Write;

    /// <summary>The part that somebody wants to see; null for the one that is on.</summary>
    [BindProperty(SupportsGet = true, Name = "part")]
    public string? Wanted { get; set; }

    /// <summary>The side that is up: <c>front</c> or <c>back</c>; null for that of the pad.</summary>
    [BindProperty(SupportsGet = true, Name = "side")]
    public string? SideUp { get; set; }

    /// <summary>Quarter turns with the clock.</summary>
    [BindProperty(SupportsGet = true, Name = "turn")]
    public int Turn { get; set; }

    /// <summary>Line of the pad in the board's file; null for the best one.</summary>
    [BindProperty(SupportsGet = true, Name = "pad")]
    public int? PadLine { get; set; }

    /// <summary>How much nearer than all of the board somebody wants to see it.</summary>
    [BindProperty(SupportsGet = true, Name = "zoom")]
    public int WantedZoom { get; set; }

    /// <summary>How much nearer than all of the board: 0 for all of it, and each step twice as near.</summary>
    public int Zoom => Math.Clamp(WantedZoom, 0, BoardDrawingTagHelper.MaxZoom);

    /// <summary>How it stands; null where nothing is known of its inside.</summary>
    public RescueState? State { get; private set; }

    /// <summary>Whether it is worth it, line by line.</summary>
    public IReadOnlyList<WorthLine> Worth { get; private set; } = [];

    public Verdict Verdict => RescueWorth.Sum(Worth);

    /// <summary>The pads of both sides, the best first.</summary>
    public IReadOnlyList<(BoardSide Side, RankedPad Pad)> Pads { get; private set; } = [];

    /// <summary>The pad that is drawn and told; null where none is.</summary>
    public (BoardSide Side, RankedPad Pad)? Chosen =>
        Pads.Where(one => PadLine is null || one.Pad.Pad.Line == PadLine).Select(one => ((BoardSide, RankedPad)?)one).FirstOrDefault();

    public BoardView View => new(EnumNames.Parse<BoardSide>(SideUp) ?? Chosen?.Side ?? BoardSide.Front, Turn & 3);

    /// <summary>Where the pad lies; null on the other side.</summary>
    public Place? Place =>
        State is { Guide: var guide } && Chosen is { } chosen && chosen.Side == View.Side
            ? new PadPlace(guide.Board, guide.Map, View).Of(chosen.Pad.Pad)
            : null;

    /// <summary>Minutes of a step, as the shop knows them; null where nothing is known of its inside.</summary>
    public RescueMinutes? Minutes { get; private set; }

    /// <summary>The phone's keys; what is held besides has staves of its own.</summary>
    public KeyFamily? Family => Job.Model is { } model ? catalogue.KeyFamilyOf(model) : null;

    /// <summary>Names of the bench's ports.</summary>
    public IReadOnlyList<string> Ports { get; private set; } = [];

    public DateTimeOffset Now => time.GetUtcNow();

    public RescuePart Part =>
        EnumNames.Parse<RescuePart>(Wanted)
        ?? (
            State?.Last is null ? RescuePart.Worth
            : State.Ended is not null ? RescuePart.Close
            : !State.IsDone(RescuePhase.Open) ? RescuePart.Open
            : State.IsBare && !State.ChipAnswers ? RescuePart.Pad
            : RescuePart.Close
        );

    /// <summary>The lengths that screws of this phone have.</summary>
    public IReadOnlyList<double> Lengths => State is null ? [] : [.. State.Guide.Screws.Select(screw => screw.LengthMm).Distinct().Order()];

    protected override async Task PrepareAsync(CancellationToken cancel)
    {
        State = await record.StateOfAsync(Job, cancel);
        Ports = await rescue.PortsAsync(cancel);
        Worth = await rescue.WorthAsync(Job, Who, cancel);
        if (State is not { } state)
            return;
        Minutes = await record.MinutesAsync(state.Guide, Who, cancel);
        Pads =
        [
            .. Enum.GetValues<BoardSide>()
                .SelectMany(side => PadRanking.Of(state.Guide.Board, state.Guide.Map, side).Select(pad => (Side: side, Pad: pad)))
                .OrderByDescending(one => one.Pad.IsOffered)
                .ThenByDescending(one => one.Pad.Safety),
        ];
    }

    /// <summary>A check of the triage that a line asks for; null where the catalogue has none such.</summary>
    public TriageCheck? CheckOf(string id) => catalogue.Triage.Check(id);

    /// <summary>Answers what is not known yet.</summary>
    public async Task<IActionResult> OnPostAnswerAsync(string? check, string? outcome, CancellationToken cancel)
    {
        var result = await observations.AnswerAsync(Job, check, outcome, Who, cancel);
        if (result.Refusal is not { } why)
            return RedirectToPage(new { ticket = Job.Row.Ticket, part = Wanted });
        await ReloadAsync(cancel);
        return Refused(why);
    }

    public Task<IActionResult> OnPostStepAsync(string? step, bool back, CancellationToken cancel) =>
        NoteAsync(back ? new StepTakenBack(step ?? "") : new StepTicked(step ?? ""), cancel);

    public Task<IActionResult> OnPostScrewAsync(string? screw, double? length, CancellationToken cancel) =>
        NoteAsync(length is { } put ? new ScrewIn(screw ?? "", put) : new ScrewOut(screw ?? ""), cancel);

    public Task<IActionResult> OnPostNeedleAsync(int? held, string? heard, string? port, CancellationToken cancel) =>
        EnumNames.Parse<Heard>(heard) is { } known
            ? NoteAsync(new NeedleHeld(held, known, ShownText.Of(port?.Trim() ?? "", 40)), cancel)
            : Task.FromResult(Refused("Say what the computer heard."));

    /// <summary>Reads what the chip says of itself at a port.</summary>
    public async Task<IActionResult> OnPostReadAsync(string? at, CancellationToken cancel)
    {
        var (result, _) = await observations.ReadAsync(
            Job,
            at ?? "",
            "Hold the needle again, and look at which port hears it.",
            Who,
            cancel
        );
        if (result.Refusal is { } why)
            return Refused(why);
        Done = result.Done;
        return To(Station.Plan);
    }

    public Task<IActionResult> OnPostLoaderAsync(bool answered, CancellationToken cancel) => NoteAsync(new LoaderTried(answered), cancel);

    /// <summary>The last attempt was noted by mistake.</summary>
    public Task<IActionResult> OnPostAttemptBackAsync(CancellationToken cancel) => NoteAsync(new AttemptTakenBack(), cancel);

    /// <summary>The rescue is given up, or taken up again.</summary>
    public Task<IActionResult> OnPostGiveUpAsync(bool up, string? why, CancellationToken cancel)
    {
        Wanted = null;
        return NoteAsync(new GivenUp(up, up ? ShownText.Of(why?.Trim() ?? "", 201) : ""), cancel);
    }

    public Task<IActionResult> OnPostRuleAsync(bool changed, string? computer, CancellationToken cancel) =>
        NoteAsync(new DriverRule(changed, ShownText.Of(computer?.Trim() ?? "", 41)), cancel);

    private async Task<IActionResult> NoteAsync(RescueEvent happening, CancellationToken cancel)
    {
        var result = await rescue.NoteAsync(Job, happening, Who, cancel);
        if (result.Refusal is { } why)
            return Refused(why);
        Done = result.Done;
        return RedirectToPage(new { ticket = Job.Row.Ticket, part = Wanted });
    }
}
