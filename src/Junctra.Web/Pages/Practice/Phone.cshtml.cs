using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Practice;
using Junctra.Core.Twin;
using Junctra.Web.Practising;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Practice;

/// <summary>A phone of any model to try things on, with no aim and no score: what happens if. Nothing of it is kept.</summary>
public sealed class PhonePageModel(ModelCatalogue catalogue) : PageModel
{
    private const string Charge = "64";

    [BindProperty(SupportsGet = true, Name = "model")]
    public string? Code { get; set; }

    [BindProperty(SupportsGet = true, Name = "mode")]
    public string? ModeId { get; set; }

    [BindProperty(SupportsGet = true, Name = "lock")]
    public string? Lock { get; set; }

    [BindProperty(SupportsGet = true, Name = "hand")]
    public string? Hand { get; set; }

    public IEnumerable<PhoneModel> Models => catalogue.Models;

    /// <summary>The modes in which such a phone can lie there.</summary>
    public static IEnumerable<PhoneMode> Modes =>
        Enum.GetValues<PhoneMode>().Where(mode => mode.Standing() is not null || mode == PhoneMode.BootLoop);

    public PhoneModel Phone => catalogue.Model(Code) ?? catalogue.Models.First();

    public PhoneMode Mode => PhoneModes.Parse(ModeId) is { } mode && Modes.Contains(mode) ? mode : PhoneMode.Off;

    public bool IsUnlocked => Lock == FactName.LockState.Write(LockState.Unlocked);

    public TwinState Start =>
        new PracticePhone(
            Phone.Code,
            Mode,
            new Dictionary<FactName, string>
            {
                [FactName.BatteryPercent] = Charge,
                [FactName.LockState] = FactName.LockState.Write(IsUnlocked ? LockState.Unlocked : LockState.Locked),
            }
        ).Start(Phone);

    /// <summary>The phone, to be held.</summary>
    public HoldModel Hold =>
        new(Phone, catalogue.KeyFamilyOf(Phone), Hand == "left")
        {
            Commands = catalogue.CommonWays.Commands,
            Query = $"model={Phone.Code}&mode={Mode.Id()}&lock={(IsUnlocked ? FactName.LockState.Write(LockState.Unlocked) : "")}&",
        };

    public void OnGet() { }

    /// <summary>What was done so far, replayed.</summary>
    public IActionResult OnPostPlay([FromBody] PartSent? played)
    {
        if ((played ?? new PartSent { Now = -1 }).WhyNot() is { } whyNot)
            return BadRequest(whyNot);
        var (twin, start) = (new PhoneTwin(Phone, catalogue), Start);
        var state = TwinPlay.Through(twin, start, TwinHands.Played(played!.Acts, PracticePhone.Computer, start.Card), played.Now, _ => { });
        // What nobody brings back is said, and costs nothing here.
        var harm = Irreversible.Between(start, state);
        return new JsonResult(
            new
            {
                screen = TwinHands.Shown(twin, state),
                mode = state.Mode.Label(),
                list = TwinHands.Listed(state, PhoneMode.Unknown, catalogue),
                due = twin.NextDueMs(state),
                arrived = false,
                moments = harm is null
                    ? []
                    : new[]
                    {
                        new
                        {
                            says = harm.Cost,
                            off = harm.Rule,
                            verdict = "missed",
                        },
                    },
                over = false,
            }
        );
    }
}
