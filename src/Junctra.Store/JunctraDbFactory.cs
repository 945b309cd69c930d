using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace Junctra.Store;

/// <summary>For the tool that writes migrations; it needs the model, not a server.</summary>
public sealed class JunctraDbFactory : IDesignTimeDbContextFactory<JunctraDb>
{
    public JunctraDb CreateDbContext(string[] args)
    {
        var options = new DbContextOptionsBuilder<JunctraDb>();
        JunctraDb.Configure(options, "Host=127.0.0.1;Database=design");
        return new JunctraDb(options.Options);
    }
}
