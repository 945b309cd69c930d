using Junctra.Core.Plans;

namespace Junctra.Core.Jobs;

/// <summary>Something that a customer can agree to or waive at the counter.</summary>
/// <param name="Id">Id that is stored.</param>
/// <param name="Title">What it is about.</param>
/// <param name="Text">The words that are said and kept.</param>
/// <param name="Opens">The gate of a plan that it answers, and with which option; null where it answers none.</param>
public sealed record ConsentText(string Id, string Title, string Text, (GateId Gate, string OptionId)? Opens = null);

/// <summary>A consent as it was given.</summary>
/// <param name="ConsentId">Which.</param>
/// <param name="At">When.</param>
/// <param name="RecordedBy">Who wrote it down.</param>
public sealed record GivenConsent(string ConsentId, DateTimeOffset At, string RecordedBy);

/// <summary>What is asked of customers, in the words that are kept.</summary>
public static class Consents
{
    /// <summary>All of them, in the order in which they are asked.</summary>
    public static IReadOnlyList<ConsentText> All { get; } =
    [
        new(
            "data-loss",
            "Loss of data",
            "Photos, apps and messages may be erased, even where everything is done to keep them.",
            (GateId.DataLoss, "agreed")
        ),
        new("backup-waived", "No backup", "No backup is made. What is lost is lost.", (GateId.Backup, "waived")),
        new(
            "account-known",
            "Account",
            "I know the account and the password that the phone will ask for after a reset.",
            (GateId.Accounts, "owner-knows")
        ),
        new(
            "modification",
            "Root and custom system",
            "Root, a custom system and a custom recovery are lost. What all this means for the warranty is not the shop's to judge.",
            (GateId.Modification, "agreed")
        ),
        new("opening", "Opening", "The phone may be opened; its tightness against water may suffer."),
    ];

    /// <summary>The consent of that id, or null.</summary>
    public static ConsentText? Find(string? id) => All.FirstOrDefault(text => text.Id == id);

    /// <summary>
    /// Answers to gates that were given at the counter already: nothing is asked twice. An answer that somebody gave to the gate
    /// itself goes before.
    /// </summary>
    public static IReadOnlyList<GateAnswer> WithAnswers(IReadOnlyList<GateAnswer> answers, IEnumerable<GivenConsent> given) =>
        [
            .. given
                .Select(consent => (consent, Find(consent.ConsentId)?.Opens))
                .Where(pair => pair.Opens is { } opens && !answers.Any(answer => answer.GateId == opens.Gate))
                .Select(pair => new GateAnswer(
                    pair.Opens!.Value.Gate,
                    pair.Opens.Value.OptionId,
                    pair.consent.At,
                    $"{pair.consent.RecordedBy}, at intake"
                )),
            .. answers,
        ];
}
