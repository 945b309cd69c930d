using Junctra.Core.Checking;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Triage;

namespace Junctra.Core.Practice;

/// <summary>The questions of a whole job, one station after the other; what is right comes of the same rules as in a real one.</summary>
internal static class JobQuestions
{
    private const int Classes = 5,
        Ways = 6;
    internal const string Open = "open";

    /// <summary>What is most probably wrong with it.</summary>
    public static PracticeQuestion Finding(string exercise, Diagnosis finding)
    {
        var first = finding.Leading!;
        return new PracticeQuestion(
            "What is most probably wrong with it?",
            null,
            [
                .. finding
                    .Candidates.Take(Classes)
                    .OrderBy(one => PracticeQuestion.Shuffled(exercise, one.Class.Id))
                    .Select(one => new PracticeAnswer(
                        one.Class.Id,
                        one.Class.Label,
                        one == first ? AnswerWorth.Right
                            : one.Chance >= first.Chance / 2 ? AnswerWorth.Second
                            : AnswerWorth.Wrong,
                        one == first ? $"It is {one.Words}, by what was seen." : $"By what was seen it is {one.Words}."
                    )),
            ],
            "Everything that was seen speaks for a fault or against it; the most probable one decides what is done."
        );
    }

    /// <summary>Which package.</summary>
    public static PracticeQuestion Match(string exercise, PracticeJob job) =>
        PracticeQuestion.WhichPackage(exercise, "Which package is taken?", job.Ranked, report => report.MayBePlanned(job.Policy));

    /// <summary>What was read of a phone, in a line.</summary>
    public static string Read(Phone phone) =>
        string.Join(
            ", ",
            phone
                .All.Where(fact => fact.Name != FactName.Mode && fact.Name != FactName.ModelCode)
                .Select(fact => $"{fact.Name.Label} {fact.Value}{(fact.Name == FactName.BatteryPercent ? " %" : "")}")
        );

    /// <summary>Which way.</summary>
    public static PracticeQuestion Way(string exercise, PracticeJob job)
    {
        var right = job.Way!;
        var best = right.Cost!;
        var offers = job.Offers.Offers.Where(offer => offer != right && offer.Path != right.Path).DistinctBy(offer => offer.Path);
        var others = offers
            .Select(offer =>
                offer.Outcome.Plan is null
                    ? new PracticeAnswer(offer.Path.Letter, offer.Title, AnswerWorth.Wrong, string.Join(" ", offer.Outcome.Refusals))
                : offer.ErasesData && !job.Task.ErasesData
                    ? new PracticeAnswer(offer.Path.Letter, offer.Title, AnswerWorth.Harmful, "It erases the data, which are wanted.")
                : new PracticeAnswer(
                    offer.Path.Letter,
                    offer.Title,
                    AnswerWorth.Second,
                    $"It can be done so: {string.Join(", ", offer.Cost!.Beside(best).DefaultIfEmpty("nothing is won by it"))}."
                )
            )
            .Concat(job.Offers.Missing.Select(one => new PracticeAnswer(one.Path.Letter, one.Path.Title, AnswerWorth.Wrong, one.Why)));
        return new PracticeQuestion(
            "Which way is taken?",
            null,
            [
                .. others
                    .Take(Ways - 1)
                    .Append(
                        new PracticeAnswer(right.Path.Letter, right.Title, AnswerWorth.Right, $"Data {best.DataWords}, {best.WorstWords}.")
                    )
                    .OrderBy(one => PracticeQuestion.Shuffled(exercise, one.Id)),
            ],
            "Of all ways that do what was asked for, the one that costs the customer least comes first."
        );
    }

    // What is said and seen where an exercise says nothing of a gate: it is as it should be.
    private static readonly Dictionary<GateId, string> Usually = new()
    {
        [GateId.Backup] = "He shows the copy on his computer, and opens two pictures of it.",
        [GateId.Accounts] = "You watched the owner sign out of every account.",
        [GateId.OneWay] = "“Never back to the old version? Fine.” Signed.",
        [GateId.Modification] = "“Root and all of that may go, and the warranty is my own affair.” Signed.",
        [GateId.Program] = "You looked: no companion program runs on this computer, nor is there one.",
        [GateId.Cable] = "The plug sits, straight in the computer; the phone lies still on its mat.",
        [GateId.CardsOut] = "Card and SIM are in the bag of the ticket.",
        [GateId.RoomThere] = "You looked: there is room for all of it.",
        [GateId.OwnBackup] = "“As it was on that day; what came since is gone, I know.” Signed.",
        [GateId.Trained] = "Who opens it has done so for years. The strap is on, and the glasses.",
        [GateId.Battery] = "It was an hour on the measured charger.",
    };

