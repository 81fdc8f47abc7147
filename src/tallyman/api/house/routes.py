"""The company, its divisions, and the mail server."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from tallyman.api.common import BySelf, Done, In, Made, Number, SignedIn, VersionSeen
from tallyman.api.routing import Routes
from tallyman.services.house import company, mail_server
from tallyman.services.house.answers import CompanyOut, MailSettings, Tested

router = Routes(tags=["house"])
Short = Annotated[str, Field(max_length=400)]
Password = Annotated[str, Field(max_length=2000)]


class CompanyIn(In):
    """What the company is changed to; `seen` is the name that was shown."""

    name: Short
    zone: Annotated[str, Field(max_length=60)]
    currency: Annotated[str, Field(max_length=10)]
    seen: Short


class DivisionIn(In):
    """A division's name, and below which one it lies."""

    name: Short
    parent: Number | None = None


class MoveIn(In):
    """Below which division another lies; none: at the top."""

    parent: Number | None = None


class IntoIn(In):
    """Into which division another goes."""

    into: Number


class MailIn(In):
    """The mail server; an empty password keeps the one there is."""

    host: Annotated[str, Field(max_length=300)]
    port: Annotated[int, Field(ge=0, le=100_000)]
    security: Annotated[str, Field(max_length=20)]
    user: Annotated[str, Field(max_length=200)] = ""
    sender: Annotated[str, Field(max_length=190)]
    password: Password = ""

    def server(self) -> mail_server.Server:
        """As the service takes it."""
        return mail_server.Server(
            self.host.strip(), self.port, self.security, self.user.strip(), self.sender, self.password
        )


@router.get("/house/company")
def the_company(ctx: SignedIn) -> CompanyOut:
    """Whose installation this is."""
    return company.company(ctx)


@router.put("/house/company")
def set_company(given: CompanyIn, ctx: SignedIn) -> Done:
    """Names the company, its zone and currency."""
    company.set_company(ctx, given.name, given.zone, given.currency, given.seen)
    return Done()


@router.post("/divisions", status_code=201)
def add_division(given: DivisionIn, ctx: SignedIn) -> Made:
    """A division more."""
    return Made(id=company.add_division(ctx, given.name, given.parent))


@router.put("/divisions/{number}")
def rename_division(number: Number, given: DivisionIn, ctx: SignedIn) -> Done:
    """Another name for a division."""
    company.rename_division(ctx, number, given.name)
    return Done()


@router.post("/divisions/{number}/move")
def move_division(number: Number, given: MoveIn, ctx: SignedIn) -> Done:
    """A division lies below another, or at the top."""
    company.move_division(ctx, number, given.parent)
    return Done()


@router.post("/divisions/{number}/merge")
def merge_division(number: Number, given: IntoIn, ctx: SignedIn) -> Done:
    """A division goes into another."""
    company.merge_division(ctx, number, given.into)
    return Done()


@router.get("/house/mail")
def mail(ctx: SignedIn) -> MailSettings:
    """The mail server."""
    return mail_server.shown(ctx)


@router.put("/house/mail")
def keep_mail(given: MailIn, version: VersionSeen, ctx: BySelf) -> Done:
    """Keeps the mail server."""
    mail_server.keep(ctx, given.server(), version)
    return Done()


@router.post("/house/mail/test")
def test_mail(given: MailIn, ctx: BySelf) -> Tested:
    """Sends a mail to whoever asks, by what was typed."""
    return Tested(answer=mail_server.test(ctx, given.server()))


# ---- the entrance, for whoever is not signed in ------------------------------------------------------
