"""Packages and their releases."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from tallyman.core.workshop.words import Origin, Said, SeenBy
from tallyman.errors import Clash, Fault, InputFaults
from tallyman.formats import apart
from tallyman.formats.package_zip import LARGEST, Manifest, faults_of_name, read_package
from tallyman.formats.requirements import WHEEL, Requirement
from tallyman.formats.uploads import ZIP, clean_name
from tallyman.services import people
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.workshop import numbering, placing, releasing, sight
from tallyman.services.workshop.answers import Release, ReleaseLook, ReleaseRow, WheelName, WheelRow
from tallyman.signed import fits, shown
from tallyman.store import files
from tallyman.store.db import Tx
from tallyman.store.records.workshop import PackagesWheelsByDigest, Version


def _check_code(data: bytes) -> None:
    """Raises InputFaults naming every file that does not compile; foreign code is looked at apart."""
    wrong = apart.run("code", data)["faults"]
    if wrong:
        raise InputFaults([Fault(**one) for one in wrong])


NOTHING_SAID: Said = ""


@dataclass(frozen=True)
class Given:
    """What a builder says of a release: a note, how much it changes, a number if package.toml has none."""

    note: str
    says: Said = ""
    number: str = ""
    origin: Origin = "page"
    # By a key of the builder's own; none, where it is not signed.
    signature: str = ""
    seen_by: SeenBy = "company"
    # Of one that an area sees.
    area_id: int | None = None


def _checked(data: bytes) -> Manifest:
    """What a package declares, once everything was looked at. Raises InputFaults naming whatever is wrong."""
    manifest = read_package(data)
    if wrong := faults_of_name(manifest):
        raise InputFaults(wrong)
    _check_code(data)
    return manifest


def look(ctx: Ctx, data: bytes) -> ReleaseLook:
    """What a package would be as a release, before it is one. Raises InputFaults like `release`."""
    ctx.require("package.make")
    manifest = _checked(data)
    return ctx.db.transact(lambda tx: releasing.look(tx, data, manifest))


def release(ctx: Ctx, data: bytes, given: Given) -> int:
    """Keeps a checked package as a new release; raises InputFaults naming whatever is wrong."""
    ctx.require("package.make")
    manifest = _checked(data)
    if wrong := releasing.checked_note(given.note):
        raise InputFaults(wrong)
    return ctx.db.transact(lambda tx: keep_release(tx, ctx, data, manifest, given))


def keep_release(tx: Tx, ctx: Ctx, data: bytes, manifest: Manifest, given: Given) -> int:
    """Keeps a package, checked already, as a new release.

    Raises InputFaults for a number that is taken or says too little, and for what is released already.
    """
    wheels = _wheels_for(tx, manifest.requirements)
    # Whoever releases it at the same moment waits here, and is then set against this one.
    package_id = tx.insert("packages.add_package", name=manifest.name, now=ctx.now)
    if wrong := sight.faults_of_sight(tx, given.seen_by, given.area_id):
        raise InputFaults(wrong)
    if given.seen_by == "maker":
        version, said = _tryout(tx, package_id), NOTHING_SAID
    else:
        version, said = numbering.numbered(tx, data, manifest, given.says, given.number)
    key = _key_of(tx, ctx, data, given.signature)
    try:
        release_id = tx.insert(
            "packages.add_release",
            package=package_id,
            version=version,
            entry=manifest.entry,
            about=manifest.about,
            note=given.note.strip(),
            inputs=manifest.inputs,
            outputs=manifest.outputs,
            tags=list(manifest.tags),
            files=[list(file) for file in manifest.files],
            digest=files.put(tx, data, ctx.now),
            size=len(data),
            checkpoints=manifest.checkpoints,
            wheels=wheels,
            secrets=list(manifest.secrets),
            counts=list(manifest.counts),
            says=said,
            origin=given.origin,
            seen_by=given.seen_by,
            area=given.area_id if given.seen_by == "area" else None,
            signature=given.signature or None,
            key=key,
            person=ctx.actor.person_id,
            now=ctx.now,
        )
    except Clash as error:
        raise InputFaults([Fault("version", version, f"{manifest.name} {version} {error.message}")]) from None
    words = f"Released {manifest.name} {version}" + (f": {said}" if said else "")
    audit(tx, ctx, "release made", f"release:{release_id}", words, None, {"size": len(data)})
    changed(tx, ctx, "packages", release_id)
    return release_id


def _tryout(tx: Tx, package_id: int) -> str:
    """What a try-out is called: it gets a number once others see it, and need not promise anything before."""
    tx.write("packages.one_more_tryout", id=package_id)
    return f"try-out {tx.count('packages.count_tryouts', id=package_id)}"


def _key_of(tx: Tx, ctx: Ctx, data: bytes, signature: str) -> int | None:
    """By which of the actor's keys a package was signed; None for one that is not. Raises InputFaults."""
    if not signature:
        return None
    digest = hashlib.sha256(data).hexdigest()
    for key in people.signing_keys.open_of(tx, ctx):
        if fits(key.public_half, digest, signature):
            return key.id
    message = "fits none of your keys; add the public half of the one that signed under My profile"
    raise InputFaults([Fault("signature", signature[:20] + "…", message)])


