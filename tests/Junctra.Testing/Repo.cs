using Junctra.Core.Catalogue;
using Junctra.Formats.CatalogueFiles;

namespace Junctra.Testing;

/// <summary>The checkout under test, and the catalogue that ships with it.</summary>
public static class Repo
{
    public static string Root { get; } = FindRoot();

    public static string CatalogueFolder => Path.Combine(Root, "catalogue");

    public static ModelCatalogue Catalogue { get; } = CatalogueReader.Read(CatalogueFolder);

    /// <summary>The catalogue with a made-up model more, so that there is one for every key family that ships.</summary>
    public static ModelCatalogue WithAllKeyFamilies { get; } = AddModel("hadrel.yaml", """

          - code: HX990
            name: Cairn Three
            chip: Dolan Major
            key-family: bootloader-menu-three-keys
            write-mode: fastboot
            package-kind: factory-set
            battery-out: false
            relock-erases: true
            storage-gb: [64]
            find-model-code: { where: "Settings, About, Model", minutes: 1 }
            partitions:
              - { name: bootloader, role: boot-chain, size: 4 MiB, stock: true }
              - { name: boot, role: boot, size: 16 MiB, stock: true }
              - { name: recovery, role: recovery, size: 16 MiB, stock: true }
              - { name: system, role: system, size: 192 MiB, stock: true }
              - { name: userdata, role: user-data, size: 512 MiB }

        """);

    private static ModelCatalogue AddModel(string makerFile, string model)
    {
        var folder = Directory.CreateTempSubdirectory("junctra-catalogue-").FullName;
        try
        {
            foreach (var file in Directory.EnumerateFiles(CatalogueFolder, "*", SearchOption.AllDirectories))
            {
                var copy = Path.Combine(folder, Path.GetRelativePath(CatalogueFolder, file));
                Directory.CreateDirectory(Path.GetDirectoryName(copy)!);
                File.Copy(file, copy);
            }

            File.AppendAllText(Path.Combine(folder, "makers", makerFile), model);
            return CatalogueReader.Read(folder);
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    private static string FindRoot()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (folder is not null && !File.Exists(Path.Combine(folder.FullName, "Junctra.slnx"))) folder = folder.Parent;
        return folder?.FullName ?? throw new InvalidOperationException("The tests must run from within the checkout.");
    }
}
