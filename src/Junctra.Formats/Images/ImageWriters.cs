using System.Buffers.Binary;
using System.IO.Hashing;
using System.Security.Cryptography;
using System.Text;
using Junctra.Core.Packages;

namespace Junctra.Formats.Images;

/// <summary>Writes the headers of boot images in the form that <see cref="BootHeaderReader"/> reads.</summary>
public static class BootHeaderWriter
{
    /// <summary>The first page of a boot image with a kernel and a first file system of the given sizes.</summary>
    /// <param name="header">Version 0 to 4, OS version of up to three numbers below 128, patch level as year and month.</param>
    /// <param name="kernelBytes">Size of the kernel.</param>
    /// <param name="ramdiskBytes">Size of the first file system.</param>
    public static byte[] Page(BootHeader header, uint kernelBytes, uint ramdiskBytes)
    {
        var page = new byte[4096];
        "ANDROID!"u8.CopyTo(page);
        var isNew = header.Version >= 3;
        Put(page, 8, kernelBytes);
        Put(page, isNew ? 12 : 16, ramdiskBytes);
        Put(page, isNew ? 16 : 44, Os(header.OsVersion) << 11 | Patch(header.SecurityPatch));
        Put(page, 40, (uint)header.Version);
        if (isNew)
            Put(page, 20, header.Version == 4 ? 1584u : 1580u);
        else
            Put(page, 36, 4096);
        if (header.Version is 1 or 2)
            Put(page, 1644, header.Version == 1 ? 1648u : 1660u);
        return page;
    }

    private static uint Os(string? version)
    {
        var parts = (version?.Split('.') ?? []).Select(uint.Parse).Concat([0u, 0u, 0u]).Take(3).ToList();
        return parts[0] << 14 | parts[1] << 7 | parts[2];
    }

    private static uint Patch(string? patch) => patch is null ? 0 : (uint.Parse(patch[..4]) - 2000) << 4 | uint.Parse(patch[5..7]);

    private static void Put(Span<byte> page, int at, uint value) => BinaryPrimitives.WriteUInt32LittleEndian(page[at..], value);
}

/// <summary>Writes partition tables in the form that <see cref="PartitionTableReader"/> reads.</summary>
public static class PartitionTableWriter
{
    private const int Entries = 128;
    private const int EntryBytes = 128;

    /// <summary>A disk's beginning up to the end of its table: the protective block, the header, 128 entries.</summary>
    /// <param name="table">Block size and entries; their sizes must be whole blocks.</param>
    public static byte[] Write(PartitionTable table)
    {
        var block = table.BlockBytes;
        var first = 2 + Entries * EntryBytes / block;
        var bytes = new byte[first * block];
        bytes[510] = 0x55;
        bytes[511] = 0xAA;
        var entries = bytes.AsSpan(2 * block, Entries * EntryBytes);
        long at = first;
        for (var i = 0; i < table.Entries.Count; i++)
        {
            var entry = entries[(i * EntryBytes)..];
            // The kind of a plain data partition of this world; what matters is that it is not empty.
            entry[..16].Fill(0x4A);
            BinaryPrimitives.WriteInt32LittleEndian(entry[16..], i + 1);
            BinaryPrimitives.WriteInt64LittleEndian(entry[32..], at);
            at += table.Entries[i].SizeBytes / block;
            BinaryPrimitives.WriteInt64LittleEndian(entry[40..], at - 1);
            Encoding.Unicode.GetBytes(table.Entries[i].Name, entry[56..128]);
        }

        var header = bytes.AsSpan(block, 92);
        "EFI PART"u8.CopyTo(header);
        BinaryPrimitives.WriteUInt32LittleEndian(header[8..], 0x00010000);
        BinaryPrimitives.WriteUInt32LittleEndian(header[12..], 92);
        BinaryPrimitives.WriteInt64LittleEndian(header[24..], 1);
        BinaryPrimitives.WriteInt64LittleEndian(header[32..], at + first);
        BinaryPrimitives.WriteInt64LittleEndian(header[40..], first);
        BinaryPrimitives.WriteInt64LittleEndian(header[48..], Math.Max(first, at - 1));
        BinaryPrimitives.WriteInt64LittleEndian(header[72..], 2);
        BinaryPrimitives.WriteInt32LittleEndian(header[80..], Entries);
        BinaryPrimitives.WriteInt32LittleEndian(header[84..], EntryBytes);
        BinaryPrimitives.WriteUInt32LittleEndian(header[88..], Crc32.HashToUInt32(entries));
        BinaryPrimitives.WriteUInt32LittleEndian(header[16..], Crc32.HashToUInt32(header));
        return bytes;
    }
}

