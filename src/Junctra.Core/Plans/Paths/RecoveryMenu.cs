using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Phones;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Routes;

namespace Junctra.Core.Plans.Paths;

/// <summary>Hands' acts in the menu of a recovery, which several paths share.</summary>
internal static class RecoveryMenu
{
    public const string WipeData = "wipe-data",
        WipeCache = "wipe-cache",
        FormatSystem = "format-system",
        CardUpdate = "card",
        SwitchOff = "off",
        Restart = "restart";

    /// <summary>From a mode into whichever recovery is nearest, wipe, restart.</summary>
    /// <param name="case">The case.</param>
    /// <param name="phone">What is known of the phone by then: whose recovery it has decides which ways lead there.</param>
    /// <param name="model">Its model.</param>
    /// <param name="from">Where it is then.</param>
    /// <param name="add">Takes the acts.</param>
    /// <param name="wipes">Ids of the entries before the restart; data and cache where none are named.</param>
    /// <returns>Null, or why no way leads there.</returns>
    public static string? AddWipe(PathCase @case, Phone phone, PhoneModel model, PhoneMode from, Action<Act> add, params string[] wipes)
    {
        var recovery = new[] { PhoneMode.StockRecovery, PhoneMode.CustomRecovery }
            .Select(mode => (Mode: mode, Route: Router.Best(phone, model, from, mode, @case.Catalogue)))
            .Where(way => way.Route is not null)
            .OrderBy(way => way.Route!.Minutes)
            .FirstOrDefault();
        if (recovery.Route is null)
            return $"From {from.Label()} no way leads into recovery. {Router.Find(phone, model, from, PhoneMode.StockRecovery, @case.Catalogue).WhyNone}".TrimEnd();

        if (recovery.Route.Legs.Count > 0)
            add(new BringInto(from, recovery.Mode, recovery.Route.Minutes));
        foreach (var id in (wipes.Length > 0 ? wipes : [WipeData, WipeCache]).Append(Restart))
        {
            if (Choose(@case, model, recovery.Mode, id) is { } entry)
                add(entry);
        }

        return null;
    }

    /// <summary>The act of choosing an entry of a recovery's menu by its words; null where its menu has none.</summary>
    public static ChooseEntry? Choose(PathCase @case, PhoneModel model, PhoneMode recovery, string id)
    {
        var menu = @case.Catalogue.CommonWays.MenuOf(@case.Catalogue.KeyFamilyOf(model), recovery.Standing()!.Value);
        if (menu?.Entries.FirstOrDefault(entry => entry.Id == id) is not { } entry)
            return null;
        PartitionRole? role = entry.Does switch
        {
            MenuEffect.WipeData => PartitionRole.UserData,
            MenuEffect.FormatSystem => PartitionRole.System,
            _ => null,
        };
        var partition = role is null ? null : model.Partitions.FirstOrDefault(spec => spec.Role == role)?.Name;
        return new ChooseEntry(
            recovery,
            id,
            entry.Label,
            partition,
            entry.TakesMs / 1000.0,
            entry.Target == Target.Start || entry.To == PhoneStage.SwitchingOff
        )
        {
            Role = role == PartitionRole.System ? role : null,
        };
    }
}
