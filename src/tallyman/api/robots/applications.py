"""The applications that runners look for."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tallyman.api.common import In, Made, SignedIn, Text, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services.robots import applications
from tallyman.services.robots.answers import ApplicationsRule

router = Routes(prefix="/rules", tags=["rules"])


class ApplicationIn(In):
    """An application, and the commands and paths it is found by."""

    name: Annotated[str, Field(max_length=200)]
    found_by: Annotated[list[Annotated[str, Field(max_length=400)]], Field(max_length=100)]


class ApplicationsIn(In):
    """A new version of the list."""

    applications: Annotated[list[ApplicationIn], Field(max_length=500)]
    note: Text


@router.get("/applications")
def rule(ctx: SignedIn) -> ApplicationsRule:
    """The applications that runners look for on their hosts."""
    return applications.view(ctx)


@router.put("/applications")
def keep(given: ApplicationsIn, ctx: SignedIn, version: VersionSeen) -> Made:
    """A new version of the list."""
    rows = [applications.Given(one.name, one.found_by) for one in given.applications]
    return Made(id=applications.keep(ctx, rows, given.note, version))
