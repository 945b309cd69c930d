using Junctra.Core.Catalogue;
using Junctra.Core.Phones;

namespace Junctra.Web.Bench;

/// <summary>What the fields of the intake need.</summary>
/// <param name="Form">What was typed.</param>
/// <param name="IsNew">Whether the phone is being taken in, or its record corrected.</param>
/// <param name="Tables">The checks that are asked at the counter.</param>
/// <param name="Code">What the typed code turned out to be, or null before anything was typed.</param>
public sealed record IntakeFields(IntakeForm Form, bool IsNew, TriageTables Tables, CodeReading? Code = null);
