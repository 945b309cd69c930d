#!/usr/bin/env bash
# What the inspection of a package is held against: only the digests of the same bytes, by the system's own tools. The digest of
# the file, then of every member, extracted, decompressed and digested in one pipe each.
set -euo pipefail
package=$1
sha256sum "$package"
tar -tf "$package" | while read -r member; do
    case $member in
        *.lz4) tar -xOf "$package" "$member" | lz4 -dcq | sha256sum ;;
        *.gz) tar -xOf "$package" "$member" | gzip -dc | sha256sum ;;
        *) tar -xOf "$package" "$member" | sha256sum ;;
    esac
done
