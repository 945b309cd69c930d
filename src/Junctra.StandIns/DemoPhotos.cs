using System.Text;

namespace Junctra.StandIns;

/// <summary>What the owner of a simulated phone has on it: a few made-up pictures and notes, another on each phone.</summary>
internal static class DemoPhotos
{
    private const int Pictures = 4;
    private const int PictureBytes = 200_000;

    public static void Write(PhoneFolder to, string serial)
    {
        Directory.CreateDirectory(Path.Combine(to.Folder, "pictures"));
        Directory.CreateDirectory(Path.Combine(to.Folder, "notes"));
        for (var i = 1; i <= Pictures; i++)
            File.WriteAllBytes(
                Path.Combine(to.Folder, "pictures", $"harbour-{i}.jpg"),
                DemoImages.Bytes(PictureBytes + 7919 * i, $"{serial}/{i}", null)
            );
        File.WriteAllText(Path.Combine(to.Folder, "notes", "sailings.txt"), $"Sailings kept on {serial}\n", Encoding.UTF8);
    }
}
