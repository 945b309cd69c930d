namespace Junctra.Core.Matching;

/// <summary>The questions on which practitioners disagree when a job is planned.</summary>
public static partial class Schools
{
    /// <summary>The questions of the plan (specification: section 9.7 of the job).</summary>
    public static IReadOnlyList<SchoolQuestion> OfPlans { get; } =
    [
        new(
            "wipe",
            "Wiping the data",
            null,
            "loops",
            [
                new(
                    "loops",
                    "by the write, or if it loops",
                    "Fewest hands; and where the data are wanted, they stay unless the phone cannot start with them."
                ),
                new(
                    "before",
                    "before, from custom recovery",
                    "What a custom system left behind is gone before the maker's system meets it."
                ),
                new("held", "with the restart held back", "The phone never starts with the old data, so it cannot loop on them."),
                new("always", "always", "A phone that changes hands must not carry anything of whoever had it."),
            ]
        )
        {
            Get = policy => (int)policy.Plans.Wipe,
            Set = (policy, at) => policy with { Plans = policy.Plans with { Wipe = (WipeSchool)at } },
        },
        new(
            "layout",
            "Layout with a bundle",
            null,
            "damaged",
            [
                new("never", "never", "A layout that is not the phone's own is the end of its data, and may be the end of the phone."),
                new("damaged", "only where it is damaged", "A layout that is whole need not be written; one that is not takes no bundle."),
                new("always", "wherever the data go", "The phone is then as it left its maker, whatever somebody did to its layout."),
            ]
        )
        {
            Get = policy => (int)policy.Plans.Layout,
            Set = (policy, at) => policy with { Plans = policy.Plans with { Layout = (LayoutSchool)at } },
        },
        new(
            "keeping",
            "A stock write keeps the data",
            null,
            "never-trust",
            [
                new(
                    "never-trust",
                    "not to be trusted",
                    "A phone that loops afterwards must be wiped: whoever wants the data agrees to that before, or saves them."
                ),
                new(
                    "trust",
                    "trusted",
                    "Nothing that is written holds the data, and most phones start with them. A backup or its waiver is asked for all the same."
                ),
            ]
        )
        {
            Get = policy => policy.Plans.TrustsKeeping ? 1 : 0,
            Set = (policy, at) => policy with { Plans = policy.Plans with { TrustsKeeping = at == 1 } },
        },
        new(
            "first",
            "Where nobody said whether the data are wanted",
            null,
            "keep",
            [
                new("keep", "keep them first", "What is kept can still be wiped; what is wiped is gone."),
                new("clean", "clean at once", "One write instead of two, and no loop on old data."),
            ]
        )
        {
            Get = policy => policy.Plans.CleanAtOnce ? 1 : 0,
            Set = (policy, at) => policy with { Plans = policy.Plans with { CleanAtOnce = at == 1 } },
        },
        new(
            "relock",
            "Closing a lock erases the data",
            null,
            "assume",
            [
                new("assume", "assumed of every model", "Most do, and nobody gets data back that were thought safe."),
                new(
                    "model",
                    "as the catalogue has it",
                    "Older phones keep them, and a consent that costs nothing is soon given without reading."
                ),
            ]
        )
        {
            Get = policy => policy.Plans.AssumesRelockErases ? 0 : 1,
            Set = (policy, at) => policy with { Plans = policy.Plans with { AssumesRelockErases = at == 0 } },
        },
    ];
}
