using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Routes;
using Junctra.Core.Runs;
using Junctra.Core.Twin;

namespace Junctra.Core.Practice;

/// <summary>What an answer is worth.</summary>
public enum AnswerWorth
{
    /// <summary>Right.</summary>
    Right,

    /// <summary>It harms nobody, and is not the best.</summary>
    Second,

    /// <summary>Wrong; somebody would notice before anything is lost.</summary>
    Wrong,

    /// <summary>Whoever acts by it spoils the phone, or what is on it.</summary>
    Harmful,
}

/// <summary>An answer that can be given.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Label">The answer.</param>
/// <param name="Worth">What it is worth.</param>
/// <param name="Why">Why, in a sentence: for whoever has answered.</param>
public sealed record PracticeAnswer(string Id, string Label, AnswerWorth Worth, string Why);

/// <summary>A question about a phone that lies there, with its answers; what is right comes of the same rules as in a job.</summary>
/// <param name="Asks">The question.</param>
/// <param name="Shows">What the phone shows; null where that is not the point.</param>
/// <param name="Answers">The answers, the same in every order for the same exercise.</param>
/// <param name="Rule">The sentence of the rule behind it.</param>
public sealed record PracticeQuestion(string Asks, TwinScreen? Shows, IReadOnlyList<PracticeAnswer> Answers, string Rule)
{
    private const int Screens = 4;
    private const int SecondCosts = 25,
        HintCosts = 10,
        MostForTime = 20;
    private const double UsualSeconds = 30,
        SlowSeconds = 120;

    /// <summary>Puts an exercise's question.</summary>
    /// <exception cref="ArgumentException">It asks nothing, or what it asks cannot be asked of its phone.</exception>
    public static PracticeQuestion Of(Exercise exercise, ModelCatalogue catalogue)
    {
        if (exercise.Task is not QuestionTask task)
            throw new ArgumentException($"{exercise.Id} asks nothing.");
        var model = catalogue.Model(exercise.Phone.ModelCode) ?? throw new ArgumentException($"{exercise.Phone.ModelCode} is no model.");
        var twin = new PhoneTwin(model, catalogue);
        var question = task.Asks switch
        {
            Asked.WhichScreen => WhichScreen(exercise, twin, model),
            Asked.MayUnplug => MayUnplug(exercise, twin, model),
            Asked.WhatIsLost => WhatIsLost(exercise, twin, model, task),
            Asked.WhichRecipe => WhichRecipe(exercise, twin, model, task, catalogue),
            Asked.WhichPackage => WhichPackage(
                exercise.Id,
                $"{model.ProductName}, {model.Code}: which package may be written?",
                Matcher.Rank(exercise.Phone.Known(), task.Shelf.Select(one => one.Read(catalogue)), catalogue),
                report => report.MayBeChosen
            ),
            Asked.WhichRemedy => TroubleQuestions.WhichRemedy(exercise, task, catalogue),
            _ => TroubleQuestions.OfJob(exercise, task, catalogue),
        };
        if (question.Answers.Count < 2 || question.Answers.All(answer => answer.Worth != AnswerWorth.Right))
            throw new ArgumentException($"{exercise.Id}: no answer is right, or there is only one.");
        return question;
    }

    /// <summary>What an answer scores.</summary>
    /// <param name="answer">Id of the answer that was given; null where none was.</param>
    /// <param name="hints">How many hints were asked for.</param>
    /// <param name="tookMs">How long it took, in milliseconds.</param>
    public PracticeScore Score(string? answer, int hints, long tookMs)
    {
        var lost = Lost(answer, tookMs, PracticeScore.Full, SecondCosts).ToList();
        for (var i = 0; i < hints; i++)
            lost.Add(new(LostFor.Hint, HintCosts, 0, "A hint was asked for.", "A hint costs points, and is worth it."));
        lost.AddRange(Slow(tookMs, 1));
        return new PracticeScore(WorthOf(answer) is AnswerWorth.Right or AnswerWorth.Second, tookMs, lost);
    }

    /// <summary>What the time that was taken for questions costs.</summary>
    /// <param name="tookMs">How long they took, in milliseconds.</param>
    /// <param name="questions">How many they were.</param>
    internal static IEnumerable<LostPoints> Slow(long tookMs, int questions)
    {
        if (tookMs / 1000.0 / questions is > UsualSeconds and var seconds)
            yield return new(
                LostFor.Time,
                (int)Math.Ceiling(MostForTime * Math.Min(1, (seconds - UsualSeconds) / (SlowSeconds - UsualSeconds))),
                tookMs,
                $"It took {tookMs / 1000.0:0} s.",
                $"Within {UsualSeconds * questions:0} s nothing is lost."
            );
    }

