"""Accounts: the first educator's, sign-in and out, passwords and their resets, consent."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from sqlalchemy import ColumnElement, and_, delete, exists, func, select, update
from sqlalchemy.orm import Session as DbSession

from curve_rank.errors import BadInputError, NotAllowedError, UnknownNameError, WrongSecretError
from curve_rank.practice.consent import may_begin, statement
from curve_rank.store.house.passwords import hash_password, is_right
from curve_rank.store.house.tokens import hash_of, new_token
from curve_rank.store.names import plain_name
from curve_rank.store.rows import own_row
from curve_rank.store.tables import AccessToken, Account, Consent, Person, PersonRole, Reset, SignIn, now
from curve_rank.store.viewers import Viewer, local_educator, viewer_of

SIGNED_IN_FOR, AT_MOST_FOR = timedelta(days=30), timedelta(days=90)
"""A sign-in that nobody has used for so long is over; and one that is so old, however much it is used."""
CONFIRMED_FOR = timedelta(minutes=10)
"""For so long a password that was asked again need not be typed once more."""
MOST_RESETS = 5
"""Links to a new password that are open at once: one asked for by a stranger closes none."""
RESET_FOR = timedelta(minutes=30)
SEEN_AGAIN = timedelta(minutes=5)
"""How exactly it is kept when somebody was last here."""
ADDRESS = re.compile(r"[\w.!#$%&'*+/=?^`{|}~-]+@[\w-]+(\.[\w-]+)*")
WRONG = "an address and a password that go together"
PRESENT = "the password you sign in with"
GONE = "a link that has not been used, withdrawn or grown too old; ask for a new one"
LONGEST_AGENT = 160


@dataclass(frozen=True)
class SignedIn:
    """A browser that somebody is signed in with."""

    id: int
    agent: str
    created_at: datetime
    seen_at: datetime
    here: bool


BROWSERS = (("Firefox", "Firefox"), ("Edg", "Edge"), ("Chrome", "Chromium or like it"), ("Safari", "Safari"))
SYSTEMS = (
    ("Android", "Android"),
    ("iPhone", "a phone"),
    ("iPad", "a tablet"),
    ("Windows", "Windows"),
    ("Mac OS", "macOS"),
    ("Linux", "Linux"),
)


def browser_named(agent: str) -> str:
    """What a browser says of itself, in two words."""
    browser = next((name for sign, name in BROWSERS if sign in agent), "a browser")
    system = next((name for sign, name in SYSTEMS if sign in agent), "")
    return f"{browser} on {system}" if system else browser


def plain_email(text: str) -> str:
    """An address as it is kept.

    Raises
    ------
    BadInputError
    """
    email = text.strip().lower()
    if len(email) > 254 or not ADDRESS.fullmatch(email):
        raise BadInputError("address", text, "an e-mail address, as in wren@lanternfield.example")
    return email


def has_accounts(session: DbSession) -> bool:
    """Whether anybody can sign in yet."""
    return bool(session.scalar(select(exists().where(Account.id.is_not(None)))))


def make_first(session: DbSession, *, name: str, email: str, password: str) -> int:
    """The first account: of the educator who owns what is on this machine already; the person's number.

    Raises
    ------
    BadInputError, NotAllowedError
    """
    viewer = local_educator(session)
    if has_accounts(session) or viewer is None:
        raise NotAllowedError("first account", name, "made once; who runs this can invite you")
    session.get_one(Person, viewer.person).name = plain_name(name)
    add_account(session, viewer.person, name=name, email=email, password=password)
    return viewer.person


def add_account(session: DbSession, person: int, *, name: str, email: str, password: str) -> None:
    """Give a person an account.

    Raises
    ------
    BadInputError
    """
    email = plain_email(email)
    kept = hash_password(password, unlike=(name, email, email.partition("@")[0]))
    session.add(Account(owner_id=person, person_id=person, email=email, password_hash=kept))
    session.flush()


def account_at(session: DbSession, email: str) -> Account | None:
    """The account with an address."""
    return session.scalar(select(Account).where(Account.email == email.strip().lower()))


def email_of(session: DbSession, person: int) -> str | None:
    """A person's address, where they have an account."""
    return session.scalar(select(Account.email).where(Account.person_id == person))


