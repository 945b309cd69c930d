using Junctra.Core.Plans;

namespace Junctra.Web.Drawing;

/// <summary>Words for what happens to a partition.</summary>
public static class PartitionStripWords
{
    /// <summary>In a few words.</summary>
    public static string Of(PartitionUse use) =>
        use switch
        {
            PartitionUse.ToWrite => "to be written",
            PartitionUse.Writing => "being written",
            PartitionUse.Written => "accepted by the phone",
            PartitionUse.ToErase => "to be erased",
            PartitionUse.Erased => "erased",
            _ => "not touched",
        };
}