    /// <summary>The packages among its answers, as the match judges them, the best first; their ids are the answers'.</summary>
    public IReadOnlyList<(MatchReport Report, Package Package)> Judged { get; init; } = [];

    /// <summary>The hint: one wrong answer less, in words; null where there is none to give.</summary>
    public PracticeAnswer? Hint => Answers.LastOrDefault(answer => answer.Worth >= AnswerWorth.Wrong && Answers.Count > 2);

    /// <summary>What an answer is worth; null where there is none of that id.</summary>
    public AnswerWorth? WorthOf(string? answer) => Answers.FirstOrDefault(one => one.Id == answer)?.Worth;

    /// <summary>The points that an answer costs.</summary>
    /// <param name="answer">Id of the answer that was given; null where none was.</param>
    /// <param name="atMs">When it was given, in milliseconds.</param>
    /// <param name="wrongCosts">What a wrong one costs.</param>
    /// <param name="secondCosts">What one costs that harms nobody and is not the best.</param>
    internal IEnumerable<LostPoints> Lost(string? answer, long atMs, int wrongCosts, int secondCosts)
    {
        var given = Answers.FirstOrDefault(one => one.Id == answer);
        var right = Answers.First(one => one.Worth == AnswerWorth.Right);
        if (given is null)
            yield return new(LostFor.Aim, wrongCosts, atMs, "No answer was given.", Rule);
        else if (given.Worth == AnswerWorth.Harmful)
            yield return new(LostFor.Safety, PracticeScore.Full, atMs, given.Why, Rule);
        else if (given.Worth == AnswerWorth.Wrong)
            yield return new(LostFor.Aim, wrongCosts, atMs, $"{given.Why} Right is: {right.Label}. {right.Why}".Trim(), Rule);
        else if (given.Worth == AnswerWorth.Second)
            yield return new(LostFor.Order, secondCosts, atMs, $"{given.Why} Better is: {right.Label}.", Rule);
    }

    private static PracticeQuestion WhichScreen(Exercise exercise, PhoneTwin twin, PhoneModel model)
    {
        var shown = twin.ScreenOf(exercise.Phone.Start(model));
        var modes = Enum.GetValues<PhoneMode>()
            .Where(mode =>
                mode.Standing() is not null && mode != exercise.Phone.Mode && mode is not (PhoneMode.BootLoop or PhoneMode.Unknown)
            )
            .Where(mode => Differs(twin.ScreenOf(TwinFactory.In(model, mode, new TwinNature()))))
            .OrderBy(mode => Alike(mode) ? 0 : 1)
            .ThenBy(mode => Shuffled(exercise.Id, mode.Id()))
            .Take(Screens - 1)
            .Append(exercise.Phone.Mode)
            .OrderBy(mode => Shuffled(exercise.Id, mode.Id()));
        return new PracticeQuestion(
            "Which screen is this?",
            shown,
            [
                .. modes.Select(mode => new PracticeAnswer(
                    mode.Id(),
                    mode.Label(),
                    mode == exercise.Phone.Mode ? AnswerWorth.Right : AnswerWorth.Wrong,
                    mode == exercise.Phone.Mode ? "" : $"{Capital(mode.Label())} looks otherwise."
                )),
            ],
            "What a phone shows says what it takes, and what must not be done to it."
        );

        // Two that look the same cannot be told apart.
        bool Differs(TwinScreen other) =>
            other.Picture != shown.Picture
            || other.Title != shown.Title
            || !other.Entries.Select(entry => entry.Id).SequenceEqual(shown.Entries.Select(entry => entry.Id));

        bool Alike(PhoneMode mode) => twin.ScreenOf(TwinFactory.In(model, mode, new TwinNature())).Picture == shown.Picture;
    }

    private static PracticeQuestion MayUnplug(Exercise exercise, PhoneTwin twin, PhoneModel model)
    {
        var judged = Unplugging.Of(exercise.Phone.Mode, null);
        return new PracticeQuestion(
            "May it be unplugged now?",
            twin.ScreenOf(exercise.Phone.Start(model)),
            [
                new("yes", "Yes, nothing is being written", judged.May ? AnswerWorth.Right : AnswerWorth.Harmful, judged.Why),
                new("no", "No, touch neither cable nor keys", judged.May ? AnswerWorth.Second : AnswerWorth.Right, judged.Why),
            ],
            "A phone may be unplugged unless a write has begun."
        );
    }

