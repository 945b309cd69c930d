#!/usr/bin/env bash
# What the inspection of a bundle is held against: only the digests of the same bytes, by the system's own tools. The digest of the file, then of every
# image of every part, extracted, decompressed and digested in one pipe each.
set -euo pipefail
package=$1
sha256sum "$package"
unzip -Z1 "$package" | while read -r part; do
    unzip -p "$package" "$part" | tar -t | while read -r member; do
        case $member in
            *.lz4) unzip -p "$package" "$part" | tar -xO "$member" | lz4 -dcq | sha256sum ;;
            *) unzip -p "$package" "$part" | tar -xO "$member" | sha256sum ;;
        esac
    done
done
