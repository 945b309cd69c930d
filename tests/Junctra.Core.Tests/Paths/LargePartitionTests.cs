using Junctra.Core.Catalogue;
using Junctra.Core.Facts;
using Junctra.Core.Matching;
using Junctra.Core.Packages;
using Junctra.Core.Plans;
using Junctra.Core.Plans.Acts;
using Junctra.Core.Plans.Paths;
using Junctra.Testing;

namespace Junctra.Core.Tests.Paths;

/// <summary>
/// Models with two slots whose system lies with others inside one large partition: written whole in the bootloader, or image by image in
/// the recovery-hosted command mode.
/// </summary>
public class LargePartitionTests
{
    private static readonly PhoneModel Model = Repo.Catalogue.Models.First(model => model.DynamicPartitions.Count > 0);

    private static PathCase Case(Package package, bool erase = true) =>
        PathWorld.Case(PathWorld.Phone(Model.Code, PhoneMode.Fastboot, (FactName.DeviceStatus, "official")), package, erase);

    private static Package Loose { get; } = WholePackage.Of(Model, loose: true);

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public void What_lies_inside_is_written_after_the_boot_image_in_the_mode_that_reaches_it_and_left_for_the_rest(bool erase)
    {
        var plan = PathWorld.Plan(Case(Loose, erase), "F");
        var acts = plan.Steps.Select(step => step.Act).ToList();
        var enters = acts.FindIndex(act => act is RestartInto { ToCommandMode: true });
        var leaves = acts.FindIndex(act => act is RestartInto { FromCommandMode: true });
        Assert.Equal(
            Model.DynamicPartitions,
            acts.Skip(enters + 1).Take(leaves - enters - 1).Cast<WriteImage>().Select(write => write.Image.Partition)
        );
        Assert.All(acts.Take(enters).OfType<WriteImage>(), write => Assert.Equal(PhoneMode.Fastboot, write.In));
        // That mode is hosted by the recovery that its new boot image brings.
        Assert.Contains(acts.Take(enters), act => act is WriteImage { Image.Role: PartitionRole.Boot });
        Assert.Equal(erase, acts.Skip(leaves).Any(act => act is ErasePartition));
        Assert.DoesNotContain(acts, act => act.Touches.Any(touch => touch.Partition == Model.Large!.Name));
        // Only the boot chain is without a way back; a break in that mode is mended by keys.
        Assert.All(plan.Steps.Where(step => step.Act.In == PhoneMode.RecoveryCommands), step =>
            Assert.InRange(plan.RiskOf(step).Risk, RiskKind.SafeToStop, RiskKind.KeysBringItBack)
        );
    }

    [Fact]
    public void The_slots_are_told_which_is_written_and_what_the_other_is_good_for()
    {
        var plan = PathWorld.Plan(Case(Loose), "F");
        Assert.Equal("written", PathWorld.Fate(plan, "Slot a").Word);
        Assert.Contains("image by image", PathWorld.Fate(plan, "Slot a").Reason);
        Assert.Contains("falls back to it", PathWorld.Fate(plan, "Slot b").Reason);
        Assert.Contains("in one image", PathWorld.Fate(PathWorld.Plan(Case(WholePackage.Of(Model)), "F"), "Slot a").Reason);
    }

    [Fact]
    public void What_a_package_lacks_of_it_is_named_and_one_that_brings_it_twice_is_not_planned()
    {
        var half = Loose with { Images = [.. Loose.Images.Where(image => image.Partition != Model.DynamicPartitions[^1])] };
        Assert.Contains($"no image for {Model.DynamicPartitions[^1]}", PathWorld.Refusal(Case(half), "F"));
        var none = Loose with { Images = [.. Loose.Images.Where(image => !Model.DynamicPartitions.Contains(image.Partition))] };
        Assert.Contains($"no image for {Model.Large!.Name}", PathWorld.Refusal(Case(none), "F"));
        var twice = WholePackage.Of(Model);
        twice = twice with { Images = [.. twice.Images, Loose.Image(Model.DynamicPartitions[0])!] };
        Assert.Contains("which of them counts", PathWorld.Refusal(Case(twice), "F"));
    }

    [Fact]
    public void The_match_takes_them_and_counts_them_together_against_the_large_one()
    {
        RuleResult Result(Package package, RuleId rule, params (FactName, string?)[] facts) =>
            Matcher
                .Match(PathWorld.Phone(Model.Code, PhoneMode.Fastboot, facts), package, Repo.Catalogue, MatchPolicy.Careful)
                .Results.Single(result => result.RuleId == rule);
        Assert.Equal(Verdict.Go, Result(Loose, RuleId.Complete).Verdict);
        Assert.Equal(Verdict.Go, Result(Loose, RuleId.Fits).Verdict);
        var size = FactName.PartitionSize(Model.Large!.Name);
        var tight = Loose.Images.Where(image => Model.DynamicPartitions.Contains(image.Partition)).Sum(image => image.Body.ExpandedBytes);
        Assert.Equal(Verdict.Go, Result(Loose, RuleId.Fits, (size, $"{tight}")).Verdict);
        var result = Result(Loose, RuleId.Fits, (size, $"{tight - 1}"));
        Assert.Equal(Verdict.Stop, result.Verdict);
        Assert.Contains(Model.Large.Name, result.Sentence);
    }

    [Fact]
    public void A_backup_of_something_inside_it_is_not_left_out_in_silence()
    {
        var backup = WholePackage.Backup(Model, "SN" + Model.Code);
        backup = backup with { Images = [.. backup.Images, Loose.Image(Model.DynamicPartitions[0])!] };
        var phone = PathWorld.Phone(Model.Code, PhoneMode.CustomRecovery, (FactName.Recovery, "custom"));
        Assert.Contains("recovery puts only the whole", PathWorld.Refusal(PathWorld.Case(phone, backup, true), "H"));
    }
}
