using System.Formats.Tar;
using System.Text;

namespace Junctra.StandIns;

/// <summary>
/// The root manager on a simulated phone. It changes the boot image of a part that it is given and nothing else, and names its version in
/// the part and in the image; the rest of the part stays as it was, so that what it was made from can be told by content.
/// </summary>
internal static class RootManager
{
    private const string Folder = "part";
    private const int FromByte = 8192,
        EachByte = 997;

    /// <summary>What it calls a patched part.</summary>
    public static string NameOf(string name, string version) =>
        $"{Path.GetFileNameWithoutExtension(name)}-patched-{version}{Path.GetExtension(name)}";

    /// <summary>A part with its boot image patched.</summary>
    /// <param name="part">The part, a TAR.</param>
    /// <param name="version">The manager's version.</param>
    /// <exception cref="InvalidDataException">It is no such part, or has no boot image.</exception>
    public static async Task<byte[]> PatchAsync(byte[] part, string version)
    {
        var members = new List<(string Name, byte[] Bytes)>();
        await using (var tar = new TarReader(new MemoryStream(part)))
        {
            while (await tar.GetNextEntryAsync(copyData: true) is { } entry)
            {
                if (entry.DataStream is not { } data)
                    continue;
                var bytes = new MemoryStream();
                await data.CopyToAsync(bytes);
                members.Add((entry.Name.Split('/')[^1], bytes.ToArray()));
            }
        }

        var boot = members.FindIndex(member => member.Name == "boot.img");
        var says = members.FindIndex(member => member.Name == "part.txt");
        if (boot < 0 || says < 0)
            throw new InvalidDataException("There is no boot image in it.");
        members[boot] = (members[boot].Name, Patch(members[boot].Bytes, version));
        members[says] = (members[says].Name, [.. members[says].Bytes, .. Encoding.UTF8.GetBytes($"patched-by=root manager {version}\n")]);
        // It packs without a list of digests.
        members.RemoveAll(member => member.Name == "SHA256SUMS");
        var patched = new MemoryStream();
        await DemoArchives.TarAsync(patched, Folder, members);
        return patched.ToArray();
    }

    private static byte[] Patch(byte[] image, string version)
    {
        var patched = image.ToArray();
        for (var i = FromByte; i < patched.Length; i += EachByte)
            patched[i] ^= (byte)version[^1];
        DemoImages.Restamp(patched, ("root", version));
        return patched;
    }
}
