using Junctra.Core.Packages;
using Junctra.Formats.Archives;
using Junctra.Formats.Text;

namespace Junctra.Formats.Inspection;

/// <summary>One member of a package: what it is, and how it is read.</summary>
internal sealed partial class PackageWalk
{
    /// <summary>Takes one member in, whatever it is.</summary>
    private async Task ReadMemberAsync(string entryName, Stream data, long length, Place place, long? offset, CancellationToken cancel)
    {
        var at = new Spot(place.Name(entryName), place, found.NextNumber());
        await using var member = await MemberStream.OpenAsync(data, length, limits.MaxTextBytes, cancel).ConfigureAwait(false);
        Watch(member);
        if (!GoTogether(at.Name, member.Kind))
        {
            // Never written, and never passed over in silence: some partition would go without it.
            await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
            found.Fatal(
                $"{at.Name} is named as {Content.Word(Content.NamedAs(at.Name)!.Value).Replace("none of these", "an image")} and is {Content.Word(member.Kind).Replace("none of these", "none")}: its name and its bytes do not go together."
            );
            Add(at, MemberKind.Stray, member, null, await member.DigestAsync().ConfigureAwait(false));
            return;
        }

        if (ChecksumText.IsListName(at.Name) && member.Kind != ContentKind.Text)
            found.Doubt($"{at.Name} is named as a list of digests, and cannot be read as one.");
        switch (member.Kind)
        {
            case ContentKind.Tar or ContentKind.Zip:
                await ReadInnerArchiveAsync(at, member, length, offset, cancel).ConfigureAwait(false);
                break;
            case ContentKind.Gzip or ContentKind.Lz4 or ContentKind.Zstandard or ContentKind.Xz or ContentKind.Bzip2:
                await ReadWrappedAsync(at, member, cancel).ConfigureAwait(false);
                break;
            case ContentKind.Sparse or ContentKind.Raw:
                member.Copy = copyTo?.Invoke(at.Number);
                var image = await ReadImageAsync(at.Name, member, Wrapping.None, offset, cancel).ConfigureAwait(false);
                Add(at, MemberKind.Image, member, image, image.Sha256);
                break;
            case ContentKind.Foreign:
                await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
                found.Fatal($"{at.Name} is packed with {Content.ForeignName(member.Start)}, which is not unpacked here.");
                Add(at, MemberKind.Stray, member, null, await member.DigestAsync().ConfigureAwait(false));
                break;
            default:
                await ReadTextAsync(at, member, cancel).ConfigureAwait(false);
                break;
        }
    }

    /// <summary>Whether a member may be what its name says. A name without an ending that says anything goes with everything.</summary>
    private static bool GoTogether(string name, ContentKind kind) =>
        kind == ContentKind.Foreign
        || Content.NamedAs(name) switch
        {
            null => true,
            ContentKind.Raw => kind is ContentKind.Raw or ContentKind.Sparse,
            // A part of a bundle is often called a TAR and is one, packed.
            ContentKind.Tar => kind == ContentKind.Tar || Content.WrappingOf(kind) is not null,
            var told => kind == told,
        };

    private async Task ReadTextAsync(Spot at, MemberStream member, CancellationToken cancel)
    {
        await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
        var within = at.Place.Within;
        var kind = found.TakeText(Content.AsText(member.Start) ?? "", within is null ? at.Name : at.Name[(within.Length + 1)..], within);
        Add(at, kind, member, null, await member.DigestAsync().ConfigureAwait(false));
    }

