"""The kinds of messages: who is told of what, in which words, and where each leads."""

from __future__ import annotations

from dataclasses import dataclass
from string import Formatter
from typing import Literal, get_args

# What people may choose about: each topic at once by mail, once a day, or not.
Topic = Literal["decision", "idea", "trouble", "access", "news"]
By = Literal["at once", "daily", "none"]
TOPICS: dict[Topic, str] = {
    "decision": "when something waits for my decision",
    "idea": "when something happens to an idea I have a part in",
    "trouble": "when a run fails, is lost or lapses, or a host falls silent",
    "access": "when my access or my sign-in changes",
    "news": "about everything else",
}
MAIL_CHOICES: tuple[By, ...] = get_args(By)


@dataclass(frozen=True)
class Kind:
    """One kind of message about an object.

    Told are the people in the `parts` of the object's row (names of its fields), everyone who holds
    `holders` where the object belongs, and whom the use case names besides. Words and link take their
    values from the use case; `about` begins the name of the object.
    """

    key: str
    topic: Topic
    words: str
    link: str
    about: str
    parts: tuple[str, ...] = ()
    holders: str | None = None

    @property
    def values(self) -> frozenset[str]:
        """The values that words and link ask for."""
        return frozenset(
            name for text in (self.words, self.link) for _, name, _, _ in Formatter().parse(text) if name
        )


def _idea(
    key: str,
    words: str,
    *parts: str,
    topic: Topic = "idea",
    holders: str | None = None,
    sheet: str = "",
) -> Kind:
    link = "/ideas/{id}" + (f"?sheet={sheet}" if sheet else "")
    return Kind(f"idea.{key}", topic, words, link, "idea", parts, holders)


_PROPOSER, _OWNER, _BUILDER = "proposer_id", "owner_id", "builder_id"
_BOTH = (_PROPOSER, _OWNER)

# Ideas: handed in, screened, talked about, moved.
HANDED_IN = _idea("handed-in", "{actor} handed in {idea}", topic="decision", holders="idea.decide")
OWNER_NAMED = _idea("owner-named", "{actor} named you as work owner of {ref}: please confirm", _OWNER)
ANSWERED_AGAIN = _idea(
    "answered-again", "{actor} answered what you sent back on {idea}", holders="idea.decide"
)
NOT_MINE = _idea("not-mine", "{actor} does not own the work of {idea}{whom}: {why}", _PROPOSER)
SENT_BACK = _idea("sent-back", "{actor} asks about {idea}: {note}", _PROPOSER)
SCREENED = _idea("screened", "{idea} was screened by {actor}; it is sized next", _PROPOSER)
DECLINED = _idea("declined", "{idea} was declined by {actor}: {reason}. {why}", _PROPOSER)
HELP_ASKED = _idea("help-asked", "{actor} asks you to help with {idea}{task}")
ENTERED = _idea("entered", "{actor} entered {idea}, {stage}", *_BOTH)
ENTERED_TO_SIZE = _idea(
    "entered-to-size", "{actor} entered {idea}, {stage}", topic="decision", holders="sizing.make"
)
CHANGE_WANTED = _idea("change-wanted", "{idea} asks for a change to {other}")
MENTIONED = _idea("mentioned", "{actor} asks you on {idea}: {text}", topic="decision", sheet="talk")
SAID = _idea("said", "{actor} on {idea}: {text}", *_BOTH, _BUILDER, sheet="talk")
JOINED = _idea("joined", "{actor} {how}: {idea}", *_BOTH, sheet="talk")
MOVED_ON = _idea("moved-on", "{idea} is {stage} now")
FOLLOWED_TALK = _idea("followed-talk", "{actor} on {idea}: {text}")
PARKED = _idea("parked", "{idea} is parked until {until} by {actor}: {why}", *_BOTH)
COME_BACK = _idea(
    "come-back",
    "{idea} is back: the day until which it was parked has come",
    _PROPOSER,
    topic="decision",
    holders="idea.decide",
)
REOPENED = _idea("reopened", "{idea} is {stage} again, {actor} brought it back: {why}", *_BOTH)
WITHDRAWN = _idea("withdrawn", "{actor} withdrew {idea}: {why}", _OWNER, holders="idea.decide")
MERGED = Kind(
    "idea.merged",
    "idea",
    "{idea} goes on in {into}: it is the same work. You count among those who do it",
    "/ideas/{into_id}",
    "idea",
    (_PROPOSER,),
)
TOOK_IN = _idea("took-in", "{other} by {by} went into {idea}", *_BOTH)
FOLLOWED_TOOK_IN = _idea("followed-took-in", "{other} by {by} went into {idea}")
OTHER_ROUTE = _idea("other-route", "{idea} goes another route, {route}: {measure}", *_BOTH)
MEASURE_ASKED = _idea("measure-asked", "{actor} asks you to see to {idea} by {due}", topic="decision")
MEASURE_DONE = _idea("measure-done", "{idea} is in service: {said}", *_BOTH)
BUILD_STANDS = _idea("build-stands", "{idea} {said}", _PROPOSER, holders="case.decide")
RETIRED = _idea("retired", "{idea} was taken out of service by {actor}: {said}", *_BOTH)
IN_SERVICE = _idea(
    "in-service", "{idea} is in service: {routine} went live", _PROPOSER, holders="case.decide"
)

