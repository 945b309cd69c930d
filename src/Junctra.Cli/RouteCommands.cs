using System.CommandLine;
using System.Text.Json;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Routes;
using Junctra.Core.Twin;
using Junctra.Formats.PhoneFiles;
using Command = System.CommandLine.Command;

namespace Junctra.Cli;

/// <summary>Ways of a phone, and what happens to its twin.</summary>
internal static class RouteCommands
{
    /// <summary>Finds the way of a phone into a mode.</summary>
    public static Command Route()
    {
        var toOption = new Option<string?>("--to")
        {
            Description = "Mode in which it is wanted; its model's write mode where it is left out",
        };
        var route = new Command("route", "Finds the way of a phone into a mode; ends with 1 when there is none")
        {
            Shell.Phone,
            Shell.From,
            toOption,
            Shell.Catalogue,
            Shell.Json,
        };
        route.SetAction(result => Shell.GuardAsync(result, () =>
            {
                var catalogue = Shell.CatalogueOf(result);
                var phone = PhoneFileReader.Read(result.GetValue(Shell.Phone)!.FullName, catalogue);
                var model = catalogue.Model(phone.Phone[FactName.ModelCode].Value)
                    ?? throw new IOException("The phone's model code is not known, or not in the catalogue: no way can be told.");
                var from = Shell.Mode(result.GetValue(Shell.From) ?? phone.Phone[FactName.Mode].Value ?? PhoneMode.Unknown.Id());
                var to = result.GetValue(toOption) is { } wanted ? Shell.Mode(wanted) : model.WriteMode;
                var report = RouteFile.Of(Router.Find(phone.Phone, model, from, to, catalogue, phone.Policy.Routes), from, to);
                Shell.Show(result, report, Print.Route);
                return Task.FromResult(report.Minutes is null ? 1 : 0);
            }));
        return route;
    }

    /// <summary>Lets events happen to a twin.</summary>
    public static Command Replay()
    {
        var modelArgument = new Argument<string>("model") { Description = "Model code" };
        var eventsArgument = new Argument<FileInfo>("events") { Description = "File with the events, as docs/protocols.md describes them" };
        var replay = new Command("replay", "Lets events happen to a phone's twin and prints what it does")
        {
            modelArgument,
            eventsArgument,
            Shell.From,
            Shell.Catalogue,
        };
        replay.SetAction(result => Shell.GuardAsync(result, () =>
            {
                var catalogue = Shell.CatalogueOf(result);
                var code = result.GetValue(modelArgument)!;
                var model = catalogue.Model(code) ?? throw new IOException($"There is no model {code} in the catalogue.");
                try
                {
                    var events = TwinEvent.FromJson(File.ReadAllText(result.GetValue(eventsArgument)!.FullName));
                    result.InvocationConfiguration.Output.Write(
                        TwinPrint.Run(
                            new PhoneTwin(model, catalogue),
                            TwinFactory.In(model, Shell.Mode(result.GetValue(Shell.From) ?? PhoneMode.Off.Id()), new TwinNature()),
                            events
                        )
                    );
                }
                catch (JsonException error)
                {
                    throw new IOException($"The events cannot be read: {error.Message}", error);
                }

                return Task.FromResult(0);
            }));
        return replay;
    }
}