def check_password(session: DbSession, email: str, password: str) -> int:
    """Whose address and password it is; it takes as long where there is no such account.

    Raises
    ------
    BadInputError
        The same for a wrong address and a wrong password.
    """
    found = account_at(session, email)
    if not is_right(found.password_hash if found else None, password) or found is None:
        raise WrongSecretError("address and password", "what was typed", WRONG)
    if found.locked_at is not None:  # told to nobody who does not know the password
        right = "one that is not locked; whoever runs this can let you back in"
        raise NotAllowedError("account", email, right)
    return found.person_id


def begin(session: DbSession, person: int, agent: str) -> str:
    """Sign a person in; the token for the cookie."""
    token = new_token()
    session.execute(delete(SignIn).where(SignIn.owner_id == person, ~goes_on()))
    plain = "".join(c for c in agent if c.isprintable())[:LONGEST_AGENT]
    session.add(SignIn(owner_id=person, token_hash=hash_of(token), agent=plain))
    session.flush()
    return token


def viewer_by(session: DbSession, token: str) -> tuple[Viewer, bool] | None:
    """Who is signed in with a token, and whether it is time to say that they were here."""
    row = session.execute(
        select(SignIn.owner_id, SignIn.seen_at).where(SignIn.token_hash == hash_of(token), goes_on())
    ).first()
    viewer = viewer_of(session, row.owner_id) if row else None
    return (viewer, row.seen_at < now() - SEEN_AGAIN) if row and viewer else None


def goes_on() -> ColumnElement[bool]:
    """Which sign-ins are not over: used lately, and not too old however much they are used."""
    return and_(SignIn.seen_at > now() - SIGNED_IN_FOR, SignIn.created_at > now() - AT_MOST_FOR)


def ends_at(session: DbSession, token: str) -> datetime | None:
    """When a sign-in is over at the latest, if nobody uses it from now on; None where there is none."""
    row = session.execute(
        select(SignIn.seen_at, SignIn.created_at).where(SignIn.token_hash == hash_of(token), goes_on())
    ).first()
    return min(row.seen_at + SIGNED_IN_FOR, row.created_at + AT_MOST_FOR) if row else None


def is_confirmed(session: DbSession, viewer: Viewer, token: str) -> bool:
    """Whether the password was typed just now; always for who has none, as in the demo."""
    if email_of(session, viewer.person) is None:
        return True
    lately = (SignIn.token_hash == hash_of(token), SignIn.confirmed_at > now() - CONFIRMED_FOR)
    return session.scalar(select(SignIn.id).where(*lately)) is not None


def confirm(session: DbSession, viewer: Viewer, token: str, password: str) -> None:
    """The password, asked again before something that cannot be taken back.

    Raises
    ------
    WrongSecretError
    """
    _own_account(session, viewer, password)
    session.execute(update(SignIn).where(SignIn.token_hash == hash_of(token)).values(confirmed_at=now()))


def _own_account(session: DbSession, viewer: Viewer, password: str) -> Account:
    """The viewer's account, by the password that they sign in with."""
    found = session.scalar(select(Account).where(Account.person_id == viewer.person))
    if found is None or not is_right(found.password_hash, password):
        raise WrongSecretError("present password", "what was typed", PRESENT)
    return found


def seen(session: DbSession, token: str) -> None:
    """Keep that somebody was here just now."""
    session.execute(update(SignIn).where(SignIn.token_hash == hash_of(token)).values(seen_at=now()))


def end(session: DbSession, token: str) -> None:
    """Sign out."""
    session.execute(delete(SignIn).where(SignIn.token_hash == hash_of(token)))


def sign_ins(session: DbSession, viewer: Viewer, token: str) -> tuple[SignedIn, ...]:
    """Where somebody is signed in, newest first."""
    rows = session.scalars(
        select(SignIn).where(SignIn.owner_id == viewer.person, goes_on()).order_by(SignIn.id.desc())
    )
    here = hash_of(token)
    return tuple(
        SignedIn(r.id, browser_named(r.agent), r.created_at, r.seen_at, r.token_hash == here) for r in rows
    )


def end_one(session: DbSession, viewer: Viewer, number: int) -> None:
    """Sign out somewhere else.

    Raises
    ------
    UnknownNameError
    """
    session.delete(own_row(session, viewer, SignIn, number, "sign-in"))


