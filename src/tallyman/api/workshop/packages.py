"""Packages and releases."""

from __future__ import annotations

from typing import Annotated

from fastapi import File, Form, Query, Response, UploadFile
from pydantic import Field

from tallyman.api.common import Done, In, Made, Number, SignedIn, Text
from tallyman.api.routing import Routes
from tallyman.core.workshop.words import Origin, Said, SeenBy
from tallyman.formats.package_zip import LARGEST
from tallyman.services.answers import Retiring
from tallyman.services.workshop import approving, differing, packages, placing, sight, withdrawing
from tallyman.services.workshop.answers import (
    Approval,
    Differences,
    FileSides,
    Release,
    ReleaseLook,
    ReleaseMove,
    ReleaseRow,
    UnseenReleases,
    WheelKept,
    WheelRow,
)


class WithdrawIn(In):
    """Why a release is withdrawn."""

    why: Text


class ApproveIn(In):
    """To which newly declared secrets somebody says yes, and a note."""

    secrets: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=50)] = []
    note: Annotated[str, Field(max_length=2000)] = ""


class SeenByIn(In):
    """Who is to see a release."""

    seen_by: SeenBy
    area_id: int | None = None

    def to(self) -> placing.To:
        """The same as the service takes it."""
        return placing.To(**self.model_dump())


class MoveIn(SeenByIn):
    """The same; and of a try-out what changed, how much, or its number."""

    note: Annotated[str, Field(max_length=4000)] = ""
    says: Said = ""
    number: Annotated[str, Field(max_length=40)] = ""


router = Routes(tags=["packages"])


@router.get("/releases")
def releases(ctx: SignedIn) -> list[ReleaseRow]:
    """All releases, the newest first."""
    return packages.listed(ctx)


@router.post("/releases", status_code=201)
def release(
    ctx: SignedIn,
    file: Annotated[UploadFile, File()],
    note: Annotated[str, Form(max_length=4000)] = "",
    says: Annotated[Said, Form()] = "",
    number: Annotated[str, Form(max_length=40)] = "",
    origin: Annotated[Origin, Form()] = "page",
    signature: Annotated[str, Form(max_length=100)] = "",
    seen_by: Annotated[SeenBy, Form()] = "company",
    area_id: Annotated[int | None, Form()] = None,
) -> Made:
    """Releases a package: a zip with package.toml and Python code."""
    given = packages.Given(note, says, number, origin, signature, seen_by, area_id)
    return Made(id=packages.release(ctx, file.file.read(LARGEST + 1), given))


@router.post("/releases/look")
def look(ctx: SignedIn, file: Annotated[UploadFile, File()]) -> ReleaseLook:
    """What a package would be as a release: what changed since the one before, and which numbers say so."""
    return packages.look(ctx, file.file.read(LARGEST + 1))


@router.get("/releases/unseen")
def unseen(ctx: SignedIn, text: Annotated[str, Query(max_length=200)] = "") -> UnseenReleases:
    """How many releases of packages called so the reader does not see, and why."""
    return sight.counted(ctx, text)


@router.get("/wheels")
def wheels(ctx: SignedIn) -> list[WheelRow]:
    """The wheels that packages may require."""
    return packages.wheels(ctx)


@router.post("/wheels", status_code=201)
def add_wheel(ctx: SignedIn, file: Annotated[UploadFile, File()]) -> WheelKept:
    """Keeps a wheel that packages may require."""
    digest = packages.add_wheel(ctx, file.filename or "file", file.file.read(LARGEST + 1))
    return WheelKept(digest=digest)


@router.get("/releases/{number}")
def one(number: Number, ctx: SignedIn) -> Release:
    """One release."""
    return packages.one(ctx, number)


@router.get("/releases/{number}/differences")
def differences(number: Number, ctx: SignedIn, other: Number | None = None) -> Differences:
    """What is different since another release of the package; since the one before, if none is named."""
    return differing.of(ctx, number, other)


@router.get("/releases/{number}/differences/file")
def file_sides(
    number: Number, other: Number, ctx: SignedIn, name: Annotated[str, Query(max_length=180)]
) -> FileSides:
    """A file of two releases side by side."""
    return differing.file(ctx, number, other, name)


@router.get("/releases/{number}/package", response_class=Response)
def package(number: Number, ctx: SignedIn) -> Response:
    """The package of a release as a zip, to the byte as it was handed over."""
    name, data = differing.package(ctx, number)
    heads = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(data, media_type="application/zip", headers=heads)


@router.get("/releases/{number}/approval")
def approval(number: Number, ctx: SignedIn) -> Approval:
    """Whether a second person said yes to a release, and who may."""
    return approving.look(ctx, number)


@router.post("/releases/{number}/approve")
def approve(number: Number, given: ApproveIn, ctx: SignedIn) -> Done:
    """A second person's yes to a release, and by name to each secret it newly asks for."""
    approving.approve(ctx, number, given.secrets, given.note)
    return Done()


@router.post("/releases/{number}/move/look")
def look_at_move(number: Number, given: SeenByIn, ctx: SignedIn) -> ReleaseMove:
    """Who gains sight of a release and who loses it, before that is done."""
    return placing.look(ctx, number, given.to())


@router.post("/releases/{number}/move")
def move(number: Number, given: MoveIn, ctx: SignedIn) -> Done:
    """Others see a release from now on; a try-out gets its number with it."""
    placing.move(ctx, number, given.to())
    return Done()


@router.get("/releases/{number}/withdrawing")
def look_at(number: Number, ctx: SignedIn) -> Retiring:
    """What uses a release, before it is withdrawn."""
    return withdrawing.look_at(ctx, number)


@router.post("/releases/{number}/withdraw")
def withdraw(number: Number, given: WithdrawIn, ctx: SignedIn) -> Done:
    """From now on it starts nothing anew, and no routine can be set up with it."""
    withdrawing.withdraw(ctx, number, given.why)
    return Done()


@router.post("/releases/{number}/bring-back")
def bring_back(number: Number, ctx: SignedIn) -> Done:
    """A release that was withdrawn can be used again."""
    withdrawing.bring_back(ctx, number)
    return Done()
