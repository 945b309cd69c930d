using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;

namespace Junctra.Web.Staff;

/// <summary>
/// The key that protects the keys in the database: whoever gets hold of the database alone can seal no cookie with them. It lies in a file
/// that only this program's user reads, and is shared by all web processes like the store.
/// </summary>
internal static class KeyShelter
{
    private const string FileName = "sealing-key.pfx";

    /// <summary>The certificate in a folder, made where there is none yet.</summary>
    public static X509Certificate2 Open(string folder)
    {
        Directory.CreateDirectory(folder);
        var path = Path.Combine(folder, FileName);
        if (!File.Exists(path))
        {
            using var key = RSA.Create(3072);
            var request = new CertificateRequest("CN=junctra keys", key, HashAlgorithmName.SHA256, RSASignaturePadding.Pkcs1);
            using var made = request.CreateSelfSigned(DateTimeOffset.UnixEpoch.AddYears(50), DateTimeOffset.UnixEpoch.AddYears(150));
            var partial = Path.Combine(folder, $"{FileName}.{Guid.NewGuid():N}");
            var mine = new FileStreamOptions { Mode = FileMode.CreateNew, Access = FileAccess.Write };
            if (!OperatingSystem.IsWindows())
                mine.UnixCreateMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;
            using (var file = new FileStream(partial, mine))
                file.Write(made.Export(X509ContentType.Pfx));
            try
            {
                // Two web processes that start at once: the first one's key counts.
                File.Move(partial, path, overwrite: false);
            }
            catch (IOException) when (File.Exists(path))
            {
                File.Delete(partial);
            }
        }

        return X509CertificateLoader.LoadPkcs12FromFile(path, null, X509KeyStorageFlags.EphemeralKeySet | X509KeyStorageFlags.Exportable);
    }
}
