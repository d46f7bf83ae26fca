"""Edits of a block by hand: each is plain data, and gives a new block or says why it cannot be."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from curve_rank.errors import BadInputError
from curve_rank.practice.balance import exercises_of, with_sets
from curve_rank.practice.block import (
    LETTERS,
    MOST_EXERCISES,
    Block,
    Exercise,
    Session,
    Week,
    back_to_back,
    checked,
)
from curve_rank.practice.edit_kinds import (
    AddExercise,
    AddWeek,
    CopyWeek,
    EasierWeek,
    Edit,
    GroupExercise,
    InSession,
    MoveExercise,
    MoveSession,
    OrderSession,
    RemoveExercise,
    RemoveWeek,
    SetBlock,
    SetExercise,
    SetSets,
    SwapExercise,
    WarmUp,
)
from curve_rank.practice.facts import Facts
from curve_rank.practice.make_block import easier, new_exercise, warmed
from curve_rank.practice.profile import WEEKDAYS
from curve_rank.practice.session import ordered, swapped
from curve_rank.validation import validated

MOST_WEEKS = 8
SAID = {
    "move_exercise": "Exercise moved",
    "remove_exercise": "Exercise removed",
    "set_exercise": "Exercise changed",
    "order_session": "Put in order",
    "warm_up": "Warm-ups put in",
    "add_week": "Week added",
    "remove_week": "Week removed",
    "easier_week": "Week made easier",
    "set_block": "Block changed",
    "set_sets": "Sets brought into their range",
}
SETTABLE = ("kind", "sets", "warm_up", "reps_from", "reps_to", "rest_s", "tempo", "finisher", "note")


def edited(block: Block, edit: Edit, facts: Mapping[str, Facts]) -> Block:
    """The block after an edit, checked as a whole.

    Parameters
    ----------
    block : Block
        The weeks.
    edit : Edit
        What is changed.
    facts : mapping
        Of everything that is or may be in it.

    Raises
    ------
    BadInputError
        For a place that is none, and what no block can be.
    """
    match edit:
        case SetBlock():
            given = edit.model_dump(exclude={"do"}, exclude_none=True)
            made = block.model_dump() | given
        case SetSets():
            like = exercises_of(block.weeks[_place("week", edit.week, block.weeks)])
            weeks = [with_sets(one, edit.sets) if exercises_of(one) == like else one for one in block.weeks]
            made = block.model_dump() | {"weeks": weeks}
        case AddWeek() | RemoveWeek() | CopyWeek() | EasierWeek():
            made = block.model_dump() | {"weeks": _weeks(block, edit)}
        case _:
            weeks = list(block.weeks)
            numbers = range(len(weeks)) if edit.everywhere else [_place("week", edit.week, weeks)]
            change = _in_week(edit, facts, block)
            done = 0
            for n in numbers:
                if n == edit.week or _has_such(weeks[n], edit, block):
                    weeks[n] = change(weeks[n])
                    done += 1
            if not done:
                raise BadInputError("session", edit.session + 1, "a session of that week")
            made = block.model_dump() | {"weeks": weeks}
    new = checked(made)
    if all(week.sessions for week in new.weeks):
        return new
    raise BadInputError("weeks", "an empty one", "at least one session a week")


def _has_such(week: Week, edit: InSession, block: Block) -> bool:
    """Whether a week has such a session, and such an exercise in it, as the one that is edited."""
    if edit.session >= len(week.sessions):
        return False
    like = block.weeks[_place("week", edit.week, block.weeks)]
    if isinstance(edit, MoveSession):
        return [session.day for session in week.sessions] == [session.day for session in like.sessions]
    at = getattr(edit, "exercise", None)
    if at is None:
        return True
    ones, mine = (
        one.sessions[edit.session].exercises if edit.session < len(one.sessions) else ()
        for one in (week, like)
    )
    return bool(at < min(len(ones), len(mine)) and ones[at].variant == mine[at].variant)


def variant_named(typed: str, facts: Mapping[str, Facts]) -> str:
    """The id of a variant that was typed by its id or name; what was typed where there is none."""
    named = {fact.variant.name.lower(): key for key, fact in facts.items()}
    return typed if typed in facts else named.get(typed.strip().lower(), typed)


def said(edit: Edit, facts: Mapping[str, Facts]) -> str:
    """What an edit did, in a few words."""
    where = ""
    if isinstance(edit, InSession):
        where = " in every week" if edit.everywhere else f" in week {edit.week + 1}"
    name = ""
    if isinstance(edit, SwapExercise | AddExercise) and edit.variant in facts:
        name = facts[edit.variant].variant.name
    match edit:
        case MoveSession():
            words = f"Session moved to {WEEKDAYS[edit.day]}"
        case GroupExercise():
            words = "Put together" if edit.together else "Taken apart"
        case CopyWeek():
            words = f"Week {edit.week + 1} copied to week {edit.to + 1}"
        case AddExercise():
            words = f"{name} added"
        case SwapExercise():
            words = f"{name} instead"
        case _:
            words = SAID[edit.do]
    return words + where


def _weeks(block: Block, edit: AddWeek | RemoveWeek | CopyWeek | EasierWeek) -> list[Week]:
    weeks = list(block.weeks)
    match edit:
        case AddWeek():
            if len(weeks) >= MOST_WEEKS:
                raise BadInputError("weeks", len(weeks) + 1, f"at most {MOST_WEEKS}")
            weeks.append(weeks[-1])
        case RemoveWeek():
            if len(weeks) == 1:
                raise BadInputError("weeks", 0, "at least one")
            del weeks[_place("week", edit.week, weeks)]
        case CopyWeek():
            weeks[_place("week", edit.to, weeks)] = weeks[_place("week", edit.week, weeks)]
        case EasierWeek():
            n = _place("week", edit.week, weeks)
            weeks[n] = easier(weeks[n])
    return weeks


def _in_week(edit: Edit, facts: Mapping[str, Facts], block: Block) -> Callable[[Week], Week]:
    """What an edit does to one week."""

    def change(week: Week) -> Week:
        sessions = list(week.sessions)
        at = _place("session", edit.session, sessions)  # type: ignore[union-attr]
        match edit:
            case MoveSession():
                sessions[at] = _moved(sessions, at, edit.day, override=bool(block.override))
                sessions.sort(key=lambda s: s.day)
            case MoveExercise():
                _move(sessions, at, edit)
            case _:
                sessions[at] = _in_session(sessions[at], edit, facts)
        return week.model_copy(update={"sessions": tuple(sessions)})

    return change


def _moved(sessions: list[Session], at: int, day: int, *, override: bool) -> Session:
    others = [s.day for n, s in enumerate(sessions) if n != at]
    if day in others:
        raise BadInputError("day", WEEKDAYS[day], "a day without a session")
    touching = [pair for pair in back_to_back((*others, day)) if day in pair]
    if touching and not override:
        right = "a day with a rest day before and after; or give a reason why none is needed"
        raise BadInputError("day", WEEKDAYS[day], right)
    return sessions[at].model_copy(update={"day": day})


def _move(sessions: list[Session], at: int, edit: MoveExercise) -> None:
    to = _place("to_session", edit.to_session, sessions)
    left = list(sessions[at].exercises)
    one = left.pop(_place("exercise", edit.exercise, left))
    alone = one if at == to else one.model_copy(update={"group": ""})
    there = left if at == to else list(sessions[to].exercises)
    if len(there) >= MOST_EXERCISES:
        raise BadInputError("exercises", len(there) + 1, f"at most {MOST_EXERCISES} a session")
    there.insert(min(edit.to, len(there)), alone)
    sessions[at] = _grouped_well(sessions[at].model_copy(update={"exercises": tuple(left)}))
    sessions[to] = _grouped_well(sessions[to].model_copy(update={"exercises": tuple(there)}))


def _in_session(session: Session, edit: Edit, facts: Mapping[str, Facts]) -> Session:
    ones = list(session.exercises)
    match edit:
        case AddExercise():
            ones.append(new_exercise(_fact(edit.variant, facts)))
        case RemoveExercise():
            del ones[_place("exercise", edit.exercise, ones)]
        case SwapExercise():
            n = _place("exercise", edit.exercise, ones)
            ones[n] = swapped(ones[n], _fact(edit.variant, facts))
        case SetExercise():
            n = _place("exercise", edit.exercise, ones)
            ones[n] = _set(ones[n], edit.values)
        case GroupExercise():
            _group(ones, _place("exercise", edit.exercise, ones), together=edit.together)
        case OrderSession():
            _all_known(session, facts)
            alone = [one.model_copy(update={"group": ""}) for one in ones]
            placed = ordered(alone, facts, edit.first)
            return warmed(session.model_copy(update={"exercises": placed}), facts)
        case WarmUp():
            _all_known(session, facts)
            return warmed(session, facts)
    return _grouped_well(session.model_copy(update={"exercises": tuple(ones)}))


def _set(one: Exercise, values: dict[str, str | int]) -> Exercise:
    unknown = set(values) - set(SETTABLE)
    if unknown:
        raise BadInputError("exercise", ", ".join(sorted(unknown)), "one of: " + ", ".join(SETTABLE))
    return validated(Exercise, one.model_dump() | values, "exercise")


def _group(ones: list[Exercise], n: int, *, together: bool) -> None:
    if not together:
        ones[n] = ones[n].model_copy(update={"group": ""})
        return
    if n + 1 >= len(ones):
        raise BadInputError("exercise", n + 1, "one that another follows, to be done together with it")
    used = {one.group for one in ones}
    letter = ones[n].group or ones[n + 1].group or next((x for x in LETTERS if x not in used), "")
    for place in (n, n + 1):
        ones[place] = ones[place].model_copy(update={"group": letter})


def _grouped_well(session: Session) -> Session:
    """A letter that stands alone is no group."""
    ones = list(session.exercises)
    for places in session.rounds:
        if len(places) == 1 and ones[places[0]].group:
            ones[places[0]] = ones[places[0]].model_copy(update={"group": ""})
    return session.model_copy(update={"exercises": tuple(ones)})


def _place(name: str, n: int, among: Sequence[Any]) -> int:
    if not 0 <= n < len(among):
        raise BadInputError(name, n + 1, f"1 to {len(among)}")
    return n


def _all_known(session: Session, facts: Mapping[str, Facts]) -> None:
    for one in session.exercises:
        _fact(one.variant, facts)


def _fact(key: str, facts: Mapping[str, Facts]) -> Facts:
    if key not in facts:
        raise BadInputError("variant", key, "one that this body can do, in this room, with these joints")
    return facts[key]
