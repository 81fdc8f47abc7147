"""The places a run takes while it works: a robot, a seat of its host, its routine's limit, its locks."""

from __future__ import annotations

from tallyman.core.runs import SeatOfPeople, SlotKind
from tallyman.services.context import WORK, Ctx, changed
from tallyman.store.db import Tx
from tallyman.store.records.robots import OwnFreeSeat, RobotsFreePlaces
from tallyman.store.records.workshop import RoutinesLocksOf


class Taken(Exception):
    """Another transaction was faster: undo everything and try the next run."""


def take(tx: Tx, kind: str, owner: int, run_id: int) -> None:
    """Takes one free place by a conditional write; Taken if there is none."""
    n = tx.value(int, "robots.free_slot", kind=kind, owner=owner)
    if n is None or not tx.write("robots.take_slot", kind=kind, owner=owner, n=n, run=run_id):
        raise Taken


def _take_of_person(tx: Tx, kind: SeatOfPeople, person_id: int, run_id: int) -> None:
    """Takes a free seat of a person's, or of a group of theirs; Taken if there is none."""
    row = tx.one(OwnFreeSeat, "own.free_seat", kind=kind, person=person_id)
    if row is None or not tx.write("robots.take_slot", kind=kind, owner=row.owner_id, n=row.n, run=run_id):
        raise Taken


def _take_beside(
    tx: Tx, kind: SeatOfPeople, person_id: int, run_id: int, robot_id: int, routine_id: int
) -> None:
    """The places of a run whose seat is a person's and not its host's."""
    take(tx, "robot", robot_id, run_id)
    _take_of_person(tx, kind, person_id, run_id)
    take(tx, "limit", routine_id, run_id)
    _take_locks(tx, routine_id, run_id)


def take_all(
    tx: Tx, run_id: int, robot_id: int, host_id: int, routine_id: int, person_id: int | None = None
) -> None:
    """Every place of a run, always in the same order; Taken if one is gone. `person_id`: whose computer it is
    meant for."""
    if person_id is not None:
        _take_beside(tx, "attended", person_id, run_id, robot_id, routine_id)
        return
    owners = {"robot": robot_id, "host": host_id, "routine": routine_id}
    rows = tx.all(RobotsFreePlaces, "robots.free_places", **owners)
    free = {row.kind: row.n for row in rows}
    builder = next((row.builder for row in rows if row.builder is not None), None)
    if builder is not None:
        _take_beside(tx, "builder", builder, run_id, robot_id, routine_id)
        return
    # A robot's own trial run takes a trial seat, so that it takes no room from work.
    seat: SlotKind = "trial" if any(row.of_trial for row in rows) else "seat"
    places = {"robot_n": free.get("robot"), "seat_n": free.get(seat), "limit_n": free.get("limit")}
    if None in places.values():
        raise Taken
    if tx.write("robots.take_places", run=run_id, seat=seat, **owners, **places) < len(places):
        raise Taken
    _take_locks(tx, routine_id, run_id)


def _take_locks(tx: Tx, routine_id: int, run_id: int) -> None:
    for lock in tx.all(RoutinesLocksOf, "routines.locks_of", routine=routine_id):
        take(tx, "lock", lock.id, run_id)


def free(tx: Tx, ctx: Ctx, run_id: int) -> None:
    """Gives back every place of a run; runners that wait for work look again."""
    tx.write("robots.free_slots_of", run=run_id)
    changed(tx, ctx, WORK)
