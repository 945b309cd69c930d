using System.ComponentModel.DataAnnotations;
using Junctra.Store;

namespace Junctra.Web;

/// <summary>Settings of this installation; checked when the program starts.</summary>
public sealed class JunctraOptions
{
    /// <summary>Folder of the catalogue's files.</summary>
    [Required]
    public string Catalogue { get; set; } = "catalogue";

    /// <summary>Folder in which package files lie.</summary>
    [Required]
    public string Library { get; set; } = "";

    /// <summary>
    /// Folder of packages that were fetched or brought, and of what is unpacked from them; a hidden one in the library when empty.
    /// </summary>
    public string Store { get; set; } = "";

    /// <summary>The folder that <see cref="Store"/> means.</summary>
    public string StoreFolder => Store.Length > 0 ? Store : Path.Combine(Library, ".store");

    /// <summary>
    /// Folder of the key that protects the keys in the database; beside the store when empty. It belongs into no copy of the database.
    /// </summary>
    public string Keys { get; set; } = "";

    /// <summary>The folder that <see cref="Keys"/> means.</summary>
    public string KeysFolder => Keys.Length > 0 ? Keys : StoreFolder.TrimEnd('/') + ".keys";

    /// <summary>Folder of the shop's loaders for chips that answer alone; beside the store when empty.</summary>
    public string Loaders { get; set; } = "";

    /// <summary>The folder that <see cref="Loaders"/> means.</summary>
    public string LoaderFolder => Loaders.Length > 0 ? Loaders : StoreFolder.TrimEnd('/') + ".loaders";

    /// <summary>Folder of what was fetched from phones, a folder for each run; deleted when the phone is handed back.</summary>
    public string KeepFolder => StoreFolder.TrimEnd('/') + ".kept";

    /// <summary>Folders of this computer from which packages may be brought by their path; with none, no path is taken.</summary>
    public List<string> AllowedRoots { get; } = [];

    /// <summary>Bytes a second that all downloads together may take of the line; 0 for as many as it gives.</summary>
    [Range(0, long.MaxValue)]
    public long LineBytesPerSecond { get; set; }

    /// <summary>Addresses of the demo world's mirrors by name.</summary>
    public Dictionary<string, string> DemoMirrors { get; } = [];

    /// <summary>Seconds after which a run whose writer gives no sign of life counts as left by it.</summary>
    [Range(1, 600)]
    public double LeaseSeconds { get; set; } = RunJournal.UsualLease.TotalSeconds;

    /// <summary>Whether what a lead may do asks for a sign-in with a second factor.</summary>
    public bool LeadsNeedSecondFactor { get; set; }

    /// <summary>Whether this process makes the timetable of the bench; of several on one database any may.</summary>
    public bool KeepsTimetable { get; set; } = true;

    /// <summary>Name of the shop, for the top bar and the hand-back sheet.</summary>
    [Required]
    public string Shop { get; set; } = "Slipway Phone Repair";

    /// <summary>Addresses of the demo world's ports by name; with none, no demo data are written.</summary>
    public Dictionary<string, string> DemoPorts { get; } = [];

    /// <summary>File with the demo world's past, which is taken in beside the first start; empty for none.</summary>
    public string DemoHistory { get; set; } = "";

    /// <summary>
    /// Host and port at which the bench's computer lists the phones it hears; with none, a person says what its list shows.
    /// </summary>
    public string? PhoneList { get; set; }

    /// <summary>Whether this is the demo world: made-up jobs, accounts whose passwords stand on the sign-in page.</summary>
    public bool IsDemo => DemoPorts.Count > 0;

    /// <summary>Address at which a person presses the keys of the simulated phones; shown in the demo only.</summary>
    public string? DemoHands { get; set; }
}
