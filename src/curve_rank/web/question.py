"""The question in an address: read, put to the rating, and written back."""

from __future__ import annotations

from dataclasses import dataclass, field
from urllib.parse import urlencode

from werkzeug.datastructures import MultiDict

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS
from curve_rank.rating.ranking import Question, question
from curve_rank.store import people
from curve_rank.web import current
from curve_rank.web.forms import BoardQuery


@dataclass(frozen=True)
class Client:
    """Whom something is worked out for."""

    person: int | None = None
    name: str = "the default body"
    body: Body = field(default_factory=Body)


@dataclass(frozen=True)
class AddressedQuestion:
    """A question as it stands in the address, and whom it is for."""

    question: Question
    client: Client

    @property
    def address(self) -> str:
        """The question as a query string, in one fixed order."""
        asked = self.question
        parts: list[tuple[str, str]] = [("target", asked.target.key), ("lens", asked.lens.key)]
        parts += [("with", item) for item in asked.equipment]
        parts += [("for", str(self.client.person))] if self.client.person is not None else []
        parts += [("spare", joint) for joint in asked.spare]
        parts += [("reps", str(asked.reps))] if asked.reps != DEFAULT_EFFORT_REPS else []
        return urlencode(parts)


def client_for(person: int | None) -> Client:
    """The person with that number whom the viewer may see, or the default body.

    Raises
    ------
    UnknownNameError
    """
    if person is None:
        return Client()
    found = people.person(current.session(), current.viewer(), person)
    return Client(person, found.name, people.body_of(found))


def read_question(values: MultiDict[str, str]) -> AddressedQuestion:
    """The question in an address or form.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    query = BoardQuery.read(values)
    client = client_for(query.person)
    return AddressedQuestion(
        question(
            query.target,
            query.lens,
            equipment=query.equipment,
            spare=query.spare,
            body=client.body,
            reps=query.reps,
            among=current.lenses_for(query.lens),
        ),
        client,
    )
