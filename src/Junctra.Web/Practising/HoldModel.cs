using Junctra.Core.Catalogue;

namespace Junctra.Web.Practising;

/// <summary>A phone to be held, as the page draws it.</summary>
/// <param name="Model">Its model.</param>
/// <param name="Family">Its keys.</param>
/// <param name="LeftHanded">Whether it is held in the right hand.</param>
public sealed record HoldModel(PhoneModel Model, KeyFamily Family, bool LeftHanded)
{
    /// <summary>What else the address of its page says, with an ampersand after it; empty where nothing does.</summary>
    public string Query { get; init; } = "";

    /// <summary>Commands that the computer at its cable can give; none where hands alone are practised.</summary>
    public IReadOnlyList<LinkCommand> Commands { get; init; } = [];

    /// <summary>What can be done on it, and the key of the keyboard that does it.</summary>
    public IReadOnlyList<(string Id, string Words, string Says)> Acts { get; } =
    [
        .. TwinHands
            .Of(Family, Model)
            .Select(act =>
                (
                    act.Stave.Id,
                    act.Stave.Id switch
                    {
                        Stave.Battery => "Battery out",
                        Stave.Cable => "Cable in",
                        _ => act.Stave.Name,
                    },
                    act.Says
                )
            ),
        .. TwinHands.Beside(Model).Select(act => (act.Id, act.Words, act.Keyboard)),
    ];

    /// <summary>The keys of the keyboard, for the script.</summary>
    public string Keys { get; } =
        string.Join(
            ' ',
            TwinHands
                .Of(Family, Model)
                .Select(act => $"{act.Keyboard}={act.Stave.Id}")
                .Concat(TwinHands.Beside(Model).Select(act => $"{act.Keyboard}={act.Id}"))
        );
}
