using System.Diagnostics;

namespace Junctra.Testing;

/// <summary>
/// Waits for a condition instead of a time. The limit is late on purpose: machines are shared, and a test that passes does not wait for it.
/// </summary>
public static class Until
{
    private static readonly TimeSpan GiveUp = TimeSpan.FromMinutes(5);

    public static async Task TrueAsync(Func<Task<bool>> condition, string what)
    {
        var watch = Stopwatch.StartNew();
        Exception? last = null;
        while (watch.Elapsed < GiveUp)
        {
            try
            {
                if (await condition())
                    return;
            }
            catch (HttpRequestException error)
            {
                last = error;
            }

            // What takes long is asked for less often: asking is work, too, and those who are waited for need the processor.
            await Task.Delay(TimeSpan.FromMilliseconds(Math.Clamp(watch.ElapsedMilliseconds / 20.0, 30, 500)));
        }

        throw new TimeoutException($"Waited in vain until {what}.", last);
    }
}
