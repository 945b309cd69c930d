using Junctra.Store.Operation;

namespace Junctra.Web.Operation;

/// <summary>Goes along the chain over the audit for whoever asks at the command line.</summary>
public static class AuditCommand
{
    /// <summary>First argument that asks for it.</summary>
    public const string Name = "check-audit";

    /// <returns>0 where the chain is whole, 1 where it is not, 2 where that cannot be said.</returns>
    public static async Task<int> RunAsync(IServiceProvider services, TextWriter console)
    {
        try
        {
            var check = await services.GetRequiredService<AuditChain>().CheckAsync();
            await console.WriteLineAsync(Say(check));
            return check.Problem is null ? 0 : 1;
        }
        catch (Exception error) when (error is IOException or InvalidDataException or Npgsql.NpgsqlException)
        {
            await console.WriteLineAsync($"The audit could not be checked: {error.Message}");
            return 2;
        }
    }

    /// <summary>What a check says, in a sentence or two.</summary>
    public static string Say(AuditCheck check) =>
        check.Problem is { } problem ? $"The audit was changed from outside. {problem}"
        : check is { Sealed: 0, Open: 0 } ? "The audit has no line yet."
        : $"The audit is whole: {check.Sealed} links, each by this shop's key{(check.Open == 0 ? "." : $"; {check.Open} lines wait to be sealed.")}";
}
