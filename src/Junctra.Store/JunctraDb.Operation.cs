using Junctra.Store.Operation;
using Microsoft.EntityFrameworkCore;

namespace Junctra.Store;

/// <summary>Tables of those who keep the house running: sign-ins, the audit's chain, backups, owners.</summary>
public sealed partial class JunctraDb
{
    private static void ShapeOperation(ModelBuilder builder)
    {
        builder.Entity<SignInRow>(signIn =>
        {
            signIn.ToTable("sign_ins");
            signIn.HasKey(s => s.Id);
            signIn.Property(s => s.Id).HasMaxLength(64);
            signIn.Property(s => s.Stamp).HasMaxLength(64);
            signIn.Property(s => s.Address).HasMaxLength(64);
            signIn.HasOne<StaffRow>().WithMany().HasForeignKey(s => s.StaffId);
        });
        builder.Entity<AuditSealRow>(seal =>
        {
            seal.ToTable("audit_seals");
            seal.HasKey(s => s.Seq);
            seal.Property(s => s.Seq).ValueGeneratedNever();
            seal.HasIndex(s => s.AuditId);
        });
        builder.Entity<BackupRow>().ToTable("backups");
        builder.Entity<OwnerRow>(owner =>
        {
            owner.ToTable("owners");
            owner.HasKey(o => o.What);
            owner.Property(o => o.What).HasMaxLength(40);
            owner.Property(o => o.Holder).HasMaxLength(200);
        });
    }
}
