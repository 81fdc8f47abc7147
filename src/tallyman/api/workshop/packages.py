"""Packages and releases."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from fastapi import APIRouter, File, Form, UploadFile

from tallyman.api.common import Made, Model, Number, SignedIn
from tallyman.formats.package_zip import LARGEST
from tallyman.services.workshop import packages

router = APIRouter(tags=["packages"])


class ReleaseRow(Model):
    """A release in the list."""

    id: int
    package: str
    version: str
    about: str
    note: str
    entry: str
    tags: list[str]
    size: int
    at: datetime
    person: str
    routines: int


class Version(Model):
    """A version of a package."""

    id: int
    version: str


class WheelName(Model):
    """A wheel that a release needs."""

    name: str
    digest: str


class Release(Model):
    """A release with its schemas and files."""

    id: int
    package: str
    version: str
    about: str
    note: str
    entry: str
    inputs: dict[str, Any]
    outputs: dict[str, Any]
    tags: list[str]
    files: list[tuple[str, int]]
    digest: str
    size: int
    at: datetime
    person: str
    checkpoints: bool
    secrets: list[str] | None
    wheels: list[WheelName] | None
    versions: list[Version]


class WheelRow(Model):
    """A wheel that packages may require."""

    digest: str
    name: str
    size: int
    at: datetime
    person: str


class WheelKept(Model):
    """The SHA-256 by which a requirements.txt names the wheel."""

    digest: str


@router.get("/releases")
def releases(ctx: SignedIn) -> list[ReleaseRow]:
    """All releases, the newest first."""
    return [ReleaseRow.model_validate(row) for row in packages.listed(ctx)]


@router.post("/releases", status_code=201)
def release(
    ctx: SignedIn,
    file: Annotated[UploadFile, File()],
    note: Annotated[str, Form(max_length=4000)] = "",
) -> Made:
    """Releases a package: a zip with package.toml and Python code."""
    return Made(id=packages.release(ctx, file.file.read(LARGEST + 1), note))


@router.get("/wheels")
def wheels(ctx: SignedIn) -> list[WheelRow]:
    """The wheels that packages may require."""
    return [WheelRow.model_validate(row) for row in packages.wheels(ctx)]


@router.post("/wheels", status_code=201)
def add_wheel(ctx: SignedIn, file: Annotated[UploadFile, File()]) -> WheelKept:
    """Keeps a wheel that packages may require."""
    digest = packages.add_wheel(ctx, file.filename or "file", file.file.read(LARGEST + 1))
    return WheelKept(digest=digest)


@router.get("/releases/{number}")
def one(number: Number, ctx: SignedIn) -> Release:
    """One release."""
    return Release.model_validate(packages.one(ctx, number))
