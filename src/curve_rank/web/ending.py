"""An address is changed, and the old one is told: whoever has it should know where its account went."""

from __future__ import annotations

from curve_rank.exchange import outbox
from curve_rank.store.database import DbSession
from curve_rank.store.house import endings
from curve_rank.web import current
from curve_rank.web.auditing import request_id


def change_address(session: DbSession, person: int, email: str) -> str:
    """Change somebody's address within a change that is under way; what it was before.

    Raises
    ------
    BadInputError, NotAllowedError, UnknownNameError, UnavailableError
    """
    before = endings.change_email(session, current.viewer(), person, email, request=request_id())
    text = "From now on another address signs in here.\n\nNot you? Tell whoever runs this."
    if before != email.strip().lower():
        outbox.send(current.desk().settings.data, to=before, subject="Another address", text=text)
    return before