FIRST_NOTCH = Kind(
    "notch.first", "news", "A first notch, with thanks: {what}, {idea}", "/ideas/thanks", "notch"
)

# Sizing, case, promise.
TO_SIZE = _idea("to-size", "{idea} waits to be sized", topic="decision", sheet="sizing")
SIZED = _idea(
    "sized",
    "{actor} sized {idea}: please agree or send it back",
    topic="decision",
    holders="sizing.decide",
    sheet="sizing",
)
SIZING_AGREED = _idea(
    "sizing-agreed", "{actor} agreed to the sizing of {idea}", "sized_by", _PROPOSER, sheet="sizing"
)
SIZING_SENT_BACK = _idea(
    "sizing-sent-back",
    "{actor} sent the sizing of {idea} back: {note}",
    "sized_by",
    _PROPOSER,
    sheet="sizing",
)
EXPERT_ANSWERED = _idea(
    "expert-answered", "{actor} answered about the sizing of {idea}", topic="decision", sheet="sizing"
)
BACKED = _idea("backed", "{actor} backed {idea}; a builder takes it up next", _PROPOSER, holders="build.make")
PROMISED_ANEW = _idea("promised-anew", "{actor} promised {idea} anew: {why}", *_BOTH, _BUILDER, sheet="case")
TAKEN_UP = _idea("taken-up", "{actor} took up {idea} to build it", _PROPOSER)

# Rates and the tally.
RATE_PROPOSED = Kind(
    "rate.proposed",
    "decision",
    "{actor} proposes {rate}: please approve or refuse",
    "/value/rates",
    "rate",
    holders="rate.decide",
)
RATE_SETTLED = Kind(
    "rate.settled", "news", "{actor} {state} the rate {rate}", "/value/rates", "rate", ("made_by",)
)
UNUSUAL_COUNT = Kind(
    "tally.unusual",
    "decision",
    "R-{id} counted {units} {counted}, far from the usual{ask}",
    "/runs/{id}",
    "run",
    holders="value.change",
)

