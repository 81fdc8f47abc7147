"""The interview: drafts that save themselves, files, and handing in."""

from __future__ import annotations

from tallyman.core.alerts import kinds
from tallyman.core.faults import unknown_word
from tallyman.core.free import Free
from tallyman.core.ideas import questions
from tallyman.errors import Fault, Forbidden, InputFaults, NotFound, Refused
from tallyman.formats.uploads import check_upload
from tallyman.services.context import Ctx, audit, changed, in_transaction
from tallyman.services.ideas import rules
from tallyman.services.ideas.base import (
    ask_back,
    find,
    keep_look,
    may_see,
    move,
    obj,
    open_to_answers,
    own,
    ref,
    tell_of,
)
from tallyman.services.ideas.thanks import thank_for_answer
from tallyman.services.upkeep import Once
from tallyman.store import files
from tallyman.store.db import Tx, dump
from tallyman.store.records.ideas import FileRow, Idea, IdeaFile, IdeasAnswers, IdeasLock
from tallyman.store.records.people import PeopleDivisions, Person

FILE_KINDS = ("how-to", "drawing", "example in", "example out", "something else")
MOST_FILES = 40
LONGEST_FILE_TITLE = 200
LONGEST_FILE_REMARK = 1000


def start(ctx: Ctx, key: str, interview_kind: str = "full", amends: int | None = None) -> int:
    """A new draft of the actor; the same key, or an untouched draft, gives the same one again.

    `amends` is an idea in service that the new one wants changed.
    """
    ctx.require("idea.make")
    return ctx.db.transact(lambda tx: start_in(tx, ctx, key, interview_kind, amends))


def start_in(
    tx: Tx,
    ctx: Ctx,
    key: str,
    interview_kind: str = "full",
    amends: int | None = None,
    source: str = "",
    what: str = "idea",
    said: object = None,
) -> int:
    """As `start`, within a transaction; `source` is how it came in, `what` and `said` what the key is for."""
    if not source:
        _check_offered(tx, interview_kind)
    amended = None if amends is None else check_amended(tx, ctx, amends)
    once = Once(what, key, said or [interview_kind, amends])
    known = once.known(tx, ctx)
    if known is not None:
        return known
    untouched = tx.value(int, "ideas.untouched_draft", person=ctx.actor.person_id)
    if untouched is not None and amends is None and not source:
        tx.write("ideas.set_interview", id=untouched, interview=interview_kind)
        return int(untouched)
    idea_id = tx.insert(
        "ideas.add",
        person=ctx.actor.person_id,
        interview=interview_kind,
        source=source or ("a program" if ctx.actor.program else "interview"),
        amends=amends,
        now=ctx.now,
    )
    once.made(tx, ctx, idea_id)
    tx.write(
        "ideas.add_stage",
        idea=idea_id,
        from_stage=None,
        stage="draft",
        now=ctx.now,
        person=ctx.actor.person_id,
        reason="",
    )
    audit(tx, ctx, "idea begun", obj(idea_id), "Began the interview")
    if amended is not None:
        # What is known of the thing to be changed is not asked again.
        for question, value in (("division", amended.division_id), ("owner", amended.owner_id)):
            if value is not None:
                answer_in(tx, ctx, idea_id, question, value)
    return idea_id


def _check_offered(tx: Tx, kind: str) -> None:
    found = rules.interview(tx, kind)
    if found is None or not found.offered:
        known = [one.kind for one in rules.all_interviews(tx) if one.offered]
        raise InputFaults([unknown_word("interview", kind, known)])


def check_amended(tx: Tx, ctx: Ctx, amended: int) -> Idea:
    """The idea in service that another wants changed. Raises InputFaults for one that is not."""
    idea = tx.one(Idea, "ideas.by_id", id=amended)
    if idea is None or not may_see(tx, ctx, idea):
        raise InputFaults([Fault("amends", ref(amended), "there is no such idea that you may see")])
    if idea.stage != "in service":
        message = f"it is {idea.stage}; only what is in service can be amended"
        raise InputFaults([Fault("amends", ref(amended), message)])
    return idea


@in_transaction
def choose_interview(tx: Tx, ctx: Ctx, idea_id: int, kind: str) -> None:
    """Asks a draft by another interview; what was answered stays."""
    idea = own(tx, ctx, idea_id)
    _check_offered(tx, kind)
    if not tx.write("ideas.set_interview", id=idea_id, interview=kind) and idea.stage != "draft":
        raise Refused(f"{ref(idea_id)} is handed in already.", "Its answers can still be changed.")
    changed(tx, ctx, "ideas", idea_id)