def end_others(session: DbSession, person: int, token: str = "") -> int:
    """Sign out everywhere but here, scripts with their tokens too; how many browsers there were."""
    session.execute(delete(AccessToken).where(AccessToken.owner_id == person))
    gone = delete(SignIn).where(SignIn.owner_id == person, SignIn.token_hash != hash_of(token))
    return int(session.execute(gone).rowcount)  # type: ignore[attr-defined]


def change_password(session: DbSession, viewer: Viewer, *, old: str, new: str, token: str) -> None:
    """Another password; other browsers are signed out.

    Raises
    ------
    BadInputError
    """
    found = _own_account(session, viewer, old)
    found.password_hash = hash_password(new, unlike=(viewer.name, found.email))
    end_others(session, viewer.person, token)


def ask_reset(session: DbSession, email: str) -> tuple[str, str]:
    """A token that sets a new password for whoever has an address; or, for them alone, why not."""
    found = account_at(session, email)
    if found is None:
        return "", "There is no account with it here."
    if found.locked_at is not None:
        return "", "The account is locked; whoever runs this can let you back in."
    session.execute(delete(Reset).where(Reset.owner_id == found.person_id, Reset.expires_at <= now()))
    is_open = (Reset.owner_id == found.person_id, Reset.used_at.is_(None))
    if (session.scalar(select(func.count(Reset.id)).where(*is_open)) or 0) >= MOST_RESETS:
        return "", "The links that were sent before still work."
    token = new_token()
    session.add(Reset(owner_id=found.person_id, token_hash=hash_of(token), expires_at=now() + RESET_FOR))
    session.flush()
    return token, ""


def reset_of(session: DbSession, token: str) -> Reset:
    """A reset that can still be used.

    Raises
    ------
    UnknownNameError
        Where it cannot, whatever the reason.
    """
    found = session.scalar(
        select(Reset).where(
            Reset.token_hash == hash_of(token), Reset.used_at.is_(None), Reset.expires_at > now()
        )
    )
    if found is None:
        raise UnknownNameError("link", "this one", GONE)
    return found


def reset(session: DbSession, token: str, password: str) -> int:
    """Set a new password by a link, once; whose it is. Signed out everywhere.

    Raises
    ------
    UnknownNameError, BadInputError
    """
    found = reset_of(session, token)
    account = session.scalars(select(Account).where(Account.person_id == found.owner_id)).one()
    name = session.get_one(Person, found.owner_id).name
    account.password_hash = hash_password(password, unlike=(name, account.email))
    session.execute(update(Reset).where(Reset.owner_id == found.owner_id).values(used_at=now()))
    end_others(session, found.owner_id)
    return found.owner_id


def consent(
    session: DbSession, viewer: Viewer, *, minor: bool, injured: bool, cleared_on: date | None
) -> bool:
    """Keep what a client says to the present statement; whether they may begin.

    Raises
    ------
    BadInputError
        For a day that is still to come.
    """
    if cleared_on is not None and cleared_on > now().date():
        raise BadInputError("cleared on", cleared_on.isoformat(), "a day that has been")
    agreed = may_begin(minor=minor, injured=injured, cleared=cleared_on is not None)
    session.add(
        Consent(
            owner_id=viewer.person,
            digest=statement().digest,
            wording=statement().text,
            agreed=agreed,
            minor=minor,
            injured=injured,
            cleared_on=cleared_on,
        )
    )
    session.flush()
    return agreed


def consents(session: DbSession, viewer: Viewer, person: int) -> tuple[Consent, ...]:
    """What somebody whom the viewer may see has said, newest first."""
    rows = (
        select(Consent)
        .join(Person, Person.id == Consent.owner_id)
        .where(viewer.may_see(), Person.id == person)
        .order_by(Consent.id.desc())
    )
    return tuple(session.scalars(rows))


def everyone(session: DbSession) -> list[tuple[int, str, str]]:
    """All people with their roles in words, for the demo's door."""
    rows = session.execute(
        select(Person.id, Person.name, func.group_concat(PersonRole.role, ", "))
        .join(PersonRole, PersonRole.person_id == Person.id)
        .group_by(Person.id)
        .order_by(Person.id)
    )
    return [(row[0], row[1], row[2]) for row in rows]
