using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Phones;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>Board rescue (path L), an update that keeps root (path I), and the data first (path N).</summary>
public class RescueRootAndDataTests
{
    public static TheoryData<string> Rescued =>
        PathWorld.Codes(model =>
            model.WriteMode == PhoneMode.Download
            && Repo.Catalogue.MakerOf(model.Code)!.Loaders.Any(loader => loader.Chip == model.ChipFamily)
        );

    private static PathCase Dead(string code, int phone = 3, int brings = 3, PhoneMode mode = PhoneMode.Off, bool erase = true) =>
        PathWorld.Case(
            PathWorld.Phone(
                code,
                mode,
                (FactName.RollbackFloor, phone.ToString()),
                (FactName.BootloaderRevision, phone.ToString()),
                (FactName.Serial, null)
            ),
            WholePackage.Of(PathWorld.Model(code), brings),
            erase
        ) with
        {
            NeedsRescue = true,
        };

    [Theory]
    [MemberData(nameof(Rescued))]
    public void A_dead_phone_gets_its_chain_through_a_loader_and_then_the_clean_bundle(string code)
    {
        foreach (var mode in new[] { PhoneMode.Off, PhoneMode.Emergency })
        {
            var plan = PathWorld.Plan(Dead(code, mode: mode), "L");
            Assert.Equal("L", PathList.Compile(Dead(code, mode: mode)).Plan?.Choice.Path);
            Assert.Equal(mode == PhoneMode.Off, plan.Steps.Any(step => step.Act is OpenToEmergency));
            var through = Assert.IsType<WriteThroughLoader>(plan.Steps.Single(step => step.Act is WriteThroughLoader).Act);
            Assert.All(through.Images, image => Assert.Equal(PartitionRole.BootChain, image.Role));
            Assert.Contains(plan.Steps, step => step.Act is SendBundle { HoldsRestart: false });
            Assert.True(plan.ErasesData);
        }
    }

    [Fact]
    public void Whether_it_is_worth_opening_is_said_before_it_is_opened()
    {
        Assert.Contains(
            "Not worth opening: the loader supports revisions up to 6, and the phone had 7",
            PathWorld.Refusal(Dead("TN63W", 7, 7), "L")
        );
        // It is said before a package is chosen, too.
        var offers = PathOffers.Of(Dead("TN63W", 7, 7) with { Package = null });
        Assert.Contains(offers.Missing, one => one.Path.Letter == "L" && one.Why.StartsWith("Not worth opening", StringComparison.Ordinal));
        Assert.NotNull(PathList.Compile(Dead("TN63W", 6, 6), "L").Plan);
        Assert.Contains("starts from none below", PathWorld.Refusal(Dead("TN63W", 6, 5), "L"));
        Assert.Contains("the loader supports revisions up to", PathWorld.Refusal(Dead("TN63W", 5, 7), "L"));
        Assert.Contains("No emergency loader", PathWorld.Refusal(Dead("TN41E"), "L"));
        var unknown = PathWorld.Phone("TN63W", PhoneMode.Off, (FactName.RollbackFloor, null), (FactName.BootloaderRevision, null));
        Assert.Contains("Look into the logbook", PathWorld.Refusal(Dead("TN63W") with { Phone = unknown }, "L"));
        Assert.Contains("in doubt", PathWorld.Refusal(Dead("TN63W") with { Phone = Doubted() }, "L"));
        Assert.Contains("need not be opened", PathWorld.Refusal(Dead("TN63W", mode: PhoneMode.Download), "L"));
        Assert.Contains("to be kept", PathWorld.Refusal(Dead("TN63W", erase: false), "L"));

        Core.Phones.Phone Doubted() =>
            new(PathWorld.Phone("TN63W", PhoneMode.Off).All.Append(Sample.Fact(FactName.ChipFamily, "Merak Four")));
    }

