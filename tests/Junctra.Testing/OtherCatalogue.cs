using Junctra.Core.Catalogue;
using Junctra.Formats.CatalogueFiles;

namespace Junctra.Testing;

/// <summary>The catalogue that ships, with lines of its files replaced or files added: what another shop might have.</summary>
public static class OtherCatalogue
{
    /// <summary>A second maker of the invented world: builds name their region, going back is forbidden, two models share a name.</summary>
    public const string Velloq = """
        maker: Velloq
        rollback-fuses: true
        forbids-older: true
        grammar:
          example: TN63E.5.2608.WHM2
          pattern: '^(?<model>TN[0-9]{2}[A-Z])\.(?<revision>[0-9]{1,2})\.(?<date>[0-9]{4})\.(?<region>[A-Z]{3})(?<iteration>[0-9]{1,2})$'
          order: [date, iteration]
        link-variables:
          model-code: { variable: product }
          serial: { variable: serialno }
          rollback-floor: { variable: rollback-floor }
          lock-state: { variable: unlocked, reads: { "yes": unlocked, "no": locked } }
        models:
          - code: TN63E
            name: Tern 6
            chip: Merak Four
            key-family: bootloader-menu
            write-mode: fastboot
            package-kind: factory-set
            storage-gb: [64, 128]
            find-model-code: { where: "Settings, About", minutes: 1 }
            partitions: &layout
              - { name: bootloader, role: boot-chain, size: 4 MiB, stock: true }
              - { name: boot, role: boot, size: 16 MiB, stock: true }
              - { name: system, role: system, size: 64 MiB, stock: true }
              - { name: userdata, role: user-data, size: 64 MiB }
          - code: TN63W
            name: Tern 6
            chip: Dolan Major
            key-family: bootloader-menu
            write-mode: fastboot
            package-kind: factory-set
            storage-gb: [64]
            find-model-code: { where: "Settings, About", minutes: 1 }
            partitions: *layout
        """;

    /// <summary>Writes the folder; the caller deletes it.</summary>
    /// <param name="files">Files below the folder and what they hold, added to those that ship or put in their place.</param>
    public static string Write(params (string File, string Text)[] files)
    {
        var folder = Directory.CreateTempSubdirectory("junctra-catalogue-").FullName;
        foreach (var file in Directory.EnumerateFiles(Repo.CatalogueFolder, "*", SearchOption.AllDirectories))
        {
            var to = Path.Combine(folder, Path.GetRelativePath(Repo.CatalogueFolder, file));
            Directory.CreateDirectory(Path.GetDirectoryName(to)!);
            File.Copy(file, to);
        }

        foreach (var (file, text) in files)
            File.WriteAllText(Path.Combine(folder, file), text);
        return folder;
    }

    /// <summary>Reads the catalogue with such files.</summary>
    public static ModelCatalogue Read(params (string File, string Text)[] files)
    {
        var folder = Write(files);
        try
        {
            return CatalogueReader.Read(folder);
        }
        finally
        {
            Directory.Delete(folder, recursive: true);
        }
    }

    /// <summary>The catalogue that ships, and <see cref="Velloq"/>.</summary>
    public static ModelCatalogue WithVelloq { get; } = Read(("makers/velloq.yaml", Velloq));

    /// <summary>The catalogue that ships with a made-up model more, so that there is one for every key family.</summary>
    public static ModelCatalogue WithAllKeyFamilies { get; } =
        Read(
            (
                "makers/hadrel.yaml",
                File.ReadAllText(Path.Combine(Repo.CatalogueFolder, "makers", "hadrel.yaml"))
                    + """

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

                    """
            )
        );
}
