using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Testing;

namespace Junctra.Web.Tests;

/// <summary>Which plan every demo job has with the package that is right for it, or the named reason why it has none.</summary>
public partial class DemoMatchTests
{
    private static Fact[] Tern(string serial, string floor = "5") =>
        [
            Read(FactName.ModelCode, "TN63E"),
            Read(FactName.Serial, serial),
            Read(FactName.RollbackFloor, floor),
            Read(FactName.BootloaderRevision, floor),
            Read(FactName.LockState, "unlocked"),
        ];

    private static async Task<PathCase> CaseAsync(Seen job, string? file, bool? erase = null, string? finding = null)
    {
        var package = file is null ? null : await DemoLibrary.ReadAnyAsync(file);
        var original =
            package?.Kind == PackageKind.BundlePart
                ? new Surroundings(await DemoLibrary.ReadAllAsync(), Repo.Catalogue).OriginOf(package)?.Original
                : null;
        return PathCase.Of(
            job.Phone,
            package,
            erase ?? (package is null || job.Policy.DataMayGo),
            Repo.Catalogue,
            job.Policy,
            file is null ? null : job.Of(file),
            original
        ) with
        {
            UsualPaths = Repo.Catalogue.Triage.Class(finding)?.WayOut.Paths ?? [],
        };
    }

    private static async Task<Plan> PlanAsync(Seen job, string? file, string path, string? finding = null)
    {
        var offers = PathOffers.Of(await CaseAsync(job, file, finding: finding));
        var first = offers.Offers.FirstOrDefault(offer => offer.TakesPackage == file is not null && offer.Cost is not null);
        Assert.True(
            first is not null,
            string.Join(" | ", offers.Offers.Select(offer => $"{offer.Path.Letter}: {string.Join(" ", offer.Outcome.Refusals)}"))
        );
        Assert.Equal(path, first.Path.Letter);
        return first.Outcome.Plan!;
    }

    // What a full write makes void; read anew, or not at all.
    private static readonly FactName[] Voided =
    [
        FactName.Mode,
        FactName.DeviceStatus,
        FactName.Root,
        FactName.RootManager,
        FactName.Recovery,
    ];

    private static bool Asks(Plan plan, Seen job, GateId gate) =>
        Gates
            .Evaluate(
                new GateCase(plan, null, job.Phone, null, true, 0, null, [], [], Repo.Catalogue.Figures) { Policy = job.Policy.Plans }
            )
            .Any(one => one.Id == gate);

    [Fact]
    public async Task Job_1_is_planned_keeping_the_data_with_the_wipe_agreed_to_beforehand()
    {
        var job = await SeeAsync(1, more: Tern("TNH60418"));
        var plan = await PlanAsync(job, "TN63E_WHM_r5_full.zip", "A");
        Assert.False(plan.ErasesData);
        Assert.Contains(plan.IfItLoops, step => step.Act is ChooseEntry { Role: null, Partition: "userdata" });
        Assert.True(Asks(plan, job, GateId.DataLoss));
        Assert.False(plan.RaisesFloor);
        Assert.True((await PlanAsync(job, "TN63E_WHM_r6_full.zip", "A")).RaisesFloor);
    }

    [Fact]
    public async Task Job_2_is_planned_under_the_school_of_the_group_and_only_there()
    {
        Fact[] read =
        [
            Read(FactName.ModelCode, "TN41E"),
            Read(FactName.Serial, "TNX20415"),
            Read(FactName.RollbackFloor, "2"),
            Read(FactName.LockState, "locked"),
        ];
        Assert.DoesNotContain("tern4-26w24-KRW.tar", (await SeeAsync(2, more: read)).Usable);
        var group = await SeeAsync(2, policy => policy with { Region = RegionSchool.Group }, more: read);
        var plan = await PlanAsync(group, "tern4-26w24-KRW.tar", "A");
        Assert.True(Asks(plan, group, GateId.DataLoss));
        Assert.Contains(plan.IfItLoops, step => step.Act is ChooseEntry { Partition: "userdata" });
    }

    [Fact]
    public async Task Job_3_has_no_package_and_every_other_way_says_what_it_is_for()
    {
        var job = await SeeAsync(3);
        Assert.Empty(job.Usable);
        var offers = PathOffers.Of(await CaseAsync(job, null));
        Assert.DoesNotContain(offers.Offers, offer => offer.Path is WipeOnly && offer.Cost is not null);
        Assert.Contains(offers.Missing, one => one.Path is BundleClean && one.NeedsPackage);
        Assert.All(offers.Missing, one => Assert.NotEmpty(one.Why));
    }