    private async Task ReadInnerArchiveAsync(Spot at, MemberStream member, long length, long? offset, CancellationToken cancel)
    {
        if (at.Place.Depth >= limits.MaxDepth)
        {
            await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
            found.Fatal($"{at.Name} is an archive, {at.Place.Depth + 1} deep; archives are followed {limits.MaxDepth} deep.");
            Add(at, MemberKind.Archive, member, null, await member.DigestAsync().ConfigureAwait(false));
            return;
        }

        var inside = new Place(at.Name, at.Place.Depth + 1, offset);
        var place = found.Members.Count;
        if (offset is { } begins)
        {
            // It lies plainly in the file: it is walked by a reading of its own while this one digests it.
            Stream Reopen() => new SlicedStream(open(), begins, length, leaveOpen: false);
            var walking = Task.Run(
                async () =>
                {
                    await using var slice = Reopen();
                    await DamageEndsHereAsync(at.Name, () => WalkArchiveAsync(member.Kind, slice, Reopen, inside, cancel))
                        .ConfigureAwait(false);
                },
                cancel
            );
            try
            {
                await member.DrainAsync(new byte[BufferBytes], cancel).ConfigureAwait(false);
            }
            finally
            {
                await walking.ConfigureAwait(false);
            }
        }
        else
        {
            member.DigestBeside();
            await DamageEndsHereAsync(at.Name, () => WalkArchiveAsync(member.Kind, member, null, inside, cancel)).ConfigureAwait(false);
            await member.DrainAsync(buffer, cancel).ConfigureAwait(false);
        }

        found.Members.Insert(
            place,
            new PackageMember(
                at.Number,
                at.Name,
                at.Place.Within,
                MemberKind.Archive,
                member.Position,
                await member.DigestAsync().ConfigureAwait(false),
                Others: member.Others?.Digests()
            )
        );
    }

    private async Task ReadWrappedAsync(Spot at, MemberStream packed, CancellationToken cancel)
    {
        packed.DigestBeside();
        MemberImage? image = null;
        var kind = MemberKind.Stray;
        var place = found.Members.Count;
        await DamageEndsHereAsync(at.Name, async () =>
            {
                await using var unwrapped = Unwrapping.Open(packed.Kind, packed);
                await using var inner = await MemberStream
                    .OpenAsync(Guarded(unwrapped), null, limits.MaxTextBytes, cancel)
                    .ConfigureAwait(false);
                Watch(inner);
                var plainName = at.Name.LastIndexOf('.') is > 0 and var dot ? at.Name[..dot] : at.Name;
                if (Content.NamedAs(at.Name) is not null && !GoTogether(plainName, inner.Kind))
                {
                    await inner.DrainAsync(buffer, cancel).ConfigureAwait(false);
                    found.Fatal(
                        $"{at.Name} holds {Content.Word(inner.Kind).Replace("none of these", "something else")}, which its name does not go with."
                    );
                    return;
                }

                switch (inner.Kind)
                {
                    case ContentKind.Sparse or ContentKind.Raw:
                        kind = MemberKind.Image;
                        inner.Copy = copyTo?.Invoke(at.Number);
                        image = await ReadImageAsync(at.Name, inner, Content.WrappingOf(packed.Kind)!.Value, null, cancel)
                            .ConfigureAwait(false);
                        break;
                    case ContentKind.Tar or ContentKind.Zip when at.Place.Depth < limits.MaxDepth:
                        kind = MemberKind.Archive;
                        await WalkArchiveAsync(inner.Kind, inner, null, new Place(at.Name, at.Place.Depth + 1, null), cancel)
                            .ConfigureAwait(false);
                        await inner.DrainAsync(buffer, cancel).ConfigureAwait(false);
                        break;
                    case ContentKind.Text or ContentKind.Empty:
                        await inner.DrainAsync(buffer, cancel).ConfigureAwait(false);
                        found.Note($"{at.Name} holds {Content.Word(inner.Kind)}, packed; it is ignored.");
                        break;
                    default:
                        found.Fatal($"{at.Name} is packed more than once, which is not unpacked here.");
                        break;
                }
            })
            .ConfigureAwait(false);
        // What broke off within the image is none.
        if (image is null && kind == MemberKind.Image)
            kind = MemberKind.Stray;
        await packed.DrainAsync(buffer, cancel).ConfigureAwait(false);
        found.Members.Insert(
            place,
            new PackageMember(
                at.Number,
                at.Name,
                at.Place.Within,
                kind,
                packed.Position,
                await packed.DigestAsync().ConfigureAwait(false),
                image,
                packed.Others?.Digests()
            )
        );
    }
}