    private static PracticeQuestion WhatIsLost(Exercise exercise, PhoneTwin twin, PhoneModel model, QuestionTask task)
    {
        var start = exercise.Phone.Start(model);
        var entry = twin.EntriesOf(start).FirstOrDefault(one => one.Id == task.Entry)
            ?? throw new ArgumentException($"{exercise.Id}: {task.Entry} does not stand in the menu of {exercise.Phone.Mode.Label()}.");
        var harm = MenuHands.Choose(twin, start, entry.Id) is { } after ? Irreversible.Between(start, after) : null;
        PracticeAnswer[] answers =
        [
            new("nothing", "Nothing", harm is null ? AnswerWorth.Right : AnswerWorth.Harmful, harm?.Cost ?? "Nothing is lost by it."),
            new(
                "data",
                "Everything the customer has on it",
                harm is null ? AnswerWorth.Second : AnswerWorth.Right,
                harm?.Cost ?? "Nothing is lost by it."
            ),
        ];
        return new PracticeQuestion(
            $"“{entry.Label}” is chosen, and confirmed. What is lost?",
            twin.ScreenOf(start),
            answers,
            harm?.Rule ?? "What erases is known before it is chosen."
        );
    }

    private static PracticeQuestion WhichRecipe(
        Exercise exercise,
        PhoneTwin twin,
        PhoneModel model,
        QuestionTask task,
        ModelCatalogue catalogue
    )
    {
        var aim = task.Aim ?? throw new ArgumentException($"{exercise.Id} says no aim.");
        var start = exercise.Phone.Start(model);
        var ways = WayCompiler
            .Of(model, catalogue, Router.StartsInto(exercise.Phone.Known(), exercise.Phone.Mode))
            .Where(way => way.Kind == WayKind.Keys && way.From == exercise.Phone.Mode)
            .DistinctBy(way => way.Score.Id)
            .OrderBy(way => Shuffled(exercise.Id, way.Score.Id));
        return new PracticeQuestion(
            $"It is {exercise.Phone.Mode.Label()}. Which of these brings it into {aim.Label()}?",
            twin.ScreenOf(start),
            [
                .. ways.Select(way =>
                {
                    var end = Hands.Play(twin, start, way.Score, PracticePhone.Computer).End;
                    var worth =
                        end.Mode == aim ? AnswerWorth.Right
                        : Irreversible.Between(start, end) is not null ? AnswerWorth.Harmful
                        : AnswerWorth.Wrong;
                    return new PracticeAnswer(
                        way.Score.Id,
                        string.Join(" ", way.Score.Words.Take(2)),
                        worth,
                        worth == AnswerWorth.Right ? $"It is {way.Score.Name}." : $"That leads into {end.Mode.Label()}."
                    );
                }),
            ],
            "Which keys lead where is a matter of the model, and of what the phone does when they are pressed."
        );
    }

    internal static PracticeQuestion WhichPackage(
        string exercise,
        string asks,
        IReadOnlyList<(MatchReport Report, Package Package)> ranked,
        Func<MatchReport, bool> may
    )
    {
        var best = ranked.Where(one => may(one.Report)).Select(one => one.Package.Id).FirstOrDefault();
        return new PracticeQuestion(
            asks,
            null,
            [
                .. ranked
                    .OrderBy(one => Shuffled(exercise, one.Package.Id))
                    .Select(one => new PracticeAnswer(
                        one.Package.Id,
                        $"{one.Package.FileName}, {one.Package.KindWords()}",
                        one.Package.Id == best ? AnswerWorth.Right
                            : may(one.Report) ? AnswerWorth.Second
                            : AnswerWorth.Harmful,
                        one.Report.Headline
                    )),
                new(
                    "none",
                    "None of them",
                    best is null ? AnswerWorth.Right : AnswerWorth.Wrong,
                    best is null ? "" : "One of them may be."
                ),
            ],
            "A package is written only where no rule stands against it; no override exists."
        )
        {
            Judged = ranked,
        };
    }

    // The same order for whoever looks again, another for every exercise.
    internal static uint Shuffled(string exercise, string id)
    {
        var hash = 2166136261u;
        foreach (var c in exercise + id)
            hash = (hash ^ c) * 16777619;
        return hash;
    }

    internal static string Capital(string text) => char.ToUpperInvariant(text[0]) + text[1..];
}
