"""Long work: begun by a person, done by the engine in small pieces, with progress, cancel and going on
where an engine that fell silent left off."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import timedelta
from functools import partial

from tallyman.errors import Away, NotFound, TallymanError
from tallyman.services.context import Actor, Ctx, changed, in_transaction
from tallyman.services.upkeep.answers import ErrandOut
from tallyman.services.upkeep.hitches import Rows, Work
from tallyman.store.db import Tx
from tallyman.store.records.upkeep import EffectsFirst, Errand, ErrandsFile, ErrandsOfPerson, HitchesFind


def _drop(tx: Tx, ctx: Ctx, row: HitchesFind, why: str) -> None:
    give_up(tx, ctx, int(row.row_key), why)


ERRANDS = Work("errands", "long work that somebody began", drop=_drop)

LEASE = timedelta(seconds=60)
FILES_KEPT_FOR = timedelta(days=1)


@dataclass(frozen=True)
class Piece:
    """What a piece of the work came to: how much is done by now, in words, and whether that is all.

    `result` is what the work came to so far, where that is more than words.
    """

    done: int
    words: str
    whole: bool
    result: Mapping[str, object] | None = None


# Does the next piece of an errand, as whoever began it. Each piece is safe to be done twice.
Handler = Callable[[Ctx, Errand], Piece]
# Finds who began it, with what they may by now.
FindActor = Callable[[Tx, Ctx, int], Actor]


def add(tx: Tx, ctx: Ctx, kind: str, total: int, given: Mapping[str, object]) -> int:
    """Puts down long work for the engine."""
    number = tx.insert(
        "errands.add", kind=kind, person=ctx.actor.person_id, total=total, input=dict(given), now=ctx.now
    )
    changed(tx, ctx, "errands", number)
    return number


def find(tx: Tx, ctx: Ctx, number: int) -> Errand:
    """An errand of the actor's own. Raises NotFound."""
    row = tx.one(Errand, "errands.one", id=number)
    if row is None or row.person_id != ctx.actor.person_id:
        raise NotFound("There is no such work of yours.", "Load the page again.")
    return row


def mine(ctx: Ctx) -> list[ErrandOut]:
    """What the actor has under way, or had lately."""
    rows = ctx.db.transact(
        lambda tx: tx.all(ErrandsOfPerson, "errands.of_person", person=ctx.actor.person_id)
    )
    return [_shown(row) for row in rows]


def shown(ctx: Ctx, number: int) -> ErrandOut:
    """How an errand of the actor's own stands. Raises NotFound."""
    return _shown(one(ctx, number))


def _shown(row: Errand | ErrandsOfPerson) -> ErrandOut:
    return ErrandOut(
        id=row.id,
        kind=row.kind,
        state=row.state,
        done=row.done,
        total=row.total,
        words=row.words,
        made_at=row.made_at,
        ended_at=row.ended_at,
    )


def one(ctx: Ctx, number: int) -> Errand:
    """How an errand of the actor's own stands, and what it came to. Raises NotFound."""
    return ctx.db.transact(lambda tx: find(tx, ctx, number))


def keep_file(ctx: Ctx, number: int, name: str, media_type: str, data: bytes) -> None:
    """Keeps a file that an errand made, for a day."""
    given = {"id": number, "name": name, "media_type": media_type, "data": data, "now": ctx.now}
    ctx.db.transact(lambda tx: tx.write("errands.keep_file", **given))


@in_transaction
def file_of(tx: Tx, ctx: Ctx, number: int) -> ErrandsFile:
    """The file that an errand of the actor's own made: name, media_type, data. Raises NotFound."""
    find(tx, ctx, number)
    row = tx.one(ErrandsFile, "errands.file", id=number)
    if row is None:
        raise NotFound("There is no such file yet, or not any more.", "Have it made once more.")
    return row


