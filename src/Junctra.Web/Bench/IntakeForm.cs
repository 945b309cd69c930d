using System.ComponentModel.DataAnnotations;
using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Jobs;
using Junctra.Core.Phones;
using Junctra.Core.Triage;
using Junctra.Store;
using Junctra.Web.Drawing;
using Microsoft.AspNetCore.Mvc.ModelBinding;

namespace Junctra.Web.Bench;

/// <summary>
/// What is asked at the counter. Everything but the ticket and the complaint may stay open; what can be derived is not asked.
/// </summary>
public sealed class IntakeForm
{
    [Required(ErrorMessage = "Every phone needs a ticket.")]
    [RegularExpression("[A-Za-z0-9-]{1,20}", ErrorMessage = "A ticket is letters, digits and hyphens, 20 at most.")]
    public string Ticket
    {
        get;
        set => field = TicketCode.Read(value);
    } = "";

    [Required(ErrorMessage = "Say how to tell the phone from others: colour, case, marks.")]
    [StringLength(200, ErrorMessage = "200 characters at most.")]
    public string Description { get; set; } = "";

    [Required(ErrorMessage = "Say what is wrong, in the customer's words.")]
    [StringLength(2000, ErrorMessage = "2000 characters at most.")]
    public string Complaint { get; set; } = "";

    [StringLength(CodeReading.MaxCharacters, ErrorMessage = "No label is that long.")]
    public string? Code { get; set; }

    public FactSource CodeSource { get; set; } = FactSource.Label;

    /// <summary>Whether a code that means nothing is kept as a claim, and the phone taken in without one.</summary>
    public bool KeepUnread { get; set; }

    /// <summary>Answers to the checks that are asked at the counter: outcome ids by check id; empty where nobody knows.</summary>
    public Dictionary<string, string?> Said { get; set; } = [];

    public CellState Cell { get; set; }

    /// <summary>Charge in percent as the screen shows it, or empty.</summary>
    [StringLength(10, ErrorMessage = "Whole percent, 0 to 100.")]
    public string? Battery { get; set; }

    [StringLength(400, ErrorMessage = "400 characters at most.")]
    public string? Accessories { get; set; }

    public DataWish DataWish { get; set; }

    /// <summary>When it is promised, as typed; see <see cref="PromiseText"/>.</summary>
    [StringLength(40, ErrorMessage = "Write a time such as 16:40.")]
    public string? Promised { get; set; }

    /// <summary>Whether the customer stands there until it is ready.</summary>
    public bool Waits { get; set; }

    public bool OwnershipStated { get; set; }

    /// <summary>Ids of what the customer agrees to.</summary>
    public List<string> Agreed { get; set; } = [];

    /// <summary>Who agreed, and how.</summary>
    [StringLength(120, ErrorMessage = "120 characters at most.")]
    public string? AgreedBy { get; set; }

    /// <summary>Row version of the job when the form was shown; 0 for a new one.</summary>
    public uint Version { get; set; }

    /// <summary>Sources that a person can have read something from.</summary>
    public static IReadOnlyList<FactSource> Sources { get; } =
    [FactSource.Label, FactSource.Settings, FactSource.BootloaderScreen, FactSource.CustomSystem, FactSource.Logbook, FactSource.Customer];

    /// <summary>The form as a job's row stands.</summary>
    public static IntakeForm Of(JobRow row, DateTimeOffset now) =>
        new()
        {
            Ticket = row.Ticket,
            Description = row.Description,
            Complaint = row.Complaint,
            DataWish = row.DataWish,
            Promised = row.PromisedAt is { } promised ? PromiseText.Of(promised, now) : null,
            Waits = row.Promises is [.., { Waits: true }],
            OwnershipStated = row.OwnershipStated,
            Cell = row.Cell,
            Accessories = row.Accessories,
            Version = row.Version,
        };

