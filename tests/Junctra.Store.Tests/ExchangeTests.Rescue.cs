using Junctra.Core.Rescue;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Tests;

public sealed partial class ExchangeTests
{
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task What_was_done_at_an_opened_phone_comes_along(bool tables)
    {
        RescueEvent[] done =
        [
            new StepTicked("covers"),
            new StepTakenBack("covers"),
            new ScrewOut("A1"),
            new ScrewIn("A1", 3.0),
            new NeedleHeld(58, Heard.CameAndWent, ""),
            new NeedleHeld(null, Heard.Port, "serial port 7"),
            new LoaderTried(true),
            new DriverRule(true, "bench computer"),
        ];
        await StoreAsync(here, "0427", job => job.Rescue.AddRange(
                done.Select(
                    (happening, i) =>
                        new RescueEventRow
                        {
                            At = job.TakenInAt.AddMinutes(i),
                            By = "ada",
                            Event = happening,
                        }
                )
            ));
        Assert.Equal(1, (await TakeInAsync(there, await WriteOutAsync(here, tables))).Taken);
        await using var db = there.CreateDbContext();
        Assert.Equal(done, (await db.RescueEvents.OrderBy(row => row.Id).ToListAsync(Cancel)).Select(row => row.Event));
        // The logbook is made anew for it.
        Assert.True(await db.LogbookDue.AnyAsync(Cancel));
    }
}