def tidy(tx: Tx, ctx: Ctx) -> None:
    """Files that were made more than a day ago go."""
    tx.write("errands.prune_files", before=ctx.now - FILES_KEPT_FOR)


@in_transaction
def cancel(tx: Tx, ctx: Ctx, number: int) -> None:
    """Lets an errand be; what is done stays."""
    find(tx, ctx, number)
    tx.write("errands.cancel", id=number, now=ctx.now)
    changed(tx, ctx, "errands", number)


def carry_on(ctx: Ctx, holder: str, handlers: Mapping[str, Handler], actor_of: FindActor) -> int:
    """Takes errands that wait and does the next piece of each; gives how many pieces were done."""
    turn, done = Rows(ctx, ERRANDS), 0
    for row in ctx.db.transact(lambda tx: tx.all(EffectsFirst, "errands.open", now=ctx.now)):
        if row.kind not in handlers:
            continue
        act = partial(_piece, ctx, holder, row.id, handlers[row.kind], actor_of)
        tried = turn.go(str(row.id), act, about=row.kind)
        if tried.stuck:
            ctx.db.transact(partial(_say_stuck, ctx=ctx, number=row.id, why=tried.why))
        done += tried.done
    return done


def _piece(ctx: Ctx, holder: str, number: int, handler: Handler, actor_of: FindActor) -> int | None:
    until = ctx.now + LEASE

    def take(tx: Tx) -> Errand | None:
        if not tx.write("errands.take", id=number, holder=holder, until=until, now=ctx.now):
            return None
        return tx.one(Errand, "errands.one", id=number)

    errand = ctx.db.transact(take)
    if errand is None:
        return None
    try:
        actor = ctx.db.transact(lambda tx: actor_of(tx, ctx, errand.person_id))
        piece = handler(Ctx(ctx.db, ctx.now, actor), errand)
    except Away:
        raise
    except TallymanError as error:
        ctx.db.transact(partial(_end, ctx=ctx, errand=errand, holder=holder, words=error.message))
        return 1
    except BaseException:
        # Whoever may try it next need not wait for the lease.
        same = Piece(errand.done, errand.words or "", whole=False)
        ctx.db.transact(partial(_note, ctx=ctx, number=number, holder=holder, piece=same))
        raise
    ctx.db.transact(partial(_note, ctx=ctx, number=number, holder=holder, piece=piece))
    return 1


def _say_stuck(tx: Tx, ctx: Ctx, number: int, why: str) -> None:
    words = f"stopped after {ERRANDS.most_tries} tries: {why}; whoever looks after Health can mend it"
    tx.write("errands.say", id=number, words=words[:500])
    changed(tx, ctx, "errands", number)


def give_up(tx: Tx, ctx: Ctx, number: int, why: str) -> None:
    """Ends an errand that is stuck, with a person's reason; what is done stays."""
    tx.write("errands.give_up", id=number, words=f"given up: {why}"[:500], now=ctx.now)
    changed(tx, ctx, "errands", number)


def _end(tx: Tx, ctx: Ctx, errand: Errand, holder: str, words: str) -> None:
    given = {"id": errand.id, "holder": holder, "done": errand.done, "words": words[:500]}
    given["result"] = None
    tx.write("errands.end", **given, state="failed", now=ctx.now)
    changed(tx, ctx, "errands", errand.id)


def _note(tx: Tx, ctx: Ctx, number: int, holder: str, piece: Piece) -> None:
    given: dict[str, object] = {
        "id": number,
        "holder": holder,
        "done": piece.done,
        "words": piece.words[:500],
    }
    given["result"] = None if piece.result is None else dict(piece.result)
    if piece.whole:
        tx.write("errands.end", **given, state="done", now=ctx.now)
    else:
        # The lease ends at once, so that any engine takes the next piece.
        tx.write("errands.progress", **given, until=ctx.now - timedelta(microseconds=1))
    changed(tx, ctx, "errands", number)
