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

    /// <summary>Folder in which images are unpacked before a write; the system's own place for such files when empty.</summary>
    public string Work { get; set; } = Path.GetTempPath();

    /// <summary>Seconds after which a run whose writer gives no sign of life counts as left by it.</summary>
    [Range(1, 600)]
    public double LeaseSeconds { get; set; } = RunJournal.UsualLease.TotalSeconds;

    /// <summary>Name of the shop, for the top bar and the hand-back sheet.</summary>
    [Required]
    public string Shop { get; set; } = "Slipway Phone Repair";

    /// <summary>Addresses of the demo world's ports by name; with none, no demo data are written.</summary>
    public Dictionary<string, string> DemoPorts { get; } = [];

    /// <summary>Address at which a person presses the keys of the simulated phones; shown in the demo only.</summary>
    public string? DemoHands { get; set; }
}
