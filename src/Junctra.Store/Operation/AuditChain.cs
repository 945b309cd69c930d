using System.Buffers.Binary;
using System.Globalization;
using System.Security.Cryptography;
using System.Text;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store.Operation;

/// <summary>What the chain over the audit says.</summary>
/// <param name="Sealed">Links that were looked at.</param>
/// <param name="Open">Lines that are not sealed yet.</param>
/// <param name="Problem">The first thing that is wrong, or null.</param>
public sealed record AuditCheck(long Sealed, int Open, string? Problem);

/// <summary>Where the chain ends, kept outside the database: without it the last lines could be taken away unnoticed.</summary>
public interface IAuditHead
{
    /// <summary>Key of the chain, 32 bytes.</summary>
    byte[] Key { get; }

    /// <summary>The last link that is known to have been made; 0 before the first.</summary>
    (long Seq, byte[] Link) Read();

    /// <summary>Notes the last link.</summary>
    void Write(long seq, byte[] link);
}

/// <summary>
/// A chain over the audit: every line is sealed with the link before it, under a key that is not in the database. Whoever changes,
/// removes or inserts a line with access to the database alone breaks it. Lines are sealed within seconds of being written, in the
/// order in which they are found, which is that of their ids but for those whose transactions overlapped.
/// </summary>
public sealed class AuditChain(IDbContextFactory<JunctraDb> databases, IAuditHead head)
{
    private const long OneAtATime = 0x4A756E65;
    private const int AtOnce = 500,
        NearTheEnd = 5000;

    /// <summary>Seals what is not sealed yet.</summary>
    /// <param name="onlyLate">
    /// Whether only lines near the end are looked at, which costs nothing however many there are; one whose transaction lasted while
    /// thousands were written after it is found by the next look at all.
    /// </param>
    /// <param name="cancel">Cancels.</param>
    /// <returns>How many lines.</returns>
    public async Task<int> SealAsync(bool onlyLate = false, CancellationToken cancel = default)
    {
        for (var count = 0; ; )
        {
            await using var db = await databases.CreateDbContextAsync(cancel);
            await using var transaction = await db.Database.BeginTransactionAsync(cancel);
            await LockAsync(db, cancel);
            var goesOn = await GoesOnAsync(db, cancel);
            var from = onlyLate ? (await db.AuditSeals.MaxAsync(seal => (int?)seal.AuditId, cancel) ?? 0) - NearTheEnd : int.MinValue;
            var lines = await Unsealed(db).Where(line => line.Id > from).OrderBy(line => line.Id).Take(AtOnce).ToListAsync(cancel);
            var last = await LinkAsync(db, lines, cancel);
            await transaction.CommitAsync(cancel);
            // Where the end that is noted is not in the chain any more, the note stays: it is what tells of it.
            if (last is not null && goesOn)
                head.Write(last.Seq, last.Link);
            count += lines.Count;
            if (lines.Count < AtOnce)
                return count;
        }
    }

    /// <summary>
    /// Seals lines anew that this program itself has changed, in the transaction that changes them: a customer's words leave the audit when
    /// their time has come. What they were before stays a link, of which the words cannot be had back.
    /// </summary>
    public async Task SealAnewAsync(JunctraDb db, IReadOnlyCollection<AuditRow> lines, CancellationToken cancel = default)
    {
        await LockAsync(db, cancel);
        var ids = lines.Select(line => line.Id).ToArray();
        var known = await db.AuditSeals.Where(seal => ids.Contains(seal.AuditId)).Select(seal => seal.AuditId).ToListAsync(cancel);
        // One that was never sealed is sealed once, like any other.
        await LinkAsync(db, [.. lines.Where(line => known.Contains(line.Id)).OrderBy(line => line.Id)], cancel);
    }

