using System.Text;
using Junctra.Store.Exchange;

namespace Junctra.Store.Tests;

public sealed partial class ExchangeTests
{
    // Where an entry of an archive's own list has its checksum, and the length that it unpacks to.
    private const int ChecksumAt = 16,
        LengthAt = 24;

    [Theory]
    [InlineData("it unpacks to more than it says", LengthAt, -40)]
    [InlineData("it unpacks to less than it says", LengthAt, 40)]
    [InlineData("it is not what it was", ChecksumAt, 1)]
    public async Task A_table_that_is_not_what_its_archive_says_is_refused(string why, int at, int by)
    {
        Assert.NotEmpty(why);
        for (var ticket = 400; ticket < 405; ticket++)
            await StoreAsync(here, $"0{ticket}");
        var tables = await WriteOutAsync(here, tables: true);
        var entry = 0;
        for (var i = 0; i < tables.Length - 46; i++)
            if (BitConverter.ToUInt32(tables, i) == 0x02014b50 && Encoding.UTF8.GetString(tables, i + 46, 8) == "jobs.csv")
                entry = i;
        BitConverter.GetBytes(BitConverter.ToInt32(tables, entry + at) + by).CopyTo(tables, entry + at);
        var refused = await Assert.ThrowsAsync<ExchangeException>(() => TakeInAsync(there, tables));
        Assert.Contains("jobs.csv is damaged", refused.Message);
    }

    [Fact]
    public async Task An_archive_with_a_damaged_table_is_refused_whole()
    {
        await TakeInAsync(here, await HistoryAsync(all => all.Take(Some)));
        var tables = await WriteOutAsync(here, tables: true);
        var random = new Random(5);
        for (var i = 0; i < 40; i++)
        {
            var spoilt = tables.ToArray();
            for (var at = 0; at < 40; at++)
                spoilt[random.Next(200, spoilt.Length * 9 / 10)] ^= 0x5A;
            // Whatever it is, it is told, and no error of the program: a job that came whole before the damage stays.
            if (await Record.ExceptionAsync(() => TakeInAsync(there, spoilt)) is { } error)
                Assert.IsType<ExchangeException>(error);
        }
    }
}
