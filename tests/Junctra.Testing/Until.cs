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

            await Task.Delay(30);
        }

        throw new TimeoutException($"Waited in vain until {what}.", last);
    }
}