    [Fact]
    public async Task Job_4_is_written_erased_and_its_lock_closed_over_what_that_proves()
    {
        var job = await SeeAsync(4, more: [.. AtTheBench(), Read(FactName.ModelCode, "HX204"), Read(FactName.Mode, "fastboot")]);
        var written = await PlanAsync(job, "cairn-stock-26w10.tar", "F");
        Assert.True(written.ErasesData);
        var after = new Core.Phones.Phone(
            job.Phone.All.Where(fact => !Voided.Contains(fact.Name))
                .Append(Sample.Fact(FactName.Mode, "setup-wizard", FactSource.Customer, minute: 90))
        );
        var proof = StockProof.Of(
            Repo.Catalogue.Model("HX204")!,
            [new WrittenPlan(written, true, Sample.Noon.AddMinutes(60), await DemoLibrary.ReadAnyAsync("cairn-stock-26w10.tar"))],
            after
        );
        Assert.True(proof.Holds, proof.Why);
        var closing = PathList.Compile(new PathCase(after, null, true, Repo.Catalogue) { IsProvenStock = true }, "J");
        Assert.True(closing.Plan is { ClosesLock: true, ErasesData: true }, string.Join(" ", closing.Refusals));
    }

    [Fact]
    public async Task Job_5_is_written_with_its_data_kept_first()
    {
        var job = await SeeAsync(5, more: [.. AtTheBench(), Read(FactName.ModelCode, "HX204"), Read(FactName.Mode, "fastboot")]);
        var plan = await PlanAsync(job, "cairn-stock-26w10.tar", "F");
        Assert.False(plan.ErasesData);
        Assert.NotEmpty(plan.IfItLoops);
    }

    [Fact]
    public async Task Job_6_is_written_with_the_part_of_its_own_root_manager_and_the_keep_data_pack()
    {
        var job = await SeeAsync(6, more: Tern("TNH60419"));
        var plan = await PlanAsync(job, "patched-system-8.2.tar", "I");
        Assert.True(plan.KeepsRoot);
        Assert.False(plan.ErasesData);
        Assert.Equal(2, plan.Packages.Count);
        Assert.DoesNotContain("patched-system-8.1.tar", job.Usable);
    }

    [Fact]
    public async Task Job_7_is_restored_given_its_recovery_back_and_locked_each_proved_by_looking()
    {
        var model = Repo.Catalogue.Model("OB17")!;
        var job = await SeeAsync(7, more: Read(FactName.Mode, "custom-recovery", FactSource.Customer));
        var restored = await PlanAsync(job, "fell-own-backup.tar", "H");
        var strangers = PathList.Compile(await CaseAsync(job, "fell-backup-from-the-web.tar"));
        Assert.Contains("another phone", string.Join(" ", strangers.Refusals));

        // Restored, started, and brought into its bootloader: now its maker's recovery.
        Core.Phones.Phone Now(params Fact[] read) =>
            new(job.Phone.All.Where(fact => Array.TrueForAll(read, one => one.Name != fact.Name)).Concat(read));
        var image = await DemoLibrary.ReadAnyAsync("recovery.img");
        var atFastboot = Now(
            Read(FactName.Mode, "fastboot"),
            Read(FactName.ModelCode, "OB17"),
            Read(FactName.Serial, "OBF20117"),
            Read(FactName.LockState, "unlocked"),
            Read(FactName.RollbackFloor, "4"),
            Read(FactName.DeviceStatus, "official", FactSource.Settings)
        );
        var recovery = PathList.Compile(PathWorldCase(atFastboot, image, JobGoal.Recovery), "M");
        Assert.True(recovery.Plan is not null, string.Join(" ", recovery.Refusals));

        // Each is looked at after it was written; short of one of them the lock stays open.
        WrittenPlan[] writes =
        [
            new(restored, true, Sample.Noon.AddMinutes(30), await DemoLibrary.ReadAnyAsync("fell-own-backup.tar")),
            // Nobody published that image by itself; it lies, byte for byte, in the update that the maker published.
            new(
                recovery.Plan!,
                true,
                Sample.Noon.AddMinutes(50),
                image,
                new Surroundings(await DemoLibrary.ReadAllAsync(), Repo.Catalogue).ProofOf(image)
            ),
        ];
        Fact At(FactName name, string value, int minute) => Sample.Fact(name, value, FactSource.Settings, minute);
        Fact[] looked =
        [
            At(FactName.Serial, "OBF20117", 60),
            At(FactName.DeviceStatus, "official", 60),
            At(FactName.Recovery, "stock", 61),
            At(FactName.LockState, "unlocked", 61),
            At(FactName.Mode, "system", 62),
        ];
        Assert.True(StockProof.Of(model, writes, Now(looked)) is { Holds: true } proof, StockProof.Of(model, writes, Now(looked)).Why);
        Assert.Contains(
            "Read the device status",
            StockProof.Of(model, writes, Now([looked[0], At(FactName.DeviceStatus, "official", 40), .. looked[2..]])).Why
        );
        Assert.Contains(
            "Open its recovery once",
            StockProof.Of(model, writes, Now([.. looked[..2], At(FactName.Recovery, "custom", 61), .. looked[3..]])).Why
        );
        Assert.Contains("recovery was not written", StockProof.Of(model, writes[..1], Now(looked)).Why);
        Assert.Contains("recovery was not written", StockProof.Of(model, [writes[0], writes[1] with { ProvenBy = null }], Now(looked)).Why);
        Assert.Contains("did not end whole", StockProof.Of(model, [writes[0] with { IsWhole = false }, writes[1]], Now(looked)).Why);
        Assert.False(StockProof.Of(model, [writes[0] with { Package = null }, writes[1]], Now(looked)).Holds);
        // What was written before, out of something that nobody published, and lies outside the backup.
        var radio = restored.Steps[0] with
        {
            Act = new WriteImage(
                ((RestoreBackup)restored.Steps.Single(step => step.Act is RestoreBackup).Act).Images[0] with
                {
                    Partition = "radio",
                    Role = PartitionRole.Radio,
                }
            ),
        };
        WrittenPlan stray = new(restored with { Steps = [radio] }, true, Sample.Noon, null);
        Assert.Contains("this job wrote radio", StockProof.Of(model, [stray, .. writes], Now(looked)).Why);
        var closing = PathList.Compile(new PathCase(Now(looked), null, true, Repo.Catalogue) { IsProvenStock = true }, "J");
        Assert.True(closing.Plan is { ClosesLock: true }, string.Join(" ", closing.Refusals));
    }

