namespace Junctra.Core.Matching;

/// <summary>The questions on which practitioners disagree when a plan is carried out.</summary>
public static partial class Schools
{
    /// <summary>The questions of carrying out (specification: section 9.7 of the job).</summary>
    public static IReadOnlyList<SchoolQuestion> OfWatching { get; } =
    [
        new(
            "restart",
            "Restart after a write",
            null,
            "automatic",
            [
                new("automatic", "automatic", "The phone starts when all is accepted: fewest hands, and no wait that nobody watches."),
                new("held", "held", "Whoever is at the bench reads what the phone says first, and lets it start, or goes into recovery."),
            ]
        )
        {
            Get = policy => policy.Plans.HoldsRestart ? 1 : 0,
            Set = (policy, at) => policy with { Plans = policy.Plans with { HoldsRestart = at == 1 } },
        },
        new(
            "unplug",
            "Unplugging after a write",
            null,
            "booted",
            [
                new("booted", "after it has booted", "Until then it may still write by itself, and a first boot takes much charge."),
                new("restarts", "when the phone restarts", "All is accepted and put away then; the port is free for the next phone."),
            ]
        )
        {
            Get = policy => policy.Plans.UnplugsAtRestart ? 1 : 0,
            Set = (policy, at) => policy with { Plans = policy.Plans with { UnplugsAtRestart = at == 1 } },
        },
        new(
            "hang",
            "A hang is judged by",
            null,
            "progress",
            [
                new(
                    "progress",
                    "no progress",
                    "Large images take long and are no hang while bytes move; what counts is how long nothing does, sent or put away."
                ),
                new("six-minutes", "six minutes", "A step that takes longer than that has seldom ended well; it is looked at."),
                new("ten-minutes", "ten minutes", "Older phones take their time; what takes longer than ten minutes is looked at."),
            ]
        )
        {
            Get = policy => (int)policy.Plans.Hang,
            Set = (policy, at) => policy with { Plans = policy.Plans with { Hang = (HangSchool)at } },
        },
        new(
            "kit",
            "Connection kit",
            null,
            "driver",
            [
                new(
                    "driver",
                    "driver only",
                    "The companion program takes the port for itself; without it nothing stands between writer and phone."
                ),
                new("suite", "whole companion suite", "It brings the drivers of all links, kept up by their maker; ended before a write."),
            ]
        )
        {
            Get = policy => policy.Plans.HasWholeSuite ? 1 : 0,
            Set = (policy, at) => policy with { Plans = policy.Plans with { HasWholeSuite = at == 1 } },
        },
        new(
            "online",
            "The maker's one-click online writer",
            null,
            "local",
            [
                new(
                    "local",
                    "not used: step by step, from here",
                    "About two in ten one-click runs were told to end in a loop; and a lost line must never stop a write."
                ),
                new("first", "tried first", "It brings the newest build for that very phone, and asks for nothing but a line."),
            ]
        )
        {
            Get = policy => policy.Plans.OnlineFirst ? 1 : 0,
            Set = (policy, at) => policy with { Plans = policy.Plans with { OnlineFirst = at == 1 } },
        },
    ];
}
