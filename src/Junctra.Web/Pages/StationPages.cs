using Junctra.Core.Jobs;

namespace Junctra.Web.Pages;

/// <summary>The pages of the stations.</summary>
public static class StationPages
{
    /// <summary>The page on which what is next for a job is done.</summary>
    public static string NextPage(this JobStanding standing) => standing.AtRescue ? "/Jobs/Rescue" : standing.At.Page();

    /// <summary>The page of a station, as links and redirects name it.</summary>
    public static string Page(this Station station) => $"/Jobs/{station}";
}
