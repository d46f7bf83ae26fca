"""The question in an address, read for whoever is here."""

from __future__ import annotations

from curve_rank.answers import people
from curve_rank.answers.board import AddressedQuestion, BoardRequest
from curve_rank.answers.client import Client
from curve_rank.answers.requests import Values
from curve_rank.web import current


def client_for(person: int | None) -> Client:
    """As `people.client_for`, for whoever is here."""
    return people.client_for(current.session(), current.viewer(), person)


def read_question(values: Values) -> AddressedQuestion:
    """The question in an address or form.

    Raises
    ------
    UnknownNameError, BadInputError
        For what is not there, or makes no question.
    """
    query = BoardRequest.read(values)
    return query.of(client_for(query.person), current.library())
