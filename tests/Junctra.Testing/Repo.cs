using Junctra.Core.Catalogue;
using Junctra.Formats.CatalogueFiles;

namespace Junctra.Testing;

/// <summary>The checkout under test, and the catalogue that ships with it.</summary>
public static class Repo
{
    public static string Root { get; } = FindRoot();

    public static string CatalogueFolder => Path.Combine(Root, "catalogue");

    public static ModelCatalogue Catalogue { get; } = CatalogueReader.Read(CatalogueFolder);

    private static string FindRoot()
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (folder is not null && !File.Exists(Path.Combine(folder.FullName, "Junctra.slnx")))
            folder = folder.Parent;
        return folder?.FullName ?? throw new InvalidOperationException("The tests must run from within the checkout.");
    }
}
