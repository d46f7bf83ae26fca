"""Inviting: the link is made, written to the outbox, and told to whoever invites."""

from __future__ import annotations

from flask import url_for

from curve_rank.exchange import outbox
from curve_rank.store.house import invitations
from curve_rank.web import current


def send_invitation(name: str, email: str, roles: tuple[str, ...], person: int | None = None) -> str:
    """Invite somebody; the link, which is told only now.

    Raises
    ------
    BadInputError, NotAllowedError, UnknownNameError
    """
    viewer, days = current.viewer(), invitations.VALID_FOR.days
    with current.writing() as session:  # an invitation whose letter cannot be written is not made
        token = invitations.invite(session, viewer, name=name, email=email, roles=roles, person=person)
        link = url_for("sign_in.join", token=token, _external=True)
        text = f"{viewer.name} invites you. Once, within {days} days, this lets you in:\n\n{link}\n"
        subject = f"{viewer.name} invites you"
        outbox.send(current.desk().settings.data, to=email.strip(), subject=subject, text=text)
    return link