    /// <summary>Reads the typed code; what is wrong with it goes to the form's errors.</summary>
    public CodeReading ReadCode(ModelCatalogue catalogue, ModelStateDictionary errors)
    {
        var reading = CodeReading.Read(Code, catalogue);
        // Only Junctra itself reads over the link; nobody can type that.
        if (!Sources.Contains(CodeSource))
            errors.AddModelError("Form.Code", "Nobody at the counter can have read it there.");
        if (reading.Problem is not null && !KeepUnread)
            errors.AddModelError("Form.Code", reading.Problem);
        return reading;
    }

    /// <summary>Checks what the annotations cannot: times, percent, answers and consents that exist.</summary>
    public void Check(TriageTables tables, DateTimeOffset now, ModelStateDictionary errors)
    {
        if (!string.IsNullOrWhiteSpace(Promised) && PromiseText.Read(Promised, now) is null)
            errors.AddModelError("Form.Promised", "Write a time such as 16:40, +2h, or 2026-11-30 10:00.");
        if (!string.IsNullOrWhiteSpace(Battery) && FactName.BatteryPercent.Name.Normalise(Battery) is null)
            errors.AddModelError("Form.Battery", "Whole percent, 0 to 100; empty where it cannot be read.");
        if (
            Said.Any(said =>
                !string.IsNullOrEmpty(said.Value) && tables.Check(said.Key) is not { AtIntake: true } check
                || !string.IsNullOrEmpty(said.Value) && tables.Check(said.Key)!.Outcome(said.Value) is null
            )
        )
            errors.AddModelError("Form.Said", "One of the answers is none of those offered. Choose again.");
        if (Agreed.Any(id => Consents.Find(id) is null))
            errors.AddModelError("Form.Agreed", "One of the consents is none of those offered.");
        if (Agreed.Count > 0 && string.IsNullOrWhiteSpace(AgreedBy))
            errors.AddModelError("Form.AgreedBy", "Say who agreed, and how.");
    }

    /// <summary>The facts that were said at the counter.</summary>
    public IEnumerable<Fact> Facts(CodeReading code, DateTimeOffset at, string by)
    {
        if (code.Problem is null)
        {
            foreach (var fact in code.Facts(CodeSource, at, by))
                yield return fact;
        }

        if (FactName.BatteryPercent.Name.Normalise(Battery) is { } percent)
            yield return new Fact(FactName.BatteryPercent, percent, FactSource.Seen, at, by);
    }

    /// <summary>The answers that were chosen.</summary>
    public IEnumerable<(TriageCheck Check, CheckOutcome Outcome)> Answers(TriageTables tables) =>
        Said.Select(said => (Check: tables.Check(said.Key), said.Value))
            .Where(pair => pair.Check?.Outcome(pair.Value) is not null)
            .Select(pair => (pair.Check!, pair.Check!.Outcome(pair.Value)!));

    /// <summary>Puts what may be changed later into a row.</summary>
    public void Apply(JobRow row, DateTimeOffset now)
    {
        row.Description = Description.Trim();
        row.Complaint = Complaint.Trim();
        row.DataWish = DataWish;
        row.PromisedAt = PromiseText.Read(Promised, now);
        row.OwnershipStated = OwnershipStated;
        row.Cell = Cell;
        row.Accessories = Accessories?.Trim() ?? "";
    }

    /// <summary>Keeps what is promised now, if it is otherwise than before.</summary>
    /// <returns>What was promised, in a sentence; null where it stands as it stood.</returns>
    public string? Promise(JobRow row, DateTimeOffset now, string by)
    {
        var before = row.Promises.LastOrDefault();
        if (before?.PromisedFor == row.PromisedAt && before?.Waits == Waits || before is null && row.PromisedAt is null && !Waits)
            return null;
        row.Promises.Add(
            new PromiseRow
            {
                At = now,
                By = by,
                PromisedFor = row.PromisedAt,
                Waits = Waits,
            }
        );
        return (row.PromisedAt is { } promised ? $"Promised for {Say.When(promised, now)}" : "Nothing is promised")
            + (Waits ? "; the customer waits here." : ".");
    }

    /// <summary>What may be lost, in the customer's words.</summary>
    public static string Words(DataWish wish) =>
        wish switch
        {
            DataWish.Keep => "nothing, if it can be helped",
            DataWish.MayGo => "everything may go",
            _ => "not said yet",
        };
}
