using Junctra.Core.Catalogue;
using Junctra.Core.Plans.Acts;

namespace Junctra.Core.Plans;

/// <summary>How long an act takes, and from how many jobs that is known.</summary>
/// <param name="Seconds">Typical and slow, in seconds.</param>
/// <param name="Jobs">Jobs of the shop's own log behind it; 0 where it is the figures'.</param>
public readonly record struct ActTime(Band Seconds, int Jobs);

/// <summary>How long acts take, where the shop's own log knows better than the figures.</summary>
public interface IActTimes
{
    /// <summary>What the log says of an act; null where too few jobs stand behind it.</summary>
    ActTime? Of(Act act);
}
