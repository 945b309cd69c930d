using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Packages;
using Junctra.Core.Phones;

namespace Junctra.Core.Matching;

/// <summary>
/// M18: stock recovery takes a card update only from the root of the external card, under the name that it looks for, whole, and with room
/// to unpack it. Each miss is asked for with its remedy.
/// </summary>
public sealed class M18Card : IMatchRule
{
    private static readonly RuleSentence None = RuleSentence.Idle("It is no card update.");
    private static readonly RuleSentence Ready = RuleSentence.Go(
        "It lies whole on the external card's root, as {name}, with room to unpack."
    );
    private static readonly RuleSentence UnknownModel = RuleSentence.Ask(
        "Under which name recovery looks for it is not known before the model code is. {how}"
    );
    private static readonly RuleSentence UnknownName = RuleSentence.Ask(
        "The catalogue does not say under which name the recovery of a {code} looks for a card update. Ask its maker's service, and add it to the catalogue."
    );
    private static readonly RuleSentence Misses = RuleSentence.Ask("{remedies}");

    /// <summary>What is missing, and what mends it.</summary>
    public static IReadOnlyList<string> Remedies { get; } =
    [NoCard, UnknownCard, NoPlace, Internal, Folder, NoName, Doubled, OtherName, NotCompared, NotWhole, NoRoom, TooFull];

    private const string NoCard = "No storage card is in the phone: put one in with {room} free.";
    private const string UnknownCard = "Whether a storage card is in the phone is not known: look, 1 min.";
    private const string NoPlace = "Copy it, never move it, to the root of the external card, which the phone shows as {card}.";
    private const string Internal =
        "It lies on internal storage, where recovery does not look: copy it to the root of the external card, which the phone shows as {card}.";
    private const string Folder = "It lies in a folder: copy it to the root of the external card, which the phone shows as {card}.";
    private const string NoName = "Name the copy {name}; recovery looks for that name alone.";
    private const string Doubled = "The copy is called {found}: its ending was doubled by a rename. Name it {name}.";
    private const string OtherName = "The copy is called {found}; recovery looks for {name}. Rename it.";
    private const string NotCompared =
        "Whether the copy is whole is not known: put the card into this computer and read its digest, 2 min.";
    private const string NotWhole = "The copy on the card is not whole: its digest is another. Copy it again.";
    private const string NoRoom = "How much is free on the card is not known: it needs {room}.";
    private const string TooFull = "The card has {free} free; recovery needs {room} to unpack it. Make room.";

    /// <inheritdoc/>
    public RuleId Id => RuleId.Card;

    /// <inheritdoc/>
    public string Title => "Card";

    /// <inheritdoc/>
    public IReadOnlyList<FactName> Needs { get; } =
    [FactName.Card, FactName.CardPlace, FactName.CardFileName, FactName.CardFileDigest, FactName.CardFree, FactName.ModelCode];

    /// <inheritdoc/>
    public IReadOnlyList<RuleSentence> Sentences { get; } = [None, Ready, UnknownModel, UnknownName, Misses];

    /// <inheritdoc/>
    public Judgement Judge(MatchCase c)
    {
        if (!c.Package.Kind.Traits().IsOnCard)
            return None.With();
        if (c.Phone[FactName.ModelCode].Values.ToList() is var codes && codes.Count == 0)
            return UnknownModel.With(c.HowToRead(FactName.ModelCode));
        if (codes.FirstOrDefault(code => c.Catalogue.Model(code)?.CardUpdate is null) is { } silent)
            return UnknownName.With(silent);
        var name = c.Model!.CardUpdate!.FileName;
        var remedies = Missing(c, name).ToList();
        if (remedies.Count > 0)
            return Misses.With(string.Join(" ", remedies));
        var disputed = Needs.Select(fact => c.Phone[fact]).FirstOrDefault(fact => fact.State == FactState.Conflicting);
        return disputed is null ? Ready.With(name) : Judging.Disagreement(disputed);
    }

    /// <summary>Room that recovery needs on the card beside the copy, in decimal megabytes.</summary>
    public static long RoomMegabytes(Package package) =>
        (Math.Max(package.Contents.SizeBytes, package.Images.Sum(image => image.Body.Bytes)) + 999_999) / 1_000_000;

    private static IEnumerable<string> Missing(MatchCase c, string name)
    {
        var card = c.Model?.CardUpdate?.CardName ?? "its own name";
        var room = $"{RoomMegabytes(c.Package)} MB";
        string[] Values(FactName fact) => [.. c.Phone[fact].Values];
        if (c.Phone.Of(FactName.Card).MayBe(Presence.None))
            yield return NoCard.Replace("{room}", room);
        if (Values(FactName.Card).Length == 0)
            yield return UnknownCard;
        foreach (var place in c.Phone.Of(FactName.CardPlace).Values.DefaultIfEmpty(CardPlace.None))
        {
            if (place == CardPlace.None)
                yield return NoPlace.Replace("{card}", card);
            if (place == CardPlace.Internal)
                yield return Internal.Replace("{card}", card);
            if (place == CardPlace.Folder)
                yield return Folder.Replace("{card}", card);
        }

        foreach (var found in Values(FactName.CardFileName).DefaultIfEmpty(""))
        {
            if (found.Length == 0)
                yield return NoName.Replace("{name}", name);
            else if (IsDoubled(found, name))
                yield return Doubled.Replace("{found}", found).Replace("{name}", name);
            else if (!found.Equals(name, StringComparison.OrdinalIgnoreCase))
                yield return OtherName.Replace("{found}", found).Replace("{name}", name);
        }

        foreach (var digest in Values(FactName.CardFileDigest).DefaultIfEmpty(""))
        {
            if (digest.Length == 0)
                yield return NotCompared;
            else if (!digest.Equals(c.Package.Id, StringComparison.OrdinalIgnoreCase))
                yield return NotWhole;
        }

        if (Values(FactName.CardFree).Length == 0)
            yield return NoRoom.Replace("{room}", room);
        foreach (var free in c.Phone.Of(FactName.CardFree).Values)
        {
            if (free < RoomMegabytes(c.Package))
                yield return TooFull.Replace("{free}", free + " MB").Replace("{room}", room);
        }
    }

    private static bool IsDoubled(string found, string name) =>
        Path.GetExtension(found) is { Length: > 0 } ending && found.Equals(name + ending, StringComparison.OrdinalIgnoreCase);
}
