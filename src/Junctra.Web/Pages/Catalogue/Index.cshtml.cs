using Junctra.Core.Catalogue;
using Microsoft.AspNetCore.Mvc.RazorPages;

namespace Junctra.Web.Pages.Catalogue;

/// <summary>The catalogue as the program has read it.</summary>
public sealed class CatalogueModel(ModelCatalogue catalogue) : PageModel
{
    public ModelCatalogue Catalogue => catalogue;

    /// <summary>What is worth knowing of a model before touching one.</summary>
    public static IEnumerable<string> Remarks(Maker maker, PhoneModel model, IReadOnlyList<string> sameName)
    {
        if (sameName.Count > 0)
            yield return $"same name as {string.Join(", ", sameName)}";
        if (model.CarrierLocked)
            yield return "carrier-locked";
        if (maker.HasRollbackFuses)
            yield return "rollback fuses";
        if (model.HasTamperFuse)
            yield return "tamper fuse";
        if (model.RelockErases)
            yield return "relock erases";
        if (model.BatteryOut)
            yield return "battery comes out";
        if (model.Slots == 2)
            yield return "two slots";
    }
}
