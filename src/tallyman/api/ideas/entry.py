"""Ways in: interviews, entries by the team, amendments, lists from spreadsheets; files and long work."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from fastapi import File, Form, Query, Response, UploadFile
from pydantic import Field

from tallyman.api.common import BySelf, Done, In, Made, Number, SignedIn, StartKey, Text, VersionSeen, to_keep
from tallyman.api.routing import Routes
from tallyman.formats.uploads import LARGEST
from tallyman.services.ideas import drafts, file_views, rules_set, sheets, team_entry
from tallyman.services.ideas.answers import EntryQuestion, FileText, InterviewName, SheetRow
from tallyman.services.ideas.answers_of_lists import SheetOut
from tallyman.services.upkeep import ErrandOut, errands

router = Routes(tags=["ideas"])
Kind = Annotated[str, Field(max_length=20)]


class InterviewIn(In):
    """By which interview a draft is asked."""

    interview: Kind


class AmendsIn(In):
    """Which idea in service this one wants changed; null: it is an idea of its own."""

    amends: Number | None


class EntryIn(In):
    """An idea as the team enters it, past the first review or as something that runs already."""

    answers: Annotated[dict[str, object], Field(max_length=60)]
    stage: Kind = "screened"
    why: Text = ""
    since: date | None = None
    runs_on: Annotated[str, Field(max_length=400)] = ""


class FileIn(In):
    """What a file is."""

    kind: Annotated[str, Field(max_length=30)]
    title: Annotated[str, Field(max_length=400)] = ""
    remark: Text = ""


Column = Annotated[int, Field(ge=0, le=200)]
Cell = Annotated[str, Field(max_length=sheets.LONGEST_CELL)]


class MatchIn(In):
    """Which column is what and how it is written, where the ideas begin, what comes in without what, and
    what was told by the contents and is still to be said right."""

    columns: Annotated[dict[str, int | None], Field(max_length=40)]
    asked: Annotated[list[Kind], Field(max_length=40)] = []
    ways: Annotated[dict[Kind, dict[Kind, Kind]], Field(max_length=40)] = {}
    stage: Kind = "noted"
    why: Text = ""
    back_on: date | None = None
    declined_for: Annotated[str, Field(max_length=100)] = ""
    without_people: bool = False
    without_values: bool = False
    ends_early: bool = False


class HeadIn(In):
    """In which row the head is; 0: there is none."""

    row: Annotated[int, Field(ge=0, le=100)]


class WordIn(In):
    """What a word of theirs stands for: ours, "" to leave it out, null to take back what was said."""

    of: Kind
    theirs: Annotated[str, Field(max_length=400)]
    ours: Annotated[str, Field(max_length=100)] | Number | None


class MendIn(In):
    """Cells of a line as they should be, by column; or the text of a row that did not fit its head."""

    cells: Annotated[dict[Column, Cell], Field(max_length=100)] = {}
    raw: Annotated[str, Field(max_length=100_000)] | None = None


class ChoiceIn(In):
    """Whether a line that looks like another is the *same* idea or *another* one; null: open again."""

    choice: Kind | None


@router.get("/interviews/offered")
def interviews(ctx: SignedIn) -> list[InterviewName]:
    """The interviews that an idea can begin with."""
    return rules_set.offered(ctx)


@router.put("/ideas/{number}/interview")
def choose_interview(number: Number, given: InterviewIn, ctx: SignedIn) -> Done:
    """Asks a draft by another interview; its answers stay."""
    drafts.choose_interview(ctx, number, given.interview)
    return Done()


@router.put("/ideas/{number}/amends")
def amend(number: Number, given: AmendsIn, ctx: SignedIn) -> Done:
    """Makes an idea an amendment of something in service, or an idea of its own again."""
    team_entry.amend(ctx, number, given.amends)
    return Done()


@router.get("/entries/questions")
def entry_questions(ctx: SignedIn) -> list[EntryQuestion]:
    """What the team is asked when it enters an idea."""
    return team_entry.questions(ctx)


@router.post("/entries", status_code=201)
def enter(given: EntryIn, ctx: SignedIn, key: StartKey) -> Made:
    """Enters an idea in one go, past the first review, or registers what runs already."""
    source = "runs already" if given.stage == "in service" else "the team"
    source = "a program" if ctx.actor.program else source
    entry = team_entry.Entry(given.answers, given.stage, given.why, given.since, given.runs_on, source)
    return Made(id=team_entry.enter(ctx, entry, key))


@router.post("/ideas/{number}/files", status_code=201)
def attach(
    number: Number,
    ctx: SignedIn,
    file: Annotated[UploadFile, File()],
    kind: Annotated[str, Form(max_length=30)] = "something else",
    title: Annotated[str, Form(max_length=400)] = "",
    remark: Annotated[str, Form(max_length=4000)] = "",
) -> Made:
    """Attaches a file."""
    data = file.file.read(LARGEST + 1)
    return Made(id=drafts.attach(ctx, number, file.filename or "file", kind, data, title, remark))


@router.put("/ideas/{number}/files/{file_id}")
def describe(number: Number, file_id: Number, given: FileIn, ctx: SignedIn) -> Done:
    """Says what a file is."""
    drafts.describe(ctx, number, file_id, given.kind, given.title, given.remark)
    return Done()


@router.delete("/ideas/{number}/files/{file_id}")
def detach(number: Number, file_id: Number, ctx: SignedIn) -> Done:
    """Takes a file off."""
    drafts.detach(ctx, number, file_id)
    return Done()


@router.get("/ideas/{number}/files/{file_id}", response_class=Response)
def download(number: Number, file_id: Number, ctx: SignedIn) -> Response:
    """A file, always as a download."""
    return to_keep(*drafts.download(ctx, number, file_id))


@router.get("/ideas/{number}/files/{file_id}/picture.png", response_class=Response)
def picture(number: Number, file_id: Number, ctx: SignedIn) -> Response:
    """A picture of a file, made anew by us."""
    return Response(file_views.picture(ctx, number, file_id), media_type="image/png")


@router.get("/ideas/{number}/files/{file_id}/text")
def file_text(number: Number, file_id: Number, ctx: SignedIn) -> FileText:
    """The beginning of what stands in a file."""
    return file_views.beginning(ctx, number, file_id)


@router.get("/sheets")
def my_sheets(ctx: SignedIn) -> list[SheetRow]:
    """The lists that one brought."""
    return sheets.mine(ctx)


@router.post("/sheets", status_code=201)
def bring_sheet(
    ctx: SignedIn,
    file: Annotated[UploadFile, File()],
    page: Annotated[str | None, Query(max_length=120)] = None,
) -> Made:
    """Brings a spreadsheet; nothing comes in yet."""
    data = file.file.read(sheets.LARGEST + 1)
    return Made(id=sheets.upload(ctx, file.filename or "list", data, page))


@router.get("/sheets/{number}")
def sheet(number: Number, ctx: SignedIn) -> SheetOut:
    """A list with what would become of each line."""
    return sheets.view(ctx, number)


@router.put("/sheets/{number}/match")
def match_sheet(number: Number, given: MatchIn, ctx: SignedIn, version: VersionSeen) -> Done:
    """Says which column is what."""
    sheets.set_match(ctx, number, given.model_dump(), version)
    return Done()


@router.put("/sheets/{number}/head")
def set_sheet_head(number: Number, given: HeadIn, ctx: SignedIn, version: VersionSeen) -> Done:
    """Says where the head of a list is; its columns are guessed anew."""
    sheets.set_head(ctx, number, given.row, version)
    return Done()


@router.put("/sheets/{number}/words")
def match_word(number: Number, given: WordIn, ctx: SignedIn, version: VersionSeen) -> Done:
    """Says once for all lines what a word of theirs stands for."""
    sheets.set_word(ctx, number, given.of, given.theirs, given.ours, version)
    return Done()


@router.put("/sheets/{number}/lines/{line}")
def mend_line(number: Number, line: Number, given: MendIn, ctx: SignedIn, version: VersionSeen) -> Done:
    """Mends a line in its place; as it came stays at hand."""
    sheets.mend(ctx, number, line, given.cells, given.raw, version)
    return Done()


@router.delete("/sheets/{number}/lines/{line}/mended")
def take_mend_back(number: Number, line: Number, ctx: SignedIn, version: VersionSeen) -> Done:
    """A line as it came."""
    sheets.as_it_came(ctx, number, line, version)
    return Done()


@router.put("/sheets/{number}/lines/{line}/choice")
def choose_line(number: Number, line: Number, given: ChoiceIn, ctx: SignedIn, version: VersionSeen) -> Done:
    """Says whether a line that looks like another is the same idea."""
    sheets.choose(ctx, number, line, given.choice, version)
    return Done()


@router.post("/sheets/{number}/begin")
def begin_sheet(number: Number, ctx: SignedIn, version: VersionSeen) -> Made:
    """Begins to bring a list in, or goes on."""
    return Made(id=sheets.begin(ctx, number, version))


@router.get("/sheets/{number}/left-out.csv", response_class=Response)
def left_out(number: Number, ctx: SignedIn) -> Response:
    """The lines that stay out, with what is wrong."""
    heads = {"Content-Disposition": 'attachment; filename="left-out.csv"'}
    return Response(sheets.left_out(ctx, number), media_type="text/csv; charset=utf-8", headers=heads)


@router.get("/errands")
def my_errands(ctx: BySelf) -> list[ErrandOut]:
    """What one has under way, or had lately."""
    return errands.mine(ctx)


@router.get("/errands/{number}")
def errand(number: Number, ctx: BySelf) -> ErrandOut:
    """How some long work of one's own stands."""
    return errands.shown(ctx, number)


@router.get("/errands/{number}/file", response_class=Response)
def errand_file(number: Number, ctx: BySelf) -> Response:
    """The file that some long work of one's own made."""
    made = errands.file_of(ctx, number)
    heads = {"Content-Disposition": f'attachment; filename="{made.name}"'}
    return Response(made.data, media_type=made.media_type, headers=heads)


@router.delete("/errands/{number}")
def cancel_errand(number: Number, ctx: BySelf) -> Done:
    """Lets long work be; what is done stays."""
    errands.cancel(ctx, number)
    return Done()
