"""Packages and their releases."""

from __future__ import annotations

from typing import Any

from tallyman.errors import Clash, Fault, InputFaults, NotFound
from tallyman.formats.package_zip import read_package
from tallyman.services.context import Ctx, audit, changed
from tallyman.store import files
from tallyman.store.db import Row, Tx


def release(ctx: Ctx, data: bytes, note: str) -> int:
    """Keeps a checked package as a new release; raises InputFaults naming whatever is wrong."""
    ctx.require("package.make")
    manifest = read_package(data)
    if len(note) > 1000:
        raise InputFaults([Fault("note", note[:40] + "…", "up to 1,000 characters")])

    def work(tx: Tx) -> int:
        package_id = tx.insert("packages.add_package", name=manifest.name, now=ctx.now)
        try:
            release_id = tx.insert(
                "packages.add_release",
                package=package_id,
                version=manifest.version,
                entry=manifest.entry,
                about=manifest.about,
                note=note.strip(),
                inputs=manifest.inputs,
                outputs=manifest.outputs,
                tags=list(manifest.tags),
                files=[list(file) for file in manifest.files],
                digest=files.put(tx, data, ctx.now),
                size=len(data),
                person=ctx.actor.person_id,
                now=ctx.now,
            )
        except Clash as error:
            message = f"{manifest.name} {manifest.version} {error.message}"
            raise InputFaults([Fault("version", manifest.version, message)]) from None
        words = f"Released {manifest.name} {manifest.version}"
        audit(tx, ctx, "release made", f"release:{release_id}", words, None, {"size": len(data)})
        changed(tx, ctx, "packages", release_id)
        return release_id

    return ctx.db.transact(work)


def listed(ctx: Ctx) -> list[Row]:
    """All releases, the newest first."""
    ctx.require("package.see")
    return ctx.db.transact(lambda tx: tx.all("packages.releases"))


def one(ctx: Ctx, release_id: int) -> dict[str, Any]:
    """One release with its schemas and files."""
    ctx.require("package.see")

    def work(tx: Tx) -> dict[str, Any]:
        row = tx.one("packages.release", id=release_id)
        if row is None:
            raise NotFound("There is no such release.", "Choose one in the Workshop.")
        row["versions"] = tx.all("packages.versions", name=row["package"])
        return row

    return ctx.db.transact(work)
