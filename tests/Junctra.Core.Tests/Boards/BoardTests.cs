using Junctra.Core.Boards;
using Junctra.StandIns.Boards;
using Junctra.Testing;

namespace Junctra.Core.Tests.Boards;

/// <summary>Pads ranked and told in words, on fifty boards that nobody laid out by hand.</summary>
public sealed class BoardTests
{
    public static TheoryData<int> Seeds => [.. Enumerable.Range(1, Sampled.Of(50, 12))];

    [Fact]
    public void The_boards_are_of_the_size_of_a_phones_and_made_by_their_seed_alone()
    {
        var board = InventedBoard.Of(1).Board;
        Assert.InRange(board.Pads.Count, 1000, 1500);
        Assert.Equal(board.Pads, InventedBoard.Of(1).Board.Pads);
        Assert.NotEqual(board.Pads, InventedBoard.Of(2).Board.Pads);
        Assert.Equal(4, InventedBoard.Of(1).Map.Shields.Count(shield => !shield.Lifts));
    }

    [Theory]
    [MemberData(nameof(Seeds))]
    public void Words_lead_a_second_program_to_the_pad_whichever_way_the_board_lies(int seed)
    {
        var made = InventedBoard.Of(seed);
        var follower = new WordsFollower(made.Board, made.Map);
        foreach (var side in Enum.GetValues<BoardSide>())
        {
            var wanted = PadRanking.Of(made.Board, made.Map, side).Where(one => one.Shield is null).Select(one => one.Pad).ToList();
            // And as many others, so that more than a handful of places are told.
            wanted.AddRange(
                made.Board.Pads.Where(pad =>
                        pad.IsTestPoint && pad.IsOpenTo(side, made.Board.BackLayer) && made.Map.Over(pad, side) is null
                    )
                    .Where((_, i) => i % 12 == seed % 12)
            );
            Assert.NotEmpty(wanted);
            foreach (var turn in new[] { 0, 1 + seed % 3 })
            {
                var place = new PadPlace(made.Board, made.Map, new BoardView(side, turn));
                foreach (var pad in wanted)
                {
                    var words = place.Of(pad).Text;
                    Assert.True(follower.Follow(words) == pad.Line, $"{pad}\n{words}");
                }
            }
        }
    }

    [Fact]
    public void Where_rows_are_plain_they_are_counted_and_only_elsewhere_is_measured()
    {
        var places = Enumerable
            .Range(1, 50)
            .Select(InventedBoard.Of)
            .SelectMany(made =>
                PadRanking
                    .Of(made.Board, made.Map, BoardSide.Front)
                    .Where(one => one.IsOffered)
                    .Take(1)
                    .Select(one => new PadPlace(made.Board, made.Map, new BoardView(BoardSide.Front, 0)).Of(one.Pad).Text)
            )
            .ToList();
        Assert.InRange(places.Count(text => text.Contains("pads lie in rows")), places.Count / 6, places.Count);
    }

    [Theory]
    [MemberData(nameof(Seeds))]
    public void The_ranking_is_that_of_a_plain_search_through_all_pairs(int seed)
    {
        var made = InventedBoard.Of(seed);
        foreach (var side in Enum.GetValues<BoardSide>())
        {
            var ranked = PadRanking.Of(made.Board, made.Map, side);
            Assert.Equal(Plain(made, side), ranked.Select(one => one.Pad.Line));
            Assert.All(ranked, one => Assert.NotEmpty(one.Reasons));
        }
    }

    // All pads against all pads, with lists and loops alone; a key of numbers for each, and a sort by them.
    private static IEnumerable<int> Plain(InventedBoard made, BoardSide side)
    {
        bool On(BoardPad pad) => pad.Access == 0 || (side == BoardSide.Front ? pad.Access == 1 : pad.Access == 2);
        bool Bare(BoardPad pad) => pad.Mask is not { } mask || (mask & (side == BoardSide.Front ? 1 : 2)) == 0;
        bool Hidden(BoardPad pad)
        {
            foreach (var shield in made.Map.Shields)
                if (
                    !shield.Lifts
                    && shield.Side == side
                    && shield.Low.X <= pad.At.X
                    && pad.At.X <= shield.High.X
                    && shield.Low.Y <= pad.At.Y
                    && pad.At.Y <= shield.High.Y
                )
                    return true;
            return false;
        }

        static (double X, double Y) Half(BoardPad pad)
        {
            double h = pad.Height > 0 ? pad.Height : pad.Width;
            return pad.Turned is > 45 and < 135 or > 225 and < 315 ? (h / 2, pad.Width / 2.0) : (pad.Width / 2.0, h / 2);
        }

        static double Gap(double dx, double dy) =>
            Math.Floor(Math.Sqrt(Math.Max(0, dx) * Math.Max(0, dx) + Math.Max(0, dy) * Math.Max(0, dy)));
        var keys = new List<(double[] Key, int Line)>();
        foreach (var pad in made.Board.Pads)
        {
            var wants =
                made.Map.Nets[NetRole.StorageReset].Contains(pad.Net) ? 0
                : made.Map.Nets[NetRole.BootSelect].Contains(pad.Net) ? 1
                : -1;
            if (wants < 0 || pad.Kind == PadKind.Tooling || !On(pad) || !Bare(pad))
                continue;
            var (hx, hy) = Half(pad);
            double supply = double.MaxValue,
                ground = double.MaxValue;
            foreach (var other in made.Board.Pads)
            {
                if (other.Kind == PadKind.Tooling || !On(other) || !Bare(other) || Hidden(other))
                    continue;
                var (ox, oy) = Half(other);
                var gap = Gap(Math.Abs(pad.At.X - other.At.X) - hx - ox, Math.Abs(pad.At.Y - other.At.Y) - hy - oy);
                if (made.Map.Nets[NetRole.Supply].Contains(other.Net))
                    supply = Math.Min(supply, gap);
                if (made.Map.Nets[NetRole.Ground].Contains(other.Net))
                    ground = Math.Min(ground, gap);
            }

            foreach (var shield in made.Map.Shields.Where(shield => !shield.Lifts && shield.Side == side))
                ground = Math.Min(
                    ground,
                    Gap(
                        Math.Max(shield.Low.X - pad.At.X, pad.At.X - shield.High.X) - hx,
                        Math.Max(shield.Low.Y - pad.At.Y, pad.At.Y - shield.High.Y) - hy
                    )
                );
            var size = 2 * Math.Min(hx, hy);
            keys.Add(
                (
                    [
                        Hidden(pad) ? 1 : 0,
                        supply >= 2e6 ? 0
                        : supply >= 0.8e6 ? 1
                        : 2,
                        ground <= 4e6 ? 0
                        : ground <= 10e6 ? 1
                        : 2,
                        size >= 0.8e6 ? 0
                        : size >= 0.45e6 ? 1
                        : 2,
                        wants,
                        -supply,
                        ground,
                        pad.Line,
                    ],
                    pad.Line
                )
            );
        }

        keys.Sort((a, b) => a.Key.Zip(b.Key).Select(pair => pair.First.CompareTo(pair.Second)).FirstOrDefault(order => order != 0));
        return keys.Select(key => key.Line);
    }
}
