using System.Diagnostics;
using Junctra.Core.Facts;
using Junctra.Store;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Web.Library.Arrivals;

/// <summary>How the bytes come: from a mirror or a path, taken up where they broke off.</summary>
public sealed partial class ArrivalWorker
{
    /// <summary>Fetches what is missing. Whatever breaks off is taken up where it broke, as long as something comes each time.</summary>
    private async Task FetchAsync(ArrivalRow row, CancellationToken cancel)
    {
        await SetAsync(row.Id, set => set.SetProperty(a => a.State, ArrivalState.Fetching));
        var meter = new ArrivalMeter();
        for (var tries = 0; ; )
        {
            var before = store.IncomingBytes(row.Id);
            try
            {
                await FetchOnceAsync(row, meter, cancel);
                return;
            }
            catch (Exception error) when (error is IOException or HttpRequestException or SourceException { MayTryAgain: true })
            {
                tries = store.IncomingBytes(row.Id) > before ? 1 : tries + 1;
                log.LogInformation("{File} broke off after {Bytes} bytes: {Why}", row.FileName, store.IncomingBytes(row.Id), error.Message);
                if (tries >= MaxTriesWithoutProgress)
                    throw new SourceException(
                        error is SourceException
                            ? error.Message
                            : $"{row.Source} broke off {tries} times without a byte more. Go on later, or take another mirror."
                    );
                await Task.Delay(TimeSpan.FromMilliseconds(200 << tries), time, cancel);
            }
        }
    }

    private async Task FetchOnceAsync(ArrivalRow row, ArrivalMeter meter, CancellationToken cancel)
    {
        await using var file = new FileStream(
            store.IncomingPath(row.Id),
            FileMode.OpenOrCreate,
            FileAccess.ReadWrite,
            FileShare.None,
            1,
            FileOptions.Asynchronous
        );
        await using var source = await OpenSourceAsync(row, file.Length, cancel);
        if (source.SizeBytes is { } size && row.SizeBytes is { } told && size != told)
            throw new SourceException(
                $"The file at {row.Source} has {ByteSize.Text(size)}, and its index says {ByteSize.Text(told)}: it is cut off or another one there. Take it from another mirror.",
                isSpoilt: true
            );
        file.SetLength(source.From);
        file.Position = source.From;
        (row.SizeBytes, row.Validator) = (source.SizeBytes ?? row.SizeBytes, source.Validator);
        await SetAsync(row.Id, set =>
            set.SetProperty(a => a.SizeBytes, row.SizeBytes)
                .SetProperty(a => a.Validator, row.Validator)
                .SetProperty(a => a.BytesDone, source.From)
        );
        var most = row.SizeBytes ?? ArrivalService.MaxUploadBytes;
        var buffer = new byte[BufferBytes];
        var (windowAt, windowBytes, window) = (Stopwatch.GetTimestamp(), 0L, TimeSpan.Zero);
        using var silence = CancellationTokenSource.CreateLinkedTokenSource(cancel);
        while (true)
        {
            silence.CancelAfter(Silence);
            int count;
            try
            {
                count = await source.Body.ReadAsync(buffer, silence.Token);
            }
            catch (OperationCanceledException) when (!cancel.IsCancellationRequested)
            {
                throw new IOException("No byte came for half a minute.");
            }

            if (count == 0)
                break;
            // Bytes that drip keep everybody waiting as surely as none.
            (window, windowBytes) = (Stopwatch.GetElapsedTime(windowAt), windowBytes + count);
            if (window > DripWindow)
            {
                if (windowBytes < MinADripWindow)
                    throw new SourceException(
                        $"{row.Source} gives {windowBytes} bytes in {window.TotalSeconds:0} s: at that rate it never ends. Take it from another mirror, or go on later."
                    );
                (windowAt, windowBytes) = (Stopwatch.GetTimestamp(), 0);
            }

            if (file.Position + count > most)
                throw new SourceException(
                    $"{row.Source} sends more than the {ByteSize.Text(most)} it promised. Take it from another mirror.",
                    isSpoilt: true
                );
            if (row.MirrorId is not null)
                await pace.TakeAsync(count, cancel);
            await file.WriteAsync(buffer.AsMemory(0, count), cancel);
            if (meter.Count(count) is { } rates)
            {
                var position = file.Position;
                await SetAsync(row.Id, set =>
                    set.SetProperty(a => a.BytesDone, position)
                        .SetProperty(a => a.Rate, rates.Usual)
                        .SetProperty(a => a.SlowRate, rates.Slow)
                );
            }
        }

        if (file.Position < row.SizeBytes)
            throw new IOException("It broke off.");
        var done = file.Position;
        // From now on the rate is that of all of it, from which is learned.
        var whole = meter.Whole;
        await SetAsync(row.Id, set =>
            set.SetProperty(a => a.BytesDone, done).SetProperty(a => a.SizeBytes, done).SetProperty(a => a.Rate, whole)
        );
        if (row.MirrorId is { } mirror && whole is { } rate)
        {
            await using var db = await databases.CreateDbContextAsync(cancel);
            var now = time.GetUtcNow();
            await db
                .Mirrors.Where(m => m.Id == mirror)
                .ExecuteUpdateAsync(set => set.SetProperty(m => m.Rate, rate).SetProperty(m => m.MeasuredAt, now), cancel);
        }
    }

    private async Task<OpenedSource> OpenSourceAsync(ArrivalRow row, long have, CancellationToken cancel)
    {
        if (row.Mirror is not null)
            return await mirrors.OpenAsync(row.Mirror, row.From!, have, row.Validator, cancel);
        var source = new FileStream(
            row.From!,
            FileMode.Open,
            FileAccess.Read,
            FileShare.Read,
            1,
            FileOptions.Asynchronous | FileOptions.SequentialScan
        );
        var changed = File.GetLastWriteTimeUtc(row.From!).Ticks.ToString(System.Globalization.CultureInfo.InvariantCulture);
        var from = row.Validator == changed && have <= source.Length ? have : 0;
        source.Position = from;
        return new OpenedSource(source, from, source.Length, changed);
    }
}
