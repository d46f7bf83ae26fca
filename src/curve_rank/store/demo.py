"""Demo data: Lanternfield Barn, a community gym that does not exist, and its made-up people."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from curve_rank.catalogue.changes import changed
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Change
from curve_rank.rating.lens import validate_lens
from curve_rank.rating.transfer import KnownSet, body_from_set
from curve_rank.store.database import Store, local_educator
from curve_rank.store.lenses import save_lens
from curve_rank.store.people import body_of, save_body
from curve_rank.store.tables import BodyRow, OwnVariant, Person, Room, SavedQuestion
from curve_rank.store.variants import save_new

CLIENTS = (
    ("Wren Achterberg", 1.63, 58.0, ()),
    ("Hollis Marrable", 1.91, 97.0, ("elbow",)),
    ("Ines Quarrie", 1.71, 66.0, ("shoulder",)),
    ("Jory Feldspar", 1.78, 84.0, ()),
    ("Pell Okonjo-Lind", 1.55, 71.0, ("wrist", "lower_back")),
)
COACHES = ("Tamsin Brackwater", "Osric Vayle")
ROOMS = (
    (
        "Lanternfield Barn, main floor",
        (
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
    ),
    ("The hayloft", ("dumbbell", "cable", "incline_bench", "upright_seat")),
    ("Hollis at home", ("dumbbell", "no_bench")),
)
OWN = (
    (
        "Hayloft deep recline",
        "reclined-45-dumbbell-curl",
        (("posture.trunk_pitch", -50.0), ("path.0.elbow", 8.0)),
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
LENS = {
    "name": "Lanternfield house blend",
    "school": "Long first, but nothing that rests for more than a fifth of the rep.",
    "weights": {"long_tension": 45, "evenness": 25, "joints": 20, "strictness": 10},
    "limits": {"no_slack": {"at_most": 0.2}},
}
QUESTIONS = (
    ("Long head, hayloft kit", "target=biceps_long&lens=long_length&with=dumbbell&with=cable"),
    ("Triceps for sore elbows", "target=extensors&lens=all_round&spare=elbow"),
    ("Brachialis at home", "target=brachialis&lens=even_tension&with=dumbbell&with=no_bench"),
)


def fill_demo(store: Store) -> None:
    """Put the demo data into a store that has none yet; a second call changes nothing."""
    with store.session() as session:
        if session.scalar(select(Room.id)) is not None:
            return
        educator = local_educator(session)
        educator.name = "Maude Ellerby"
        session.add(BodyRow(owner_id=educator.id, person_id=educator.id, height_m=1.69, mass_kg=68.0))
        for name in COACHES:
            session.add(Person(owner_id=educator.id, name=name, role="coach"))
        for name, height, mass, sore in CLIENTS:
            _add_client(session, educator, name, height, mass, sore)
        for name, equipment in ROOMS:
            session.add(Room(owner_id=educator.id, name=name, equipment=list(equipment)))
        for name, address in QUESTIONS:
            session.add(SavedQuestion(owner_id=educator.id, name=name, address=address))
        for name, variant, load, reps in KNOWN_SETS:
            _keep_known_set(session, educator, name, KnownSet(find_variant(variant, built_in()), load, reps))
        save_lens(session, educator, validate_lens(LENS))
        for name, source, settings in OWN:
            _add_own(session, educator, name, source, settings)


def _add_client(
    session: Session, educator: Person, name: str, height: float, mass: float, sore: tuple[str, ...]
) -> None:
    client = Person(owner_id=educator.id, name=name, role="client")
    session.add(client)
    session.flush()
    session.add(
        BodyRow(
            owner_id=educator.id, person_id=client.id, height_m=height, mass_kg=mass, sore_joints=list(sore)
        )
    )


def _keep_known_set(session: Session, educator: Person, name: str, known: KnownSet) -> None:
    client = session.scalars(select(Person).where(Person.name == name)).one()
    session.refresh(client)
    save_body(session, educator, client, body_from_set(body_of(client), known), known)


def _add_own(
    session: Session, educator: Person, name: str, source: str, settings: tuple[tuple[str, float], ...]
) -> None:
    if session.scalar(select(OwnVariant.id).where(OwnVariant.made_from == source)) is None:
        changes = tuple(Change(field=field, set=value) for field, value in settings)
        save_new(session, educator, changed(find_variant(source, built_in()), changes), name=name)