def check_links(tx: Tx, question: str, value: object) -> None:
    """Raises InputFaults for an answer that names a division or person that is not there."""
    if value is None:
        return
    if question == "division" and value not in {
        row.id for row in tx.all(PeopleDivisions, "people.divisions")
    }:
        raise InputFaults([Fault(question, value, "there is no such division; choose one")])
    if question in ("owner", "knows") and tx.one(Person, "people.by_id", id=value) is None:
        raise InputFaults([Fault(question, value, "there is no such person; choose one")])


def answer(ctx: Ctx, idea_id: int, question: str, value: object, remark: str | None) -> None:
    """Keeps one answer (None: not known) of the actor's own idea."""
    if remark and len(remark) > questions.LONGEST_REMARK:
        message = f"{len(remark)} characters; up to {questions.LONGEST_REMARK}"
        raise InputFaults([Fault(f"{question}.remark", remark[:40] + "…", message)])

    ctx.db.transact(lambda tx: answer_in(tx, ctx, idea_id, question, value, remark))


def answer_in(
    tx: Tx, ctx: Ctx, idea_id: int, question: str, value: object, remark: str | None = None
) -> None:
    """As `answer`, within a transaction."""
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = own(tx, ctx, idea_id)
    asked = rules.known_question(tx, idea, question)
    kept = questions.check_answer(question, value, asked)
    if not open_to_answers(idea):
        raise Refused(
            f"{ref(idea_id)} is {idea.stage}; its answers are settled by now.",
            "Tell the analyst what has changed; the sizing holds today's figures.",
        )
    check_links(tx, question, kept)
    before = {row.question: row for row in tx.all(IdeasAnswers, "ideas.answers", idea=idea_id)}
    old = before.get(question)
    tx.write(
        "ideas.put_answer",
        idea=idea_id,
        question=question,
        value=None if kept is None else dump(kept),
        remark=remark or None,
        person=ctx.actor.person_id,
        now=ctx.now,
    )
    copy_heads(tx, ctx, idea, question, kept)
    ask_back(tx, ctx, idea_id)
    if idea.stage != "draft":
        audit(
            tx,
            ctx,
            "answer changed",
            obj(idea_id),
            f"Answered anew: {asked.text if asked else question}",
            {question: old.value if old else None},
            {question: kept},
        )
        if old and old.state == "sent back":
            thank_for_answer(tx, ctx, idea)
            tell_of(tx, ctx, kinds.ANSWERED_AGAIN, idea)
    keep_look(tx, ctx, idea_id)
    changed(tx, ctx, "ideas", idea_id)


def copy_heads(tx: Tx, ctx: Ctx, idea: Idea, question: str, value: Free) -> None:
    """Title, description, division and owner stand on the idea itself, for lists."""
    heads = {
        "title": idea.title,
        "what": idea.what,
        "division": idea.division_id,
        "owner": idea.owner_id,
        "knows": idea.knows_id,
    }
    if question not in heads:
        return
    heads[question] = value if value is not None or question in ("division", "owner", "knows") else ""
    area = tx.value(int, "house.area_of_division", id=heads["division"]) if heads["division"] else None
    tx.write("ideas.set_heads", id=idea.id, now=ctx.now, area=area, **heads)


@in_transaction
def hand_in(tx: Tx, ctx: Ctx, idea_id: int) -> None:
    """Draft → noted; the reviewers are told. Names every needed answer that is missing."""
    tx.one(IdeasLock, "ideas.lock", id=idea_id)
    idea = own(tx, ctx, idea_id)
    if idea.stage != "draft":
        return
    given = {row.question: row.value for row in tx.all(IdeasAnswers, "ideas.answers", idea=idea_id)}
    needed = {one.key: one.text for one in rules.of_idea(tx, idea).questions if one.needed}
    lacking = {key: words for key, words in needed.items() if given.get(key) is None}
    lacking |= {one["key"]: one["words"] for one in rules.lacking(tx, idea, "noted")}
    if lacking:
        raise InputFaults(
            [Fault(key, None, f"needed to hand it in: {words}") for key, words in lacking.items()]
        )
    keep_look(tx, ctx, idea_id)
    move(tx, ctx, idea, "noted")
    tell_of(tx, ctx, kinds.HANDED_IN, idea)
    tell_of(tx, ctx, kinds.OWNER_NAMED, idea)


