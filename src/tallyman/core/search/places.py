"""Where one can go by name: the sections, the house rules, and what can be begun; each with who may."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass


@dataclass(frozen=True)
class Place:
    """A page by its name: what it is for, its address, and the permissions of which one opens it.

    Without permissions it is open to everybody. `other` are words that people also look for it by.
    """

    name: str
    words: str
    link: str
    any_of: tuple[str, ...] = ()
    other: str = ""
    # What its tab is called, if that is shorter.
    short: str = ""


def open_to(places: Iterable[Place], may: Callable[[str], bool]) -> list[Place]:
    """Those that are open to whoever holds some permissions."""
    return [one for one in places if not one.any_of or any(may(name) for name in one.any_of)]


SECTIONS = (
    Place("Today", "What waits for me, what went wrong, what comes next", "/"),
    Place("Ideas", "Everything handed in, and where it stands", "/ideas"),
    Place(
        "Portfolio",
        "What the budgets carry, in order of rank",
        "/portfolio",
        ("case.decide", "value.see"),
    ),
    Place("Workshop", "Packages and routines", "/workshop", ("package.see",)),
    Place("Robots", "Areas, hosts, robots and seats", "/robots", ("robot.see",)),
    Place("Runs", "What runs, waits and went wrong", "/runs", ("run.see",)),
    Place("Value", "What was promised and what was delivered", "/value", ("value.see",)),
    Place(
        "Self-service",
        "What robots do for me at the press of a button",
        "/self-service",
        other="run start myself pages published",
    ),
)

RULES = (
    Place(
        "Company",
        "Name, zone, currency, divisions",
        "/house/company",
        ("house.change",),
        "time zone departments",
    ),
    Place(
        "Cost tables",
        "What an hour, a seat, software and a day of building cost, for whom, from when",
        "/value/rates",
        ("rate.see",),
        "rates prices wages licences",
    ),
    Place(
        "How ideas come in and move",
        "Interviews, factors of the first look, limits and needs of stages, thanks",
        "/house/ideas",
        ("house.change",),
        "questions ranking deadlines notches",
        short="Ideas",
    ),
    Place(
        "Calendar",
        "On which days nobody works: plans, rhythms and a robot's year rest on it",
        "/house/calendar",
        ("area.see",),
        "holidays closed days",
    ),
    Place(
        "Systems",
        "What the work touches, how a robot gets at it, what breaks if it changes",
        "/house/systems",
        ("system.see",),
        "applications software inventory",
    ),
    Place(
        "What hosts can do",
        "Which applications runners look for, so that routines can ask for them",
        "/house/robots",
        ("house.change",),
        "abilities applications installed software",
        short="Hosts",
    ),
    Place("Areas", "What is worked in common, and their own closed days", "/house/areas", ("area.see",)),
    Place(
        "People and groups",
        "Who is here, invitations, lists in and out",
        "/house/people",
        ("person.see",),
        "users colleagues accounts",
        short="People",
    ),
    Place(
        "Roles",
        "What each role allows, and who holds it for what",
        "/house/roles",
        ("role.see",),
        "permissions",
    ),
    Place(
        "Access asked for",
        "Requests that wait for an answer",
        "/house/access",
        ("role.decide",),
        short="Access",
    ),
    Place(
        "Sign-in",
        "Single sign-on by the company's identity provider",
        "/house/sign-in",
        ("house.change",),
        "login identity",
    ),
    Place(
        "Secrets",
        "Secrets that robots and settings use, shown to nobody, and named values",
        "/house/secrets",
        ("secret.see",),
        "passwords credentials safe",
    ),
    Place(
        "Tokens for programs",
        "What programs of people may do, until when",
        "/house/tokens",
        ("token.see",),
        short="Tokens",
    ),
    Place("Mail", "The mail server, and what was sent to whom", "/house/mail", ("mail.see",), "outbox"),
    Place(
        "Audit trail",
        "Who changed what, from what to what",
        "/house/trail",
        ("audit.see",),
        "history log",
        short="Trail",
    ),
)

COMMANDS = (
    Place("Hand in an idea", "The interview, for whoever does the work", "/ideas/new", (), "new propose"),
    Place("Find out where to begin", "What is worth automating, and what is not", "/ideas/begin"),
    Place(
        "Enter an idea for the team", "With what is known of it", "/ideas/enter", ("entry.make",), "new add"
    ),
    Place("Bring a list of ideas", "From a spreadsheet", "/ideas/bring", ("entry.make",), "import upload"),
    Place("See who is thanked", "Notches, and what for", "/ideas/thanks"),
    Place("See who helped most", "The ranking of people, groups and divisions", "/ideas/thanks/ranking"),
    Place(
        "Release a package", "A zip with its manifest", "/workshop?tab=packages", ("package.make",), "upload"
    ),
    Place("Set up a routine", "A release in an area", "/workshop/routines/new", ("routine.make",), "new add"),
    Place("Add a host", "A machine that robots work on", "/robots?add=host", ("robot.make",), "new machine"),
    Place("Add a robot", "On a host, with what it can do", "/robots?add=robot", ("robot.make",), "new"),
    Place(
        "Propose a rate",
        "What something costs from a day on",
        "/value/rates",
        ("rate.make",),
        "new add price",
    ),
    Place(
        "Invite somebody",
        "By mail, with a role at once",
        "/house/people?add=person",
        ("person.make",),
        "new add",
    ),
    Place(
        "Put a secret in", "For robots or settings", "/house/secrets?add=secret", ("secret.make",), "new add"
    ),
    Place(
        "My computer", "What asks for it, and what works on it", "/my-computer", (), "desk attended laptop"
    ),
    Place("Make a token", "For a program of mine", "/profile?sheet=programs", ("token.make",), "new add api"),
    Place(
        "Change my profile", "Zone, how numbers are written, mails", "/profile", (), "settings language away"
    ),
    Place(
        "Say what I may do", "My roles, and whom to ask", "/profile?sheet=access", (), "permissions access"
    ),
    Place("Look at health", "Whether the installation is well", "/health", ("health.see",), "stuck engine"),
)