/// <summary>Writes the list of partitions inside one big image in the form that <see cref="DynamicLayoutReader"/> reads.</summary>
public static class DynamicLayoutWriter
{
    private const int FirstUsable = 1 << 20;
    private const int Sector = 512;

    /// <summary>The beginning of such an image, one mebibyte; the partitions' bytes follow each other after it.</summary>
    /// <param name="layout">Room of the big partition, and the partitions with sizes in whole sectors.</param>
    public static byte[] Write(DynamicLayout layout)
    {
        var bytes = new byte[FirstUsable];
        var geometry = bytes.AsSpan(4096, 52);
        "gDla"u8.CopyTo(geometry);
        BinaryPrimitives.WriteUInt32LittleEndian(geometry[4..], 52);
        BinaryPrimitives.WriteUInt32LittleEndian(geometry[40..], 65_536);
        BinaryPrimitives.WriteUInt32LittleEndian(geometry[44..], 2);
        BinaryPrimitives.WriteUInt32LittleEndian(geometry[48..], 4096);
        SHA256.HashData(geometry).CopyTo(geometry[8..]);
        geometry.CopyTo(bytes.AsSpan(8192));

        var count = layout.Entries.Count;
        var used = layout.Entries.Where(entry => entry.SizeBytes > 0).ToList();
        int[] tableAt = [0, count * 52, count * 52 + used.Count * 24, count * 52 + used.Count * 24 + 48];
        var tables = new byte[tableAt[3] + 64];
        long sector = FirstUsable / Sector;
        for (int i = 0, extent = 0; i < count; i++)
        {
            var entry = tables.AsSpan(i * 52);
            Encoding.ASCII.GetBytes(layout.Entries[i].Name, entry[..36]);
            BinaryPrimitives.WriteInt32LittleEndian(entry[40..], extent);
            if (layout.Entries[i].SizeBytes == 0)
                continue;
            BinaryPrimitives.WriteInt32LittleEndian(entry[44..], 1);
            var place = tables.AsSpan(tableAt[1] + extent++ * 24);
            BinaryPrimitives.WriteInt64LittleEndian(place, layout.Entries[i].SizeBytes / Sector);
            BinaryPrimitives.WriteInt64LittleEndian(place[12..], sector);
            sector += layout.Entries[i].SizeBytes / Sector;
        }

        "default"u8.CopyTo(tables.AsSpan(tableAt[2]));
        BinaryPrimitives.WriteInt64LittleEndian(tables.AsSpan(tableAt[3]), FirstUsable / Sector);
        BinaryPrimitives.WriteInt64LittleEndian(tables.AsSpan(tableAt[3] + 16), layout.SizeBytes);
        "super"u8.CopyTo(tables.AsSpan(tableAt[3] + 24));

        var header = bytes.AsSpan(12_288, 128);
        "0PLA"u8.CopyTo(header);
        BinaryPrimitives.WriteUInt16LittleEndian(header[4..], 10);
        BinaryPrimitives.WriteUInt32LittleEndian(header[8..], 128);
        BinaryPrimitives.WriteInt32LittleEndian(header[44..], tables.Length);
        SHA256.HashData(tables).CopyTo(header[48..]);
        int[] counts = [count, used.Count, 1, 1],
            each = [52, 24, 48, 64];
        for (var i = 0; i < 4; i++)
        {
            BinaryPrimitives.WriteInt32LittleEndian(header[(80 + i * 12)..], tableAt[i]);
            BinaryPrimitives.WriteInt32LittleEndian(header[(84 + i * 12)..], counts[i]);
            BinaryPrimitives.WriteInt32LittleEndian(header[(88 + i * 12)..], each[i]);
        }

        SHA256.HashData(header).CopyTo(header[12..]);
        tables.CopyTo(bytes.AsSpan(12_288 + 128));
        return bytes;
    }
}
