using Junctra.Core.Packages;
using Junctra.Core.Practice;
using Junctra.Web.Library;

namespace Junctra.Web.Practising;

/// <summary>A question as its form shows it.</summary>
/// <param name="Question">The question.</param>
/// <param name="Name">Name of the form's field.</param>
/// <param name="IsOnlyOne">Whether nothing else is asked beside it.</param>
public sealed record AnswersView(PracticeQuestion Question, string Name, bool IsOnlyOne = true)
{
    /// <summary>The answers that are packages, as the library lists them.</summary>
    public IReadOnlyList<PackageLine> Shelf =>
        [
            .. Question
                .Answers.Select(answer => Question.Judged.FirstOrDefault(one => one.Package.Id == answer.Id).Package)
                .OfType<Package>()
                .Select(PackageLine.Of),
        ];

    /// <summary>The other answers.</summary>
    public IEnumerable<PracticeAnswer> Others => Question.Answers.Where(answer => Question.Judged.All(one => one.Package.Id != answer.Id));
}
