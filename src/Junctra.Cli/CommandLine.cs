using System.CommandLine;

namespace Junctra.Cli;

/// <summary>
/// What a shell needs of the core: check a catalogue that was edited, look into a package file, judge a folder of them for a phone,
/// find its way into a mode, plan and rehearse a job, try out exercises, replay what happened to a twin.
/// </summary>
internal static class CommandLine
{
    /// <summary>All commands. They print to where the call says (<see cref="InvocationConfiguration"/>).</summary>
    public static RootCommand Root() =>
        new("Junctra at the command line")
        {
            CatalogueCommands.Check(),
            PackageCommands.Inspect(),
            PackageCommands.Match(),
            TriageCommand.Triage(),
            RouteCommands.Route(),
            PlanCommands.Plan(),
            PlanCommands.Rehearse(),
            PlanCommands.Ways(),
            PracticeCommands.Practice(),
            CatalogueCommands.Rules(),
            RouteCommands.Replay(),
            MutationCommand.Mutations(),
        };
}
