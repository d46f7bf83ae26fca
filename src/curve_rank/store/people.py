"""People with bodies, and rooms."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import func, or_, select, update
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.orm import selectinload

from curve_rank.arm.body import Body, between_people
from curve_rank.arm.parameters import parameter_set
from curve_rank.errors import BadInputError, UnknownNameError
from curve_rank.store.house.audit import reached
from curve_rank.store.names import plain_name
from curve_rank.store.tables import Account, BodyRow, CoachClient, Person, PersonRole, Plan, PlanClient
from curve_rank.store.viewers import ROLES, Viewer
from curve_rank.study.transfer import KnownSet

NEW_SIZE = "something that arms are drawn from has changed"


@dataclass(frozen=True)
class SizedPerson:
    """Somebody whose size is known, as pages list them: with the newest."""

    id: int
    name: str
    height_m: float
    mass_kg: float
    sore_joints: list[str]


def people_with_bodies(session: DbSession, viewer: Viewer) -> list[SizedPerson]:
    """Everyone the viewer may see whose body is known, by name."""
    newest = select(func.max(BodyRow.id)).group_by(BodyRow.person_id)
    rows = session.execute(
        select(Person.id, Person.name, BodyRow.height_m, BodyRow.mass_kg, BodyRow.sore_joints)
        .join(BodyRow, BodyRow.person_id == Person.id)
        .where(viewer.may_see(), BodyRow.id.in_(newest))
        .order_by(Person.name)
    )
    return [SizedPerson(*row) for row in rows]


def person(session: DbSession, viewer: Viewer, person_id: int) -> Person:
    """A person with a body whom the viewer may see.

    Raises
    ------
    UnknownNameError
    """
    found = session.scalar(select(Person).where(viewer.may_see(), Person.id == person_id))
    if found is None or not found.bodies:
        raise UnknownNameError("for", person_id, "someone whose body is known here")
    reached(session, viewer, person_id)
    return found


def clients(session: DbSession, viewer: Viewer) -> list[Person]:
    """Everyone but oneself whom the viewer may see, by name, with or without a body."""
    rows = session.scalars(
        select(Person)
        .where(viewer.may_see(), Person.id != viewer.person)
        .where(Person.id.in_(select(PersonRole.person_id).where(PersonRole.role == "client")))
        .options(selectinload(Person.bodies))
        .order_by(Person.name)
    )
    return list(rows)


def known_people(session: DbSession) -> list[int]:
    """Everyone with a size who has an account or is somebody's client, by number: for work by itself."""
    has_account = Person.id.in_(select(Account.person_id))
    is_client = Person.id.in_(select(CoachClient.client_id))
    has_role = Person.id.in_(select(PersonRole.person_id).where(PersonRole.role == "client"))
    has_size = Person.id.in_(select(BodyRow.person_id))
    rows = session.scalars(
        select(Person.id).where(has_size, or_(has_account, is_client, has_role)).order_by(Person.id)
    )
    return list(rows)


def owners_for(session: DbSession, person: int) -> list[int]:
    """Whose variants somebody may be given: those of their coaches and of whoever made their blocks."""
    coaches = select(CoachClient.coach_id).where(CoachClient.client_id == person)
    makers = (
        select(Plan.owner_id)
        .join(PlanClient, PlanClient.plan_id == Plan.id)
        .where(PlanClient.client_id == person)
    )
    return sorted({*session.scalars(coaches), *session.scalars(makers)})


def note_new_size(session: DbSession) -> None:
    """Remember, for as long as the session lasts, that something changes which arms are drawn from."""
    session.info[NEW_SIZE] = True


def has_new_size(session: DbSession) -> bool:
    """Whether something was changed which arms are drawn from; from now on it is no news."""
    return bool(session.info.pop(NEW_SIZE, False))


def known_person(session: DbSession, viewer: Viewer, person_id: int) -> Person:
    """Somebody whom the viewer may see, with or without a body.

    Raises
    ------
    UnknownNameError
    """
    found = session.scalar(select(Person).where(viewer.may_see(), Person.id == person_id))
    if found is None:
        raise UnknownNameError("client", person_id, "someone who is known here")
    reached(session, viewer, person_id)
    return found