# Robots and runs.
LATE_OUTCOME = Kind(
    "run.late",
    "decision",
    "R-{id} of {routine} was lost, and its outcome came late: does it count?",
    "/runs/{id}",
    "run",
    holders="run.change",
)
RUN_ENDED_BADLY = Kind(
    "run.trouble",
    "trouble",
    "R-{run} of {routine} {verb}: {why}{more}",
    "/runs/{run}",
    "routine",
    holders="run.change",
)
RUN_STALLED = Kind(
    "run.stalled",
    "trouble",
    "R-{id} of {routine} is stalled: no sign for {quiet}, and {bound} is what it may have",
    "/runs/{id}",
    "run",
    holders="run.change",
)
RUN_ASKS = Kind(
    "run.asks",
    "decision",
    "R-{run}, {routine}, asks for your computer: answer now, in ten minutes, or not today{until}",
    "/my-computer",
    "run",
)
TRIAL_ENDED = Kind("run.trial", "trouble", "R-{run}, {routine}, {how}", "/robots/{id}", "robot")
ROLLOUT_BACK = Kind(
    "rollout.back", "trouble", "The roll-out of {what} went back: {why}", "/workshop/rollouts/{id}", "rollout"
)
ROLLOUT_DONE = Kind(
    "rollout.done", "news", "The roll-out of {what} is done: {why}", "/workshop/rollouts/{id}", "rollout"
)
SERVICE_ENDED = Kind("service.ended", "news", "{title}: {how}", "/self-service/runs/{id}", "run")
SERVICE_SAID = Kind("service.said", "news", "{actor} {how} {title}{text}", "/self-service/{id}", "page")
HOST_SILENT = Kind(
    "host.silent",
    "trouble",
    "The host {name} was not heard from since {since} UTC; its robots take no runs",
    "/robots/hosts/{id}",
    "host",
    holders="robot.change",
)
SEATS_END = Kind("host.seats", "news", "{what}", "/robots/seats", "robots", holders="robot.change")
TOKEN_ELSEWHERE = Kind(
    "host.elsewhere",
    "news",
    "{what}. Make a new code if it may be known to others",
    "/robots",
    "robots",
    holders="robot.change",
)

# House and safe.
SYSTEM_NAMED = Kind(
    "system.named",
    "news",
    "{actor} named {name}, which the systems lack: please look at it",
    "/house/systems?system={id}",
    "system",
    holders="system.change",
)
SECRET_ENDS = Kind(
    "secret.ends", "news", "{what}; put in a new value", "/house/secrets", "secret", holders="secret.change"
)

# People and access.
ACCESS_ASKED = Kind(
    "access.asked",
    "decision",
    "{actor} asks for access: {words}",
    "/house/access?request={id}",
    "request",
    holders="role.decide",
)
ACCESS_ANSWERED = Kind(
    "access.answered",
    "access",
    "{actor} {state} your request for access{answer}",
    "/profile?sheet=access",
    "request",
    ("person_id",),
)
ROLE_GIVEN = Kind(
    "access.given", "access", "You hold the role {role} for {where} now", "/profile?sheet=access", "person"
)
ROLE_TAKEN = Kind(
    "access.taken",
    "access",
    "You hold the role {role} for {where} no more",
    "/profile?sheet=access",
    "person",
)
CAME_IN = Kind(
    "person.came-in",
    "access",
    "{name} came in by single sign-on for the first time",
    "/house/people/{id}",
    "person",
    holders="role.decide",
)
TAKES_OVER = Kind(
    "person.takes-over", "access", "You take over {count} open pieces of work from {name}", "/", "person"
)
STANDS_IN = Kind(
    "person.stands-in",
    "access",
    "{actor} is away until {until}; you look after what waits for them",
    "/",
    "person",
)
TOKEN_REVOKED = Kind(
    "person.token-revoked", "access", "{actor} revoked your token {name}", "/profile?sheet=programs", "person"
)
FACTOR_TAKEN = Kind(
    "person.factor-taken",
    "access",
    "{actor} took away your second factor; set up another in your profile",
    "/profile?sheet=sign-in",
    "person",
)
SPARE_CODE_USED = Kind(
    "person.spare-code",
    "access",
    "A recovery code was used to sign in as you; {left} are left",
    "/profile?sheet=sign-in",
    "person",
)

KINDS: dict[str, Kind] = {one.key: one for one in list(globals().values()) if isinstance(one, Kind)}
