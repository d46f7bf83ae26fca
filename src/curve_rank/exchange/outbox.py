"""The outbox: a simulated mail stand-in. Each message is a file of its own, as mail programs read them."""

from __future__ import annotations

import re
import secrets
from collections.abc import Collection
from dataclasses import dataclass
from datetime import UTC, datetime
from email import message_from_bytes, policy
from email.message import EmailMessage
from email.utils import format_datetime
from pathlib import Path

from curve_rank.errors import UnknownNameError
from curve_rank.store.safe.private import FILE_MODE, give_to_owner, private_folder
from curve_rank.store.safe.troubles import of_files

FOLDER = "outbox"
MOST = 500
"""Messages that are kept; the oldest go."""
NAME = re.compile(r"[0-9]{8}T[0-9]{12}-[0-9a-f]{8}\.eml")
SENDER = "Curve Rank <nobody@localhost>"


@dataclass(frozen=True)
class Letter:
    """A message as it lies in the outbox."""

    name: str
    to: str
    subject: str
    date: str
    text: str = ""


def send(folder: Path, *, to: str, subject: str, text: str) -> None:
    """Write a message; nothing leaves this machine.

    Raises
    ------
    UnavailableError
    """
    letter = EmailMessage(policy=policy.SMTP)
    moment = datetime.now(UTC)
    letter["From"], letter["To"], letter["Subject"] = SENDER, to, subject
    letter["Date"] = format_datetime(moment)
    letter.set_content(text)
    box = folder / FOLDER
    with of_files("outbox", box, "a folder that this user may write to, with room in it"):
        private_folder(box)
        place = box / f"{moment:%Y%m%dT%H%M%S%f}-{secrets.token_hex(4)}.eml"
        partial = place.with_suffix(".part")
        partial.write_bytes(letter.as_bytes())
        partial.chmod(FILE_MODE)
        give_to_owner(partial)
        partial.rename(place)
        for old in _names(box)[:-MOST]:
            (box / old).unlink(missing_ok=True)


def forget(folder: Path, emails: Collection[str]) -> None:
    """Remove every letter to or about some addresses.

    Raises
    ------
    UnavailableError
    """
    wanted = {email.lower() for email in emails}
    box = folder / FOLDER
    with of_files("outbox", box, "a folder that this user may write to"):
        for name in _names(box) if wanted else ():
            found = _read(box, name)
            about = f"{found.to}\n{found.subject}\n{found.text}".lower()
            if any(email in about for email in wanted):
                (box / name).unlink(missing_ok=True)


def letters(folder: Path) -> list[Letter]:
    """What lies in the outbox, newest first."""
    return [_read(folder / FOLDER, name) for name in reversed(_names(folder / FOLDER))]


def letter(folder: Path, name: str) -> Letter:
    """One message.

    Raises
    ------
    UnknownNameError
    """
    if not NAME.fullmatch(name) or not (folder / FOLDER / name).is_file():
        raise UnknownNameError("letter", name, "one that lies in the outbox")
    return _read(folder / FOLDER, name)


def _names(box: Path) -> list[str]:
    return (
        sorted(path.name for path in box.glob("*.eml") if NAME.fullmatch(path.name)) if box.is_dir() else []
    )


def _read(box: Path, name: str) -> Letter:
    found = message_from_bytes((box / name).read_bytes(), policy=policy.default)
    body = found.get_body(("plain",))
    return Letter(
        name, str(found["To"]), str(found["Subject"]), str(found["Date"]), body.get_content() if body else ""
    )
