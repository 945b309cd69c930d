using System.ComponentModel.DataAnnotations;
using Junctra.Core.Catalogue;
using Junctra.Core.Modes;
using Junctra.Core.Phones;
using Junctra.Store;
using Microsoft.AspNetCore.Mvc.ModelBinding;

namespace Junctra.Web.Bench;

/// <summary>What is asked at the counter. Everything but the ticket and the complaint may stay open.</summary>
public sealed class IntakeForm
{
    [Required(ErrorMessage = "Every phone needs a ticket.")]
    [RegularExpression("[A-Za-z0-9-]{1,20}", ErrorMessage = "A ticket is letters, digits and hyphens, 20 at most.")]
    public string Ticket { get; set; } = "";

    [Required(ErrorMessage = "Say how to tell the phone from others: colour, case, marks.")]
    [StringLength(200, ErrorMessage = "200 characters at most.")]
    public string Description { get; set; } = "";

    [Required(ErrorMessage = "Say what is wrong, in the customer's words.")]
    [StringLength(2000, ErrorMessage = "2000 characters at most.")]
    public string Complaint { get; set; } = "";

    [StringLength(BuildGrammar.MostCharacters, ErrorMessage = "No model code or build string is that long.")]
    public string? Code { get; set; }

    public FactSource CodeSource { get; set; } = FactSource.Customer;

    public string? Mode { get; set; }

    /// <summary><c>official</c>, <c>custom</c>, or empty.</summary>
    public string? Status { get; set; }

    public DataWish DataWish { get; set; }

    public DateTime? Promised { get; set; }

    public bool OwnershipStated { get; set; }

    /// <summary>Row version of the job when the form was shown; 0 for a new one.</summary>
    public uint Version { get; set; }

    public static IReadOnlyList<PhoneMode> Modes { get; } =
        [PhoneMode.System, PhoneMode.SetupWizard, PhoneMode.BootLoop, PhoneMode.StuckAtLogo, PhoneMode.Off, PhoneMode.Fastboot];

    public static IReadOnlyList<FactSource> Sources { get; } = [FactSource.Customer, FactSource.Label, FactSource.Settings, FactSource.BootloaderScreen];

    /// <summary>The form as a job's row stands.</summary>
    public static IntakeForm Of(JobRow row) => new()
    {
        Ticket = row.Ticket,
        Description = row.Description,
        Complaint = row.Complaint,
        DataWish = row.DataWish,
        Promised = row.PromisedAt?.LocalDateTime,
        OwnershipStated = row.OwnershipStated,
        Version = row.Version,
    };

    /// <summary>Reads the typed code; what is wrong with it goes to the form's errors.</summary>
    public CodeReading ReadCode(ModelCatalogue catalogue, ModelStateDictionary errors)
    {
        var reading = CodeReading.Read(Code, catalogue);
        // Only Junctra itself reads over the link; nobody can type that.
        if (!Sources.Contains(CodeSource)) errors.AddModelError("Form.Code", "Nobody at the counter can have read it there.");
        if (reading.Problem is not null) errors.AddModelError("Form.Code", reading.Problem + " Leave it empty if it is not known.");
        return reading;
    }

    /// <summary>The facts that were said at the counter.</summary>
    public IEnumerable<Fact> Facts(CodeReading code, DateTimeOffset at, string by)
    {
        foreach (var fact in code.Facts(CodeSource, at, by)) yield return fact;
        if (PhoneModes.Parse(Mode) is { } mode and not PhoneMode.Unknown) yield return new Fact(FactName.Mode, mode.Id(), FactSource.Customer, at, by);
        if (Status is "official" or "custom") yield return new Fact(FactName.DeviceStatus, Status, FactSource.Customer, at, by);
    }

    /// <summary>Puts what may be changed later into a row.</summary>
    public void Apply(JobRow row)
    {
        row.Description = Description.Trim();
        row.Complaint = Complaint.Trim();
        row.DataWish = DataWish;
        row.PromisedAt = Promised is { } promised ? new DateTimeOffset(DateTime.SpecifyKind(promised, DateTimeKind.Local)).ToUniversalTime() : null;
        row.OwnershipStated = OwnershipStated;
    }
}
