namespace Junctra.Store.Operation;

/// <summary>What only one web process does at a time, and which one does it now.</summary>
public sealed class OwnerRow
{
    /// <summary>What it is, a word.</summary>
    public required string What { get; set; }

    /// <summary>The process.</summary>
    public required string Holder { get; set; }
    public DateTimeOffset Since { get; set; }

    /// <summary>When somebody else may take it, by the database's clock.</summary>
    public DateTimeOffset Until { get; set; }
}

/// <summary>A link of the chain over the audit; see <see cref="AuditChain"/>.</summary>
public sealed class AuditSealRow
{
    /// <summary>Its place, from 1 without a gap.</summary>
    public long Seq { get; set; }

    /// <summary>The line that it seals.</summary>
    public int AuditId { get; set; }

    /// <summary>Digest of the line, SHA-256.</summary>
    public required byte[] Line { get; set; }

    /// <summary>The link before, this one's place and line, under a key that is not in the database (HMAC-SHA-256).</summary>
    public required byte[] Link { get; set; }
}

/// <summary>A backup that was taken, as its script says; it stands in the next one.</summary>
public sealed class BackupRow
{
    public int Id { get; set; }
    public DateTimeOffset At { get; set; }
    public required string Folder { get; set; }
    public int Tables { get; set; }
    public long Rows { get; set; }
    public long Bytes { get; set; }
}
