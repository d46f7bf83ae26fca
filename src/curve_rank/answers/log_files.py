"""Logs from files: a file's sets kept in the background, where they belong, and in a unit that can be."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence

from curve_rank.answers.desk import Desk
from curve_rank.answers.means import Means
from curve_rank.answers.people import room_of
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.background.imports import ImportRun
from curve_rank.catalogue.schema import Variant
from curve_rank.exchange.logs import LogPreview
from curve_rank.practice.rooms import on_step
from curve_rank.practice.rules import rule
from curve_rank.rating.criteria import carried
from curve_rank.store import logs, people, plans, profiles
from curve_rank.store.database import DbSession
from curve_rank.store.viewers import Viewer
from curve_rank.training.log import LoggedSet
from curve_rank.training.placing import placed
from curve_rank.training.same_effort import apparent_strength


def begin_to_bring(
    desk: Desk,
    viewer: Viewer,
    person: int,
    found: LogPreview,
    means: Means,
    sign: Callable[[DbSession], None],
) -> ImportRun:
    """Keep what a file holds in the background, all of it or nothing; `sign` writes down whose doing it is.

    Raises
    ------
    BusyError
        When too much work waits already.
    """
    marks = hashlib.sha256("|".join(one.key for one in found.sets).encode()).hexdigest()
    run = ImportRun(viewer.person, f"{person}-{marks[:32]}", len(found.sets), also=_also(found))

    def keep(say: Callable[[int], None]) -> int:
        with desk.store.writing() as db:
            kept = bring(db, viewer, person, found.sets, means.variants, say)
            sign(db)
            return kept

    return desk.imports.start(run, keep)


def import_words(run: ImportRun) -> str:
    """What became of a file, in words."""
    if run.state == "cancelled":
        return "It was stopped: nothing of the file was kept."
    if run.state != "finished":
        return run.problem
    there = run.total - run.kept
    more = f" {there:,} were here already." if there else ""
    return f"{run.kept:,} sets kept.{more}{run.also}"


def _also(found: LogPreview) -> str:
    """What of a file is not kept."""
    twice = f" {len(found.doubles):,} stood twice in the file." if found.doubles else ""
    return f"{twice} {len(found.problems):,} rows were left out." if found.problems else twice


def bring(
    db: DbSession,
    viewer: Viewer,
    person: int,
    sets: Sequence[LoggedSet],
    variants: Sequence[Variant],
    say: Callable[[int], None] | None = None,
) -> int:
    """Keep sets of a file: on the room's steps, in a block's sessions where they fit; how many were new.

    `say` hears how many are done.

    Raises
    ------
    UnknownNameError
        Where the viewer may not see the person.
    """
    room = room_of(db, profiles.profile_of(db, viewer, person)[0])
    named = {variant.id: variant for variant in variants}
    sets = [
        one.model_copy(update={"load_kg": on_step(room, named[one.variant], one.load_kg)})
        for one in sets
        if one.variant in named
    ]
    for plan in plans.done_by(db, viewer, person):
        sets = placed(sets, plan.block, plan.id, logs.begun(db, viewer, person, plan.id))
    return logs.add_sets(db, viewer, person, sets, "file", say)


def unit_in_doubt(
    db: DbSession, viewer: Viewer, person: int, means: Means, sets: Sequence[LoggedSet], unit: str
) -> str:
    """The other unit, where loads look like it for somebody of this body; nothing where they do not.

    Parameters
    ----------
    db : DbSession
        The open database.
    viewer : Viewer
        Who brings them.
    person : int
        Whose they are.
    means : Means
        With what loads are worked out.
    sets : sequence of LoggedSet
        As they were read.
    unit : str
        In which they were read, "kg" or "lb".
    """
    found = people.known_person(db, viewer, person)
    if not found.bodies:
        return ""
    done = {one.variant for one in sets}
    named = tuple(variant for variant in means.variants if variant.id in done)
    models = means.modeller.able(named, people.body_of(found), effort=usual_effort())
    expected = {m.variant.id: (m.load, carried(m.variant) * m.body.mass) for m in models}
    strength, most = apparent_strength(sets, expected), rule("personal.most_strength")
    if unit == "kg":
        return "lb" if strength > most else ""
    return "kg" if strength < 1 / most else ""
