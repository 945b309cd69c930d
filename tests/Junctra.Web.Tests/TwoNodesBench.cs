using System.Net;
using Junctra.Store;
using Junctra.Testing;

namespace Junctra.Web.Tests;

/// <summary>
/// Two web processes on one database, one library and one folder of keys, as behind a proxy, started at once onto a database with nothing
/// in it but tables.
/// </summary>
/// <param name="keepsTimetable">Whether they make a timetable: that costs more than all else they do.</param>
public abstract class TwoNodesBench(bool keepsTimetable = false) : IAsyncLifetime
{
    private readonly CookieContainer cookies = new();
    private TestDatabase database = null!;

    protected static CancellationToken Cancel => TestContext.Current.CancellationToken;

    /// <summary>A folder of theirs.</summary>
    protected string Folder { get; } = Directory.CreateTempSubdirectory("junctra-two-").FullName;

    /// <summary>The phones.</summary>
    protected StandInProcess Phones { get; private set; } = null!;

    /// <summary>The write that they begin.</summary>
    private protected DemoWrite Write { get; private set; } = null!;

    /// <summary>The two.</summary>
    private protected WebProcess[] Nodes { get; private set; } = [];

    public async ValueTask InitializeAsync()
    {
        Phones = await StandInProcess.StartAsync(mirrorPace: 0.5);
        database = await TestDatabase.CreateAsync();
        var library = await DemoLibrary.FolderAsync();
        Nodes =
        [
            .. Enumerable
                .Range(0, 2)
                .Select(_ => new WebProcess(
                    database.Connection,
                    library,
                    Phones,
                    Path.Combine(Folder, "store"),
                    cookies: cookies,
                    keepsTimetable: keepsTimetable
                )),
        ];
        await Nodes[0].StartAsync();
        await Nodes[1].StartAsync();
        Write = new DemoWrite(database, Phones);
    }

    public async ValueTask DisposeAsync()
    {
        foreach (var node in Nodes)
            await node.DisposeAsync();
        await Phones.DisposeAsync();
        await database.DisposeAsync();
        Directory.Delete(Folder, true);
        GC.SuppressFinalize(this);
    }

    /// <summary>Asks their database.</summary>
    protected Task<T> AskAsync<T>(Func<JunctraDb, Task<T>> ask) => Write.AskAsync(ask);

    /// <summary>Which node a name of a process is of: machine, process, and what tells one start from another.</summary>
    protected int NodeOf(string holder) => Array.FindIndex(Nodes, node => $"{node.Id}" == holder.Split(':')[1]);
}
