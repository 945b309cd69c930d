using Junctra.Core.Facts;
using Junctra.Core.Plans;
using Junctra.Core.Twin;
using Junctra.Link.Running;
using Phone = Junctra.Core.Phones.Phone;

namespace Junctra.Link.Tests;

// Phones that are ready to be written over each link, and again after what broke.
public abstract partial class HandsBench
{
    protected const long LoaderBytes = 96 << 10;

    /// <summary>Where a write by a path leaves a phone that was interrupted.</summary>
    protected static string ModeOf(string path) =>
        path switch
        {
            "H" => "custom-recovery",
            "E" => "download",
            _ => "emergency",
        };

    /// <summary>A phone that is ready to be written by a path, and its plan.</summary>
    /// <param name="path">H over custom recovery, E over download with a layout, L over a chip that answers alone.</param>
    /// <param name="anew">Whether it is as it first came; else as an interrupted write left it.</param>
    protected async Task<(string Name, Plan Plan, PackageFile File, Phone Phone)> ReadyAsync(string path, bool anew)
    {
        var (name, package) = path switch
        {
            "H" => ("L", "fell-own-backup.tar"),
            "E" => ("H", "TN63E_WHM_r5_with_layout.zip"),
            _ => ("O", "tern6_latest.zip"),
        };
        if (anew)
            await Phones.DoAsync(name, "renew");
        if (anew && path == "H")
        {
            await Phones.DoAsync(name, "into/custom-recovery");
            await Phones.EventsAsync(name, new CableIn("bench computer"));
        }
        else if (anew && path == "E")
        {
            await IntoDownloadAsync();
        }

        var file = await PackageAsync(package);
        (FactName Name, string Value)[] besides = path switch
        {
            "H" => [(FactName.LockState, "unlocked"), (FactName.Recovery, "custom")],
            "L" =>
            [
                (FactName.ModelCode, "TN63W"),
                (FactName.Serial, "TNO60427"),
                (FactName.RollbackFloor, "6"),
                (FactName.Mode, anew ? "off" : "emergency"),
            ],
            _ => [],
        };
        IEnumerable<Fact> read = path == "L" ? [] : (await ReadAsync(Phones[name])).Facts;
        var phone = besides.Aggregate(new Phone(read), (known, fact) =>
            known[fact.Name].Value is null ? known.Supposing(fact.Name, fact.Value) : known
        );
        var plan = Compile(phone, file.Package, path, @case =>
            @case with
            {
                NeedsRescue = path == "L",
                Policy = @case.Policy with { Layout = Core.Matching.LayoutSchool.Always },
            }
        );
        return (name, plan, file, phone);
    }
}