def add_client_record(session: DbSession, viewer: Viewer, name: str) -> int:
    """Write down a new client of the viewer's; their number.

    Raises
    ------
    BadInputError
    """
    made = Person(owner_id=viewer.person, name=plain_name(name))
    session.add(made)
    session.flush()
    add_roles(session, made.id, ("client",))
    add_client(session, viewer.person, made.id)
    return made.id


def add_roles(session: DbSession, person: int, roles: tuple[str, ...]) -> None:
    """Give a person roles, beside those they have."""
    has = set(session.scalars(select(PersonRole.role).where(PersonRole.person_id == person)))
    for role in ROLES:
        if role in roles and role not in has:
            session.add(PersonRole(owner_id=person, person_id=person, role=role))
    session.flush()


def add_client(session: DbSession, coach: int, client: int) -> None:
    """Make somebody a coach's client, once."""
    both = (CoachClient.coach_id == coach, CoachClient.client_id == client)
    if session.scalar(select(CoachClient.id).where(*both)) is None:
        session.add(CoachClient(owner_id=coach, coach_id=coach, client_id=client))
        note_new_size(session)
        session.flush()


def set_spare(session: DbSession, viewer: Viewer, person_id: int, spare: tuple[str, ...]) -> None:
    """Keep which joints somebody spares, beside their newest size."""
    found = known_person(session, viewer, person_id)
    if found.bodies:
        found.bodies[-1].sore_joints = list(spare)


def body_of(person: Person) -> Body:
    """A person's newest body; where no set is known, as people of the level lie apart."""
    row = person.bodies[-1]
    return Body(
        height=row.height_m,
        mass=row.mass_kg,
        strength=row.strength,
        strength_spread=0.0 if row.known_variant else between_people(),
        upper_arm_m=row.upper_arm_m,
        forearm_m=row.forearm_m,
    )


def known_variant(session: DbSession, person_id: int) -> str:
    """The variant of the set that somebody's strength was found from, where there was one."""
    newest = select(BodyRow.known_variant).where(BodyRow.person_id == person_id)
    return session.scalar(newest.order_by(BodyRow.id.desc()).limit(1)) or ""


def triceps_part(session: DbSession, viewer: Viewer) -> float:
    """The triceps' part of the upper arm that the viewer works with [1]."""
    own = session.scalar(select(Person.triceps_part).where(Person.id == viewer.person))
    return parameter_set().number("upper_arm.triceps_part") if own is None else own


def save_triceps_part(session: DbSession, viewer: Viewer, part: float) -> None:
    """Keep the viewer's own figure.

    Raises
    ------
    BadInputError
    """
    number = parameter_set().number
    low, high = number("upper_arm.triceps_part_from"), number("upper_arm.triceps_part_to")
    if not low <= part <= high:
        raise BadInputError(
            "part", f"{100 * part:g} %", f"{100 * low:.0f} to {100 * high:.0f} %, as is quoted"
        )
    session.execute(update(Person).where(Person.id == viewer.person).values(triceps_part=part))


def save_body(
    session: DbSession, viewer: Viewer, person_id: int, body: Body, known: KnownSet | None
) -> Person:
    """Keep a new state of a person's body; sore joints carry over.

    Parameters
    ----------
    session : DbSession
        The open database.
    viewer : Viewer
        Who writes.
    person_id : int
        Someone whom the viewer may see.
    body : Body
        With the strength that the known set, if any, explains.
    known : KnownSet, optional
        What the strength was found from.

    Raises
    ------
    UnknownNameError
    """
    found = session.scalar(select(Person).where(viewer.may_see(), Person.id == person_id))
    if found is None:
        raise UnknownNameError("for", person_id, "someone who is known here")
    reached(session, viewer, person_id)
    note_new_size(session)
    found.bodies.append(
        BodyRow(
            owner_id=viewer.person,
            height_m=body.height,
            mass_kg=body.mass,
            strength=body.strength,
            upper_arm_m=body.upper_arm_m,
            forearm_m=body.forearm_m,
            known_variant=known.variant.id if known else None,
            known_load_kg=known.load if known else None,
            known_reps=known.reps if known else None,
            sore_joints=list(found.bodies[-1].sore_joints) if found.bodies else [],
        )
    )
    session.flush()
    return found