    private static SaidAtGate AsItShould(Gate gate, Plan plan) =>
        new(
            Usually.TryGetValue(gate.Id, out var words) ? words
                : gate.Id != GateId.DataLoss ? $"It was read out to the owner, who said yes: {gate.Options[0].Text}"
                : plan.LosesDataForSure ? "“Pictures, apps, messages: all of it may go.” Signed."
                : "“If it still loops after that, wipe it.” Signed.",
            gate.Options[0].Id
        );

    /// <summary>What may be answered at each gate that a person answers.</summary>
    public static IReadOnlyList<AskedGate> Gates(PracticeJob job) =>
        [
            .. job
                .Gates.Where(gate => gate.Options.Count > 0)
                .Select(gate =>
                {
                    var said = job.Task.Said.GetValueOrDefault(gate.Id) ?? AsItShould(gate, job.Plan);
                    var question = new PracticeQuestion(
                        $"{gate.Title}: {said.Words}",
                        null,
                        [
                            .. gate.Options.Select(option => new PracticeAnswer(
                                option.Id,
                                option.Text,
                                option.Id == said.Means ? AnswerWorth.Right
                                    : said.Means is null ? AnswerWorth.Harmful
                                    : AnswerWorth.Wrong,
                                option.Id == said.Means ? "" : $"That was not said. What was: {said.Words}"
                            )),
                            new(
                                Open,
                                "Nobody has said so: ask first",
                                said.Means is null ? AnswerWorth.Right : AnswerWorth.Second,
                                said.Means is null ? "" : "It was said already."
                            ),
                        ],
                        "A gate is opened by what somebody said or saw, never by what is likely."
                    );
                    return new AskedGate(gate, said.Words, question);
                }),
        ];

    /// <summary>What of a phone that was read after the write stands against handing it back.</summary>
    public static PracticeQuestion Check(PracticeJob job)
    {
        var read = new Phone(
            job.Plan.Rehearsal.Expectations.Select(one => new Fact(
                one.Fact,
                job.Task.ReadAfter.GetValueOrDefault(one.Fact) ?? one.Value,
                FactSource.Link,
                DateTimeOffset.UnixEpoch,
                ""
            ))
        );
        var lines = Checker.Compare(job.Plan, read);
        var against = lines.FirstOrDefault(line => line.State == CheckState.Differs && line.Expectation.IsNeeded)
            ?? lines.FirstOrDefault(line => line.State == CheckState.Differs);
        return new PracticeQuestion(
            $"It is read after the write: {Read(read)}. What stands against handing it back?",
            null,
            [
                new(
                    "nothing",
                    "Nothing: it is as it was meant",
                    against is null ? AnswerWorth.Right : AnswerWorth.Harmful,
                    NotMeant(against)
                ),
                .. lines.Select(line => new PracticeAnswer(
                    line.Expectation.Fact.Value,
                    $"{PracticeQuestion.Capital(line.Expectation.Fact.Label)}",
                    line == against ? AnswerWorth.Right
                        : line.State == CheckState.Differs ? AnswerWorth.Second
                        : AnswerWorth.Wrong,
                    line.State == CheckState.Differs
                        ? $"{line.Expectation.Value} was meant."
                        : $"{PracticeQuestion.Capital(line.Expectation.Fact.Label)} is as it was meant."
                )),
            ],
            "A job is done when what was meant was read, not when bytes were accepted."
        );

        static string NotMeant(CheckLine? line) =>
            line is null
                ? ""
                : $"{PracticeQuestion.Capital(line.Expectation.Fact.Label)} is not {line.Expectation.Value}, as it was meant.";
    }

    private static readonly (FateKind Kind, string Words)[] OfData =
    [
        (FateKind.Kept, "They are all there."),
        (FateKind.Lost, "They are erased."),
        (FateKind.Replaced, "They are those of the day of the backup."),
        (FateKind.Unknown, "They are kept if it starts; looking will tell."),
    ];

    /// <summary>What is true to say to the customer; null where the rehearsal says nothing of the data.</summary>
    public static PracticeQuestion? HandBack(PracticeJob job)
    {
        if (job.Plan.Rehearsal.Fates is not [var fate, ..] || OfData.All(one => one.Kind != fate.Kind))
            return null;
        return new PracticeQuestion(
            "It is handed back. What is true to say of photos, apps and messages?",
            null,
            [
                .. OfData.Select(one => new PracticeAnswer(
                    EnumNames.Of(one.Kind),
                    one.Words,
                    one.Kind == fate.Kind ? AnswerWorth.Right : AnswerWorth.Wrong,
                    one.Kind == fate.Kind ? "" : $"The rehearsal said: {fate.Word}. {fate.Reason}"
                )),
            ],
            "What was done is said as it was: nothing is promised, and nothing is left out."
        );
    }
}