    [Fact]
    public void A_package_for_a_dead_phone_may_be_planned_with_before_its_floor_is_read_and_no_other_may()
    {
        var package = WholePackage.Of(PathWorld.Model("TN63W"), 6);
        Phone Known(FactSource source) =>
            Sample.Phone(
                Sample.Fact(FactName.ModelCode, "TN63W", FactSource.Label),
                Sample.Fact(FactName.RollbackFloor, "6", source),
                Sample.Fact(FactName.Mode, "off", FactSource.Customer)
            );
        var policy = MatchPolicy.Careful with { DataMayGo = true, NeedsBoardRescue = true };
        var report = Matcher.Match(Known(FactSource.Logbook), package, Repo.Catalogue, policy);
        Assert.Equal((Verdict.Ask, false, true), (report.Verdict, report.MayBeChosen, report.MayBePlanned(policy)));
        Assert.False(report.MayBePlanned(policy with { NeedsBoardRescue = false }));
        var older = Matcher.Match(Known(FactSource.Logbook), WholePackage.Of(PathWorld.Model("TN63W"), 5), Repo.Catalogue, policy);
        Assert.False(older.MayBePlanned(policy));
    }

    [Fact]
    public void Only_trained_hands_open_it()
    {
        var @case = Dead("TN63W");
        List<GateId> Of(PathCase one) =>
            [
                .. Gates
                    .Evaluate(new GateCase(PathWorld.Plan(one, "L"), null, one.Phone, null, true, 0, null, [], [], Repo.Catalogue.Figures))
                    .Select(gate => gate.Id),
            ];
        Assert.Contains(GateId.Trained, Of(@case));
        Assert.DoesNotContain(GateId.Trained, Of(Dead("TN63W", mode: PhoneMode.Emergency)));
    }

    private const string Build = "TN63E.3.2608.WHM1";

    private static PathCase Rooted(Package package, Package? original = null, params (FactName Name, string? Value)[] more) =>
        PathWorld.Case(
            PathWorld.Phone(
                "TN63E",
                original is null ? PhoneMode.System : PhoneMode.Download,
                [
                    .. new (FactName, string?)[]
                    {
                        (FactName.Root, "present"),
                        (FactName.RootManager, "8.2"),
                        (FactName.DeviceStatus, "official"),
                        (FactName.UsbDebugging, "authorised"),
                    }.Where(one => more.All(given => given.Name != one.Item1)),
                    .. more,
                ]
            ),
            package,
            false,
            JobGoal.KeepRoot
        ) with
        {
            Original = original,
        };

    [Fact]
    public void A_patched_part_goes_in_place_of_its_makers_with_the_keep_data_pack_and_root_stays()
    {
        var plan = PathWorld.Plan(Rooted(Sample.Patched(Build, "root manager 8.2"), Sample.Bundle(Build, true)), "I");
        var send = Assert.IsType<SendBundle>(plan.Steps.Single(step => step.Act is SendBundle).Act);
        Assert.Equal(PartKind.KeepDataPack, send.Pack);
        Assert.Equal("8.2", send.Images.Single(image => image.Partition == "boot").Origin.Root);
        Assert.Equal(PartitionRole.BootChain, send.Images[0].Role);
        Assert.Equal(2, plan.Packages.Count);
        Assert.True(plan.KeepsRoot);
        Assert.Equal("root is kept", PathWorld.Fate(plan, "Root").Word);
        // Root before the build: without it the update has failed, whatever its number.
        Assert.Equal((FactName.Root.Name, "present"), (plan.Rehearsal.Expectations[0].Fact, plan.Rehearsal.Expectations[0].Value));
        Assert.Equal(FateKind.OneWay, PathWorld.Fate(plan, "Tamper fuse").Kind);
    }

    [Fact]
    public void A_whole_bundle_first_has_its_system_part_patched_on_the_phone_and_nothing_is_written()
    {
        var plan = PathWorld.Plan(Rooted(Sample.Bundle(Build, true)), "I");
        Assert.False(plan.Changes);
        Assert.Equal(
            [
                nameof(VerifyFiles),
                nameof(UnpackPart),
                nameof(ConfirmTarget),
                nameof(CopyOverDebugging),
                nameof(PatchOnPhone),
                nameof(CopyOverDebugging),
                nameof(TakeInPatched),
                nameof(CheckResult),
            ],
            plan.Steps.Select(step => step.Act.GetType().Name)
        );
        Assert.All(plan.Rehearsal.Risks, risk => Assert.False(risk.DataGone || risk.IsNoReturn));
    }

