"""Demo data: Lanternfield Barn, a community gym that does not exist, and its made-up people."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in, find_variant, validate_fault
from curve_rank.catalogue.profiles import validate_profile
from curve_rank.catalogue.schema import Change
from curve_rank.practice.block import checked as checked_block
from curve_rank.practice.profile import ClientProfile
from curve_rank.rating.lenses import validate_lens
from curve_rank.rating.modelling import Modeller
from curve_rank.store.database import Store
from curve_rank.store.demo_training import log_block, measure_block, write_comments
from curve_rank.store.documents import save_new
from curve_rank.store.house.accounts import consent
from curve_rank.store.people import body_of, save_body
from curve_rank.store.plans import add_plan, hand_over
from curve_rank.store.profiles import checked as checked_profile
from curve_rank.store.profiles import profile_of, save_profile
from curve_rank.store.questions import save_question
from curve_rank.store.rooms import any_room, save_room
from curve_rank.store.rooms import checked as checked_room
from curve_rank.store.tables import BodyRow, CoachClient, Person, PersonRole, Room
from curve_rank.store.viewers import Viewer, local_educator, viewer_of
from curve_rank.study.claims import validate_claim
from curve_rank.study.lecture import validate_lecture
from curve_rank.study.transfer import KnownSet, body_from_set

CLIENTS = (
    ("Wren Achterberg", 1.63, 58.0, ()),
    ("Hollis Marrable", 1.91, 97.0, ("elbow",)),
    ("Ines Quarrie", 1.71, 66.0, ("shoulder",)),
    ("Jory Feldspar", 1.78, 84.0, ()),
    ("Pell Okonjo-Lind", 1.55, 71.0, ("wrist", "lower_back")),
)
COACHES = ("Tamsin Brackwater", "Osric Vayle")
ROOMS: tuple[tuple[str, dict[str, Any]], ...] = (
    (
        "",
        {
            "name": "Lanternfield Barn, main floor",
            "equipment": (
                "dumbbell",
                "barbell",
                "angled_bar",
                "neutral_bar",
                "cable",
                "incline_bench",
                "flat_bench",
                "pad_bench",
                "upright_seat",
            ),
            "dumbbells_kg": (*range(2, 12), *range(12, 34, 2)),
            "pulley_m": tuple(round(0.1 * n, 1) for n in range(1, 23)),
            "bench_deg": (0, 30, 45, 60, 75, 85),
            "stations": 2,
        },
    ),
    (
        "",
        {
            "name": "The hayloft",
            "equipment": ("dumbbell", "cable", "incline_bench", "upright_seat"),
            "dumbbells_kg": (4, 6, 8, 10, 12, 14, 16, 18, 20),
            "stack_from_kg": 5,
            "stack_to_kg": 60,
            "stack_step_kg": 5,
        },
    ),
    (
        "Hollis Marrable",
        {
            "name": "Hollis at home",
            "equipment": ("dumbbell", "no_bench"),
            "dumbbells_kg": (5, 7.5, 10, 12.5, 15),
        },
    ),
)
PROFILES: dict[str, dict[str, Any]] = {
    "Wren Achterberg": {
        "targets": ("biceps_long", "triceps_long"),
        "minutes": 45,
        "days": (0, 1, 3, 4, 5),
        "pulling_days": (1,),
        "weaker": "left",
        "training_years": 2,
        "room": "The hayloft",
    },
    "Hollis Marrable": {
        "targets": ("brachialis", "triceps_lateral"),
        "spare": ("elbow",),
        "limits": {"elbow_straight": 10, "shoulder_overhead": 150},
        "minutes": 35,
        "room": "Hollis at home",
    },
    "Ines Quarrie": {
        "spare": ("shoulder",),
        "limits": {"shoulder_back": 30, "shoulder_overhead": 130, "shoulder_out": 70},
        "minutes": 50,
        "mass_unit": "lb",
        "length_unit": "in",
        "room": "Lanternfield Barn, main floor",
    },
    "Jory Feldspar": {"minutes": 60, "pressing_days": (2,), "room": "Lanternfield Barn, main floor"},
}
EXERCISES: dict[str, tuple[Any, ...]] = {
    # variant: kind, sets, light sets, repetitions, rest, letter
    "seated-press-down": ("straight", 3, 3, (12, 20), 120, "A"),
    "reclined-60-dumbbell-curl": ("straight", 3, 2, (8, 12), 120, "A"),
    "overhead-dumbbell-one-arm": ("straight", 3, 1, (10, 15), 90, ""),
    "reclined-45-thumb-up-curl": ("straight", 3, 0, (10, 15), 90, ""),
    "standing-dumbbell-curl": ("ramp", 3, 2, (8, 12), 90, ""),
    "bent-over-pull-back": ("straight", 3, 3, (12, 20), 60, ""),
}
WEEK = (
    (0, ("seated-press-down", "reclined-60-dumbbell-curl", "overhead-dumbbell-one-arm")),
    (3, ("bent-over-pull-back", "standing-dumbbell-curl", "overhead-dumbbell-one-arm")),
    (5, ("seated-press-down", "reclined-60-dumbbell-curl", "reclined-45-thumb-up-curl")),
)
BLOCKS = (
    # name, weeks, begun so many weeks ago, coach, clients who see it
    ("Harvest arms", 4, 9, "Tamsin Brackwater", ("Wren Achterberg",)),
    ("Lantern weeks", 5, 2, "Tamsin Brackwater", ("Wren Achterberg", "Ines Quarrie")),
)
OWN = (
    (
        "Hayloft deep recline",
        "reclined-45-dumbbell-curl",
        (
            ("posture.trunk_pitch", -50.0),
            ("path.0.elbow", 8.0),
            ("setup.0", "Set the bench to 40° from the floor."),
        ),
    ),
    ("Steep pad, palms in", "pad-60-dumbbell-curl", (("posture.forearm", -45.0),)),
    (
        "Rope extension, pulley at the knee",
        "overhead-rope-low-pulley",
        (("lines.0.up", 0.55), ("lines.0.forward", -0.8)),
    ),
)
KNOWN_SETS = (
    ("Jory Feldspar", "standing-dumbbell-curl", 16.0, 8),
    ("Wren Achterberg", "rope-press-down", 17.5, 10),
)
LENS: dict[str, Any] = {
    "name": "Lanternfield house blend",
    "school": "Long first, but nothing that rests for more than a fifth of the rep.",
    "weights": {"long_tension": 45, "evenness": 25, "joints": 20, "strictness": 10},
    "limits": {"no_slack": {"at_most": 0.2}},
}
CLAIMS: tuple[dict[str, Any], ...] = (
    {
        "name": "Hayloft recline against the pad",
        "question": "Which curl for the long head, up in the hayloft?",
        "sides": (
            "The deep recline works the long head longer than the pad ever does.",
            "The pad is hard where the elbow is straight, and that is what counts.",
        ),
        "test": {
            "more": ("own-hayloft-deep-recline",),
            "less": ("pad-45-dumbbell-curl",),
            "reading": "long_tension",
            "head": "biceps_long",
            "by": 1,
        },
        "notes": "Osric teaches the pad first, Tamsin the recline. Settled for the spring block only.",
    },
    {
        "name": "Warm elbows first",
        "question": "Do light press-downs before overhead work save elbows?",
        "sides": ("Yes: two light sets, and nobody complains.", "They only take time."),
        "missing": "Warmth, soreness and what tissue makes of a set; a log of complaints would tell more.",
        "notes": "Count complaints at the desk over one block.",
    },
)
FAULT: dict[str, Any] = {
    "name": "leans back for the last inch",
    "cue": "Ribs down: if it needs the lean, it was too heavy.",
    "variant": "standing-barbell-curl",
    "changes": [{"field": "path.-1.trunk_pitch", "set": -10}],
}
LECTURE: dict[str, Any] = {
    "name": "Thursday at the barn: long or short?",
    "slides": (
        {
            "kind": "words",
            "title": "Long or short?",
            "words": "Where a curl is hard decides how long the muscle works. Tonight: look, guess, see.",
        },
        {
            "kind": "page",
            "what": "/bench/standing-dumbbell-curl",
            "words": "The plain one. Watch where the lever is longest.",
        },
        {"kind": "hands", "what": "stretched reclined-60-dumbbell-curl pad-45-dumbbell-curl"},
        {"kind": "page", "what": "/compare?with=reclined-60-dumbbell-curl&with=pad-45-dumbbell-curl"},
        {"kind": "sketch", "what": "thigh-braced-curl"},
        {"kind": "page", "what": "/heads/biceps_long"},
        {
            "kind": "page",
            "what": "/board?target=biceps_long&with=dumbbell",
            "words": "With what stands in the hayloft.",
        },
    ),
}
PROFILE: dict[str, Any] = {
    "name": "Pad machine by the hayloft stairs",
    "group": "flexors",
    "measured": "capture",
    "stack_kg": 25,
    "angle": [8, 20, 32, 44, 56, 68, 80, 92, 104, 116, 128, 138],
    "torque": [31.2, 35.9, 41.6, 47.8, 53.9, 59.2, 63.0, 64.7, 63.8, 60.4, 55.1, 50.2],
    "low": [30.5, 35.4, 41.1, 47.3, 53.4, 58.7, 62.5, 64.1, 63.3, 59.8, 54.5, 49.3],
    "high": [31.9, 36.4, 42.1, 48.3, 54.4, 59.7, 63.5, 65.3, 64.3, 61.0, 55.7, 51.1],
    "friction": [1.8, 1.8, 1.8, 1.9, 1.9, 1.9, 1.9, 2.0, 2.0, 2.0, 2.1, 2.1],
    "noise_nm": 0.9,
    "samples": 2380,
}
QUESTIONS = (
    ("Long head, hayloft kit", "target=biceps_long&with=dumbbell&with=cable&with=incline_bench"),
    ("Triceps for sore elbows", "target=extensors&lens=all_round&spare=elbow"),
    ("Brachialis at home", "target=brachialis&lens=even_tension&with=dumbbell&with=no_bench"),
)


def fill_demo(store: Store) -> None:
    """Put the demo data into a store that has none yet; a second call changes nothing."""
    with store.writing() as session:
        viewer = local_educator(session)
        if viewer is None or session.scalar(select(Room.id)) is not None:
            return
        educator = session.get_one(Person, viewer.person)
        educator.name = "Maude Ellerby"
        session.add(BodyRow(owner_id=viewer.person, person_id=viewer.person, height_m=1.69, mass_kg=68.0))
        coaches = [_add_person(session, viewer, name, "coach") for name in COACHES]
        for n, (name, height, mass, sore) in enumerate(CLIENTS):
            client = _add_person(session, viewer, name, "client")
            coach = coaches[n % len(coaches)]
            session.add(CoachClient(owner_id=viewer.person, coach_id=coach, client_id=client))
            session.add(
                BodyRow(
                    owner_id=viewer.person,
                    person_id=client,
                    height_m=height,
                    mass_kg=mass,
                    sore_joints=list(sore),
                )
            )
            if n < len(CLIENTS) - 1:  # the last one is still to be asked
                client_viewer = viewer_of(session, client)
                assert client_viewer
                consent(session, client_viewer, minor=False, injured=False, cleared_on=None)
        rooms = {
            content["name"]: save_room(
                session, viewer, checked_room(content), person=_number(session, whose) if whose else None
            )
            for whose, content in ROOMS
        }
        for name, content in PROFILES.items():
            profile = checked_profile(content | {"room": rooms[content["room"]]})
            save_profile(session, viewer, _number(session, name), profile, 0)
        for name, address in QUESTIONS:
            save_question(session, viewer, name=name, address=address)
        for name, variant, load, reps in KNOWN_SETS:
            _keep_known_set(session, viewer, name, KnownSet(find_variant(variant, built_in()), load, reps))
        save_new(session, viewer, "lens", validate_lens(LENS), name=LENS["name"])
        for claim in CLAIMS:
            save_new(session, viewer, "claim", validate_claim(claim), name=claim["name"])
        save_new(
            session, viewer, "fault", validate_fault(FAULT), name=FAULT["name"], made_from=FAULT["variant"]
        )
        save_new(session, viewer, "lecture", validate_lecture(LECTURE), name=str(LECTURE["name"]))
        save_new(session, viewer, "profile", validate_profile(PROFILE), name=PROFILE["name"])
        for name, source, settings in OWN:
            changes = tuple(Change(field=field, set=value) for field, value in settings)
            variant_made = changed(find_variant(source, built_in()), changes)
            save_new(session, viewer, "variant", variant_made, name=name, made_from=source)
        for block in BLOCKS:
            _keep_block(session, *block)
        written = {name: _viewer(session, name) for name in ("Wren Achterberg", "Ines Quarrie")}
        write_comments(session, written, _viewer(session, BLOCKS[0][3]))


def _number(session: DbSession, name: str) -> int:
    return session.scalars(select(Person.id).where(Person.name == name)).one()


def _keep_block(
    session: DbSession, name: str, weeks: int, ago: int, coach: str, clients: tuple[str, ...]
) -> None:
    """A block that began some weeks ago, handed over to those who do it."""
    today = ClientProfile().day_at(datetime.now(UTC))  # before three at night it is still yesterday's
    week = {"sessions": [{"day": day, "exercises": [_exercise(key) for key in keys]} for day, keys in WEEK]}
    block = checked_block(
        {
            "name": name,
            "targets": ("biceps_long", "triceps_long"),
            "weeks": [week] * weeks,
            "minutes": 45,
            "start": today - timedelta(days=today.weekday() + 7 * ago),
        }
    )
    viewer = viewer_of(session, _number(session, coach))
    assert viewer
    kept = add_plan(session, viewer, block, tuple(_number(session, client) for client in clients))
    for client in clients:
        who = _viewer(session, client)
        hand_over(session, viewer, kept, who.person, handed=True)
        profile, _ = profile_of(session, who, who.person)
        room = any_room(session, profile.room)
        log_block(session, who, block, kept, room, today, weaker=profile.weaker)
        if client == clients[0]:
            measure_block(session, who, block, kept)


def _viewer(session: DbSession, name: str) -> Viewer:
    found = viewer_of(session, _number(session, name))
    assert found
    return found


def _exercise(key: str) -> dict[str, Any]:
    kind, sets, light, (low, high), rest, letter = EXERCISES[key]
    return {
        "variant": key,
        "kind": kind,
        "sets": sets,
        "warm_up": light,
        "reps_from": low,
        "reps_to": high,
        "rest_s": rest,
        "group": letter,
    }


def _add_person(session: DbSession, viewer: Viewer, name: str, role: str) -> int:
    person = Person(owner_id=viewer.person, name=name)
    session.add(person)
    session.flush()
    session.add(PersonRole(owner_id=viewer.person, person_id=person.id, role=role))
    return person.id


def _keep_known_set(session: DbSession, viewer: Viewer, name: str, known: KnownSet) -> None:
    client = session.scalars(select(Person).where(Person.name == name)).one()
    save_body(session, viewer, client.id, body_from_set(body_of(client), known, Modeller()), known)