def _wheels_for(tx: Tx, required: tuple[Requirement, ...]) -> list[dict[str, str]]:
    """The kept wheels that serve some requirements; InputFaults names each that none serves."""
    digests = {digest for one in required for digest in one.digests}
    rows = tx.all(PackagesWheelsByDigest, "packages.wheels_by_digest", digests=tuple(digests) or ("",))
    kept = {row.digest: row.name for row in rows}
    faults = [
        Fault(
            "requirements.txt",
            f"{one.name}=={one.version}",
            "no wheel of it is kept; add one in the Workshop",
        )
        for one in required
        if not kept.keys() & set(one.digests)
    ]
    if faults:
        raise InputFaults(faults)
    return [{"name": name, "digest": digest} for digest, name in sorted(kept.items())]


@in_transaction
def add_wheel(tx: Tx, ctx: Ctx, name: str, data: bytes) -> str:
    """Keeps a wheel that packages may require; gives its SHA-256, by which they name it."""
    ctx.require("package.make")
    shown = clean_name(name)
    if not WHEEL.match(shown) or not data.startswith(ZIP):
        raise InputFaults(
            [Fault("file", shown, "is no wheel; give one such as thing-1.2.0-py3-none-any.whl")]
        )
    if len(data) > LARGEST:
        raise InputFaults([Fault("file", shown, f"too large; at most {LARGEST // 1_000_000} MB")])
    digest = files.put(tx, data, ctx.now)
    if tx.write("packages.add_wheel", digest=digest, name=shown, person=ctx.actor.person_id, now=ctx.now):
        audit(tx, ctx, "wheel kept", f"wheel:{digest[:16]}", f"Kept {shown}")
        changed(tx, ctx, "packages")
    return digest


def wheels(ctx: Ctx) -> list[WheelRow]:
    """The wheels that packages may require."""
    ctx.require("package.see")
    return ctx.db.transact(lambda tx: tx.all(WheelRow, "packages.wheels"))


def listed(ctx: Ctx) -> list[ReleaseRow]:
    """The releases that the actor sees, the newest first."""
    ctx.require("package.see")
    return ctx.db.transact(lambda tx: sight.seen(tx, ctx, tx.all(ReleaseRow, "packages.releases")))


@in_transaction
def one(tx: Tx, ctx: Ctx, release_id: int) -> Release:
    """One release with its schemas and files."""
    ctx.require("package.see")
    row = sight.find(tx, ctx, release_id)
    return Release(
        id=row.id,
        package=row.package,
        version=row.version,
        about=row.about,
        note=row.note,
        entry=row.entry,
        inputs=row.inputs,
        outputs=row.outputs,
        tags=row.tags,
        files=[(name, size) for name, size in row.files],
        digest=row.digest,
        size=row.size,
        at=row.at,
        person=row.person,
        withdrawn_at=row.withdrawn_at,
        withdrawn_why=row.withdrawn_why,
        may_withdraw=ctx.actor.may("package.retire"),
        checkpoints=row.checkpoints,
        secrets=row.secrets,
        counts=row.counts or [],
        says=row.says,
        origin=row.origin,
        signed_by=None if row.public_half is None else f"{row.key_name}, {shown(row.public_half)}",
        wheels=None if row.wheels is None else [WheelName(**one) for one in row.wheels],
        versions=sight.seen(tx, ctx, tx.all(Version, "packages.versions", name=row.package)),
        seen_by=row.seen_by,
        area=row.area,
        mine=row.person_id == ctx.actor.person_id,
        tries=sight.tries(ctx, row),
        may_move=placing.may(ctx, row),
    )