    [Fact]
    public void What_speaks_against_keeping_root_is_named()
    {
        var (part, bundle) = (Sample.Patched(Build, "root manager 8.2"), Sample.Bundle(Build, true));
        Assert.Contains("8.1; the phone has 8.2", PathWorld.Refusal(Rooted(Sample.Patched(Build, "root manager 8.1"), bundle), "I"));
        Assert.Contains("not in the library", PathWorld.Refusal(Rooted(part), "I"));
        Assert.Contains("no keep-data pack", PathWorld.Refusal(Rooted(part, Sample.Bundle(Build, false)), "I"));
        Assert.Contains("does not say", PathWorld.Refusal(Rooted(Sample.Patched(Build, null), bundle), "I"));
        Assert.Contains("is not known", PathWorld.Refusal(Rooted(part, bundle, (FactName.RootManager, null)), "I"));
        Assert.Contains("to be open", PathWorld.Refusal(Rooted(part, bundle, (FactName.LockState, "locked")), "I"));
        Assert.Contains("not for an update that keeps root", PathWorld.Refusal(Rooted(part, bundle) with { Goal = JobGoal.Update }, "I"));
        Assert.Contains("not allowed", PathWorld.Refusal(Rooted(bundle, null, (FactName.UsbDebugging, "off")), "I"));
        Assert.Contains("must run", PathWorld.Refusal(Rooted(bundle, null, (FactName.Mode, "download")), "I"));
    }

    public static TheoryData<string> Every => PathWorld.Codes(_ => true);

    [Theory]
    [MemberData(nameof(Every))]
    public void Data_are_saved_first_by_what_the_phone_still_allows_and_nothing_is_changed(string code)
    {
        (SavingMeans Means, PhoneMode Mode, (FactName, string?)[] Facts)[] ways =
        [
            (SavingMeans.DebuggingLink, PhoneMode.System, [(FactName.UsbDebugging, "authorised")]),
            (SavingMeans.Card, PhoneMode.System, [(FactName.UsbDebugging, "off"), (FactName.Card, "present")]),
            (SavingMeans.RecoveryLink, PhoneMode.BootLoop, [(FactName.Recovery, "custom")]),
        ];
        foreach (var (means, mode, facts) in ways)
        {
            var plan = PathWorld.Plan(PathWorld.Case(PathWorld.Phone(code, mode, facts), null, false), "N");
            Assert.Equal(means, Assert.IsType<SaveData>(plan.Steps.Single(step => step.Act is SaveData).Act).Means);
            Assert.False(plan.Changes);
            Assert.Equal(FateKind.Kept, PathWorld.Fate(plan, "Photos").Kind);
            Assert.All(plan.Rehearsal.Risks, risk => Assert.False(risk.IsNoReturn || risk.DataGone, $"{risk.Step}: {risk.Words}"));
        }
    }

    [Fact]
    public void Where_nothing_gives_the_data_out_that_is_said()
    {
        string Of(PhoneMode mode, params (FactName, string?)[] facts) =>
            PathWorld.Refusal(PathWorld.Case(PathWorld.Phone("TN63E", mode, facts), null, false), "N");
        Assert.Contains("which gives no data out", Of(PhoneMode.BootLoop, (FactName.Recovery, "stock")));
        Assert.Contains("is not known", Of(PhoneMode.BootLoop));
        Assert.Contains("Turn USB debugging on", Of(PhoneMode.System, (FactName.Card, "none")));
        Assert.Contains("no way leads into custom recovery", Of(PhoneMode.Emergency, (FactName.Recovery, "custom")));
        Assert.Contains("Look at it", Of(PhoneMode.Unknown));
        Assert.Contains(
            "nothing to save",
            PathList.Find("N")!.WhyUnfit(PathWorld.Case(PathWorld.Phone("TN63E", PhoneMode.System), null, true))
        );
    }
}