def _may_attach(ctx: Ctx, idea: Idea) -> bool:
    mine = ctx.actor.person_id in (idea.proposer_id, idea.owner_id)
    area = idea.area_id
    return mine or ctx.actor.may_at("idea.decide", area) or ctx.actor.may_at("sizing.make", area)


def _check_described(kind: str, title: str, remark: str) -> None:
    faults = []
    if kind not in FILE_KINDS:
        faults.append(Fault("kind", kind, f"allowed: {', '.join(FILE_KINDS)}"))
    if len(title) > LONGEST_FILE_TITLE:
        faults.append(Fault("title", title[:40] + "…", f"up to {LONGEST_FILE_TITLE} characters"))
    if len(remark) > LONGEST_FILE_REMARK:
        faults.append(Fault("remark", remark[:40] + "…", f"up to {LONGEST_FILE_REMARK} characters"))
    if faults:
        raise InputFaults(faults)


@in_transaction
def describe(tx: Tx, ctx: Ctx, idea_id: int, file_id: int, kind: str, title: str, remark: str) -> None:
    """Says what a file on an idea is: its kind, a title, and a remark."""
    _check_described(kind, title, remark)
    idea = find(tx, ctx, idea_id)
    if not _may_attach(ctx, idea):
        raise Forbidden("Only its proposer, owner and the team describe files.", "Ask one of them.")
    found = tx.one(IdeaFile, "ideas.file", id=file_id, idea=idea_id)
    if found is None:
        raise NotFound("There is no such file on this idea.", "Load the page again.")
    tx.write(
        "ideas.describe_file",
        id=file_id,
        idea=idea_id,
        kind=kind,
        title=title.strip(),
        remark=remark.strip(),
    )
    words = f"{found.name} is “{title.strip() or found.name}” ({kind})"
    audit(tx, ctx, "file described", obj(idea_id), words)
    keep_look(tx, ctx, idea_id)
    changed(tx, ctx, "ideas", idea_id)


def attach(
    ctx: Ctx, idea_id: int, name: str, kind: str, data: bytes, title: str = "", remark: str = ""
) -> int:
    """Puts a file on an idea; raises InputFaults for a wrong or too large one."""
    _check_described(kind, title, remark)
    shown = check_upload("file", name, data)

    def work(tx: Tx) -> int:
        idea = find(tx, ctx, idea_id)
        if not _may_attach(ctx, idea):
            raise Forbidden("Only its proposer, owner and the team attach files.", "Ask one of them.")
        if len(tx.all(FileRow, "ideas.files", idea=idea_id)) >= MOST_FILES:
            raise Refused(f"There are {MOST_FILES} files already.", "Take one off first.")
        file_id = tx.insert(
            "ideas.add_file",
            idea=idea_id,
            digest=files.put(tx, data, ctx.now),
            name=shown,
            kind=kind,
            title=title.strip(),
            remark=remark.strip(),
            size=len(data),
            person=ctx.actor.person_id,
            now=ctx.now,
        )
        audit(tx, ctx, "file attached", obj(idea_id), f"Attached {shown} ({kind})")
        keep_look(tx, ctx, idea_id)
        changed(tx, ctx, "ideas", idea_id)
        return file_id

    return ctx.db.transact(work)


@in_transaction
def detach(tx: Tx, ctx: Ctx, idea_id: int, file_id: int) -> None:
    """Takes a file off an idea."""
    idea = find(tx, ctx, idea_id)
    if not _may_attach(ctx, idea):
        raise Forbidden("Only its proposer, owner and the team take files off.", "Ask one of them.")
    found = tx.one(IdeaFile, "ideas.file", id=file_id, idea=idea_id)
    if found and tx.write("ideas.remove_file", id=file_id, idea=idea_id, now=ctx.now):
        audit(tx, ctx, "file taken off", obj(idea_id), f"Took off {found.name}")
        keep_look(tx, ctx, idea_id)
        changed(tx, ctx, "ideas", idea_id)


@in_transaction
def download(tx: Tx, ctx: Ctx, idea_id: int, file_id: int) -> tuple[str, bytes]:
    """Name and bytes of a file, for whoever may see the idea."""
    find(tx, ctx, idea_id)
    found = tx.one(IdeaFile, "ideas.file", id=file_id, idea=idea_id)
    data = files.get(tx, found.digest) if found else None
    if found is None or data is None:
        raise NotFound("There is no such file on this idea.", "Load the page again.")
    return found.name, data