    private static PathCase PathWorldCase(Core.Phones.Phone phone, Package package, JobGoal goal) =>
        new(phone, package, false, Repo.Catalogue) { Goal = goal };

    [Fact]
    public async Task Job_8_copies_the_update_to_the_card_anew_and_has_it_put_in()
    {
        var package = await DemoLibrary.ReadAnyAsync("fell-full-2.6.118.zip");
        var job = await SeeAsync(
            8,
            more:
            [
                Read(FactName.Build, "OB17_2.6.112_r04_DNM", FactSource.Settings),
                Read(FactName.Recovery, "stock", FactSource.BootloaderScreen),
                Read(FactName.CardPlace, "internal", FactSource.Settings),
                Read(FactName.CardFileName, "fell-update.zip.zip", FactSource.Settings),
            ]
        );
        var plan = await PlanAsync(job, "fell-full-2.6.118.zip", "G");
        var copy = Assert.IsType<CopyToCard>(plan.Steps.First(step => step.Act is CopyToCard).Act);
        Assert.Contains("fell-update.zip", copy.Words.Title);
        Assert.Equal(package.Id, copy.Sha256);
        Assert.Contains(plan.Steps, step => step.Act is PutInUpdate);
        Assert.True(Asks(plan, job, GateId.RoomThere));
    }

    [Theory]
    [InlineData(9, "link")]
    [InlineData(10, "stuck-screen")]
    [InlineData(14, "power")]
    public async Task Jobs_that_need_no_write_are_found_so_and_the_finding_leads_elsewhere(int number, string finding)
    {
        var known = Repo.Catalogue.Triage.Classes.FirstOrDefault(one => one.Id == finding);
        Assert.True(
            known is not null,
            string.Join(", ", Repo.Catalogue.Triage.Classes.Select(one => $"{one.Id}={string.Join("", one.WayOut.Paths)}"))
        );
        Assert.Empty(known.WayOut.Paths);
        var job = await SeeAsync(number, finding: finding);
        var standing = Core.Jobs.JobLine.Standing(new Core.Jobs.JobState(job.Phone, false, null, [], false, Way: known.WayOut));
        Assert.Equal(known.WayOut.Title, standing.Next);
    }

    [Fact]
    public async Task Job_11_is_not_opened_and_job_12_is()
    {
        var worth = await SeeAsync(12, finding: "boot-chain-gone");
        var file = worth.Ranked.First(pair => pair.Report.MayBePlanned(worth.Policy)).Package.FileName;
        var plan = await PlanAsync(worth, file, "L");
        Assert.Contains(plan.Steps, step => step.Act is OpenToEmergency);
        Assert.True(plan.ErasesData);

        var not = await SeeAsync(11, finding: "boot-chain-gone");
        var bare = PathOffers.Of(await CaseAsync(not, null));
        Assert.DoesNotContain(bare.Offers, offer => offer.Cost is not null);
        Assert.Contains(
            "Not worth opening: the loader supports revisions up to 6, and the phone had 7",
            bare.Missing.Single(one => one.Path is BoardRescue).Why
        );
    }

    [Fact]
    public async Task Job_13_is_locked_by_hands_only_behind_its_proof_and_its_switch_is_looked_after()
    {
        var job = await SeeAsync(13);
        var plan = await PlanAsync(job, null, "J", "wish");
        Assert.True(Asks(plan, job, GateId.ProvenStock));
        Assert.Contains(plan.Steps, step => step.Act is SwitchPermissionOff);
        Assert.True(plan.ErasesData);
    }
}
