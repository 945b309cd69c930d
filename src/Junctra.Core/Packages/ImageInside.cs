namespace Junctra.Core.Packages;

/// <summary>What the beginning of an image says of it, where it begins like something known.</summary>
/// <param name="Boot">The header of a boot image, or null.</param>
/// <param name="Table">A partition table, or null.</param>
/// <param name="Dynamic">The partitions inside one big image, or null.</param>
public sealed record ImageInside(BootHeader? Boot = null, PartitionTable? Table = null, DynamicLayout? Dynamic = null);

/// <summary>Header of a boot image, in the open form of versions 0 to 4.</summary>
/// <param name="Version">Version of the header, 0 to 4.</param>
/// <param name="OsVersion">OS version, for example <c>15</c> or <c>8.1.2</c>; null where the header leaves it out.</param>
/// <param name="SecurityPatch">Patch level as <c>2026-08</c>, or null.</param>
/// <param name="Board">Name of the board or product that versions 0 to 2, and headers of a vendor's boot image, carry; null where it is
/// left empty.</param>
public sealed record BootHeader(int Version, string? OsVersion, string? SecurityPatch, string? Board = null);

/// <summary>One entry of a partition table.</summary>
/// <param name="Name">Its name.</param>
/// <param name="SizeBytes">Its size in bytes.</param>
public sealed record TableEntry(string Name, long SizeBytes);

/// <summary>A GPT partition table whose two checksums are right.</summary>
/// <param name="BlockBytes">Size of a block, 512 or 4096 bytes.</param>
/// <param name="Entries">The entries in use, in the order of the table.</param>
public sealed record PartitionTable(int BlockBytes, IReadOnlyList<TableEntry> Entries);

/// <summary>The partitions inside one big image.</summary>
/// <param name="SizeBytes">Room that the big partition has.</param>
/// <param name="Entries">The partitions inside, with what they take; an empty one of a second slot takes nothing.</param>
public sealed record DynamicLayout(long SizeBytes, IReadOnlyList<TableEntry> Entries);