    /// <summary>Goes along the whole chain.</summary>
    public async Task<AuditCheck> CheckAsync(CancellationToken cancel = default)
    {
        await using var db = await databases.CreateDbContextAsync(cancel);
        await using var transaction = await db.Database.BeginTransactionAsync(System.Data.IsolationLevel.RepeatableRead, cancel);
        // The head first: a link that is made meanwhile is then one too many, which is none too few.
        var (knownSeq, knownLink) = head.Read();
        var open = await Unsealed(db).CountAsync(cancel);
        var lines = new Dictionary<int, byte[]>();
        await foreach (var line in db.Audit.AsNoTracking().AsAsyncEnumerable().WithCancellation(cancel))
            lines[line.Id] = DigestOf(line);
        var (seq, link) = (0L, Array.Empty<byte>());
        var latest = new Dictionary<int, AuditSealRow>();
        await foreach (var seal in db.AuditSeals.AsNoTracking().OrderBy(seal => seal.Seq).AsAsyncEnumerable().WithCancellation(cancel))
        {
            if (seal.Seq != ++seq)
                return new AuditCheck(seq - 1, open, $"Link {seq} is missing.");
            link = LinkOf(link, seal.Seq, seal.AuditId, seal.Line);
            if (!CryptographicOperations.FixedTimeEquals(link, seal.Link))
                return new AuditCheck(seq, open, $"Link {seq}, of line {seal.AuditId}, was not made by this shop's key.");
            if (seq == knownSeq && !CryptographicOperations.FixedTimeEquals(link, knownLink))
                return new AuditCheck(seq, open, $"Link {seq} is another than the one that was noted outside the database.");
            latest[seal.AuditId] = seal;
        }

        if (seq < knownSeq)
            return new AuditCheck(
                seq,
                open,
                $"The chain ends at link {seq}, and link {knownSeq} was made: lines were taken away, or an older backup was restored."
            );
        foreach (var (id, seal) in latest.OrderBy(pair => pair.Key))
        {
            if (!lines.TryGetValue(id, out var line))
                return new AuditCheck(seq, open, $"Line {id} is gone.");
            if (!line.AsSpan().SequenceEqual(seal.Line))
                return new AuditCheck(seq, open, $"Line {id} is not what it was when it was sealed.");
        }

        return new AuditCheck(seq, open, null);
    }

    private async Task<bool> GoesOnAsync(JunctraDb db, CancellationToken cancel)
    {
        var (seq, link) = head.Read();
        return seq == 0
            || await db.AuditSeals.Where(seal => seal.Seq == seq).Select(seal => seal.Link).SingleOrDefaultAsync(cancel) is { } there
                && there.AsSpan().SequenceEqual(link);
    }

    private static Task<int> LockAsync(JunctraDb db, CancellationToken cancel) =>
        db.Database.ExecuteSqlAsync($"select pg_advisory_xact_lock({OneAtATime})", cancel);

    private static IQueryable<AuditRow> Unsealed(JunctraDb db) =>
        db.Audit.AsNoTracking().Where(line => !db.AuditSeals.Any(seal => seal.AuditId == line.Id));

    private async Task<AuditSealRow?> LinkAsync(JunctraDb db, List<AuditRow> lines, CancellationToken cancel)
    {
        var last = await db.AuditSeals.AsNoTracking().OrderByDescending(seal => seal.Seq).FirstOrDefaultAsync(cancel);
        foreach (var line in lines)
        {
            var (seq, digest) = ((last?.Seq ?? 0) + 1, DigestOf(line));
            db.AuditSeals.Add(
                last = new AuditSealRow
                {
                    Seq = seq,
                    AuditId = line.Id,
                    Line = digest,
                    Link = LinkOf(last?.Link ?? [], seq, line.Id, digest),
                }
            );
        }

        if (lines.Count > 0)
            await db.SaveChangesAsync(cancel);
        return lines.Count > 0 ? last : null;
    }

    private byte[] LinkOf(byte[] before, long seq, int auditId, byte[] line)
    {
        var place = new byte[12];
        BinaryPrimitives.WriteInt64BigEndian(place, seq);
        BinaryPrimitives.WriteInt32BigEndian(place.AsSpan(8), auditId);
        byte[] all = [.. before, .. place, .. line];
        return HMACSHA256.HashData(head.Key, all);
    }

    // Each part with its length before it: no two lines have the same digest because one's end is the other's beginning. The database keeps
    // microseconds.
    private static byte[] DigestOf(AuditRow line)
    {
        var parts = new[]
        {
            line.Id.ToString(CultureInfo.InvariantCulture),
            line.JobId?.ToString(CultureInfo.InvariantCulture) ?? "",
            (line.At.UtcTicks / TimeSpan.TicksPerMicrosecond).ToString(CultureInfo.InvariantCulture),
            line.By,
            line.Act,
        };
        return SHA256.HashData(Encoding.UTF8.GetBytes(string.Concat(parts.Select(part => $"{Encoding.UTF8.GetByteCount(part)}:{part}"))));
    }
}
