"""Those who listen to a lecture: their hands and sketches while it is held, on one short code.

All of it is in memory: nobody has an account, nothing is kept of anyone, and when the room closes it is gone.
"""

from __future__ import annotations

import secrets
import threading
import time
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from curve_rank.errors import BadInputError, BusyError, UnknownNameError

LETTERS = "ABCDEFGHJKMNPQRTUVWXY3479"
"""None that is taken for another when it is read from the back of a room."""
CODE = 5
MOST_ROOMS, MOST_PHONES = 30, 400
IDLE = 3 * 3600.0
"""A room that nobody leads for so long is closed [s]."""
HERE = 6.0
"""A phone that has not asked for so long is not counted [s]."""

Asks = Literal["nothing", "hands", "sketch"]


@dataclass(frozen=True)
class Question:
    """What those who listen are asked.

    Attributes
    ----------
    kind : str
    asks : str
        In words.
    answers : tuple of str
        Of a question with hands.
    right : int
        Which of them; it is told when it is shown.
    places : int
        Heights of a sketch.
    """

    kind: Asks = "nothing"
    asks: str = ""
    answers: tuple[str, ...] = ()
    right: int = 0
    places: int = 0


@dataclass
class Audience:
    """One room: its code, whose it is, what is asked now and what was answered."""

    code: str
    owner: int
    lecture: str
    question: Question = field(default_factory=Question)
    turn: int = 0
    shown: bool = False
    led_at: float = field(default_factory=time.monotonic)
    _answers: dict[str, Any] = field(default_factory=dict)
    _seen: dict[str, float] = field(default_factory=dict)
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def lead(self, question: Question | None = None, *, shown: bool | None = None) -> None:
        """Ask something else, which clears the answers, or show what is right."""
        with self._lock:
            self.led_at = time.monotonic()
            if question is not None and question != self.question:
                self.question, self.shown = question, False
                self.turn += 1
                self._answers.clear()
            if shown is not None:
                self.shown = shown

    def told(self, phone: str) -> dict[str, Any]:
        """What a phone shows now; it counts as being here."""
        with self._lock:
            self._see(phone)
            asked = self.question
            told: dict[str, Any] = {
                "turn": self.turn, "kind": asked.kind, "asks": asked.asks, "answers": list(asked.answers),
                "places": asked.places, "shown": self.shown, "answered": phone in self._answers,
            }  # fmt: skip
            if self.shown and asked.kind == "hands":
                told["right"] = asked.right
            return told

    def answer(self, phone: str, turn: int, hand: int | None, heights: Sequence[float]) -> None:
        """Take one phone's answer to what is asked; a later one of the same phone stands in its place.

        Raises
        ------
        BadInputError
            For an answer to something else, or none that can be.
        """
        with self._lock:
            self._see(phone)
            if turn != self.turn or self.shown or self.question.kind == "nothing":
                raise BadInputError("turn", turn, "an answer to what is asked now")
            if self.question.kind == "hands":
                if hand is None or not 0 <= hand < len(self.question.answers):
                    raise BadInputError("hand", hand, f"0 to {len(self.question.answers) - 1}")
                self._answers[phone] = hand
                return
            kept = tuple(float(v) for v in heights)
            if len(kept) != self.question.places or not all(0 <= v <= 1 for v in kept) or not any(kept):
                raise BadInputError("at", len(kept), f"{self.question.places} heights from 0 to 1, not all 0")
            self._answers[phone] = kept

    @property
    def here(self) -> int:
        """Phones that asked a moment ago."""
        since = time.monotonic() - HERE
        with self._lock:
            return sum(at > since for at in self._seen.values())

    @property
    def hands(self) -> list[int]:
        """How many raised their hand for each answer."""
        with self._lock:
            found = list(self._answers.values()) if self.question.kind == "hands" else []
            return [found.count(n) for n in range(len(self.question.answers))]

    @property
    def sketches(self) -> list[tuple[float, ...]]:
        """What was sketched."""
        with self._lock:
            return list(self._answers.values()) if self.question.kind == "sketch" else []

    def _see(self, phone: str) -> None:
        if phone not in self._seen and len(self._seen) >= MOST_PHONES:
            raise BusyError("phones", f"{MOST_PHONES} in one room", "one that leaves first")
        self._seen[phone] = time.monotonic()


class Audiences:
    """The rooms that are open."""

    def __init__(self) -> None:
        self._rooms: dict[str, Audience] = {}
        self._lock = threading.Lock()

    def open(self, owner: int, lecture: str) -> Audience:
        """The room of somebody's lecture; a new one where there is none.

        Raises
        ------
        BusyError
            For one room too many.
        """
        with self._lock:
            self._close_idle()
            for room in self._rooms.values():
                if (room.owner, room.lecture) == (owner, lecture):
                    return room
            if len(self._rooms) >= MOST_ROOMS:
                raise BusyError("rooms", f"{MOST_ROOMS} at once", "one that is closed first")
            code = next(c for c in iter(_code, "") if c not in self._rooms)
            self._rooms[code] = Audience(code, owner, lecture)
            return self._rooms[code]

    def of_owner(self, owner: int, lecture: str) -> Audience | None:
        """The room of somebody's lecture, None where none is open."""
        with self._lock:
            return next(
                (one for one in self._rooms.values() if (one.owner, one.lecture) == (owner, lecture)), None
            )

    def by_code(self, code: str) -> Audience:
        """The room with a code, however it was typed.

        Raises
        ------
        UnknownNameError
            Where none is open under it.
        """
        with self._lock:
            self._close_idle()
            found = self._rooms.get(code.strip().upper())
        if found is None:
            raise UnknownNameError("room", code[:12], "the code on the screen; the room may have closed")
        return found

    def close(self, owner: int, lecture: str) -> None:
        """Close the room of somebody's lecture, with all that was answered there."""
        with self._lock:
            for code in [c for c, r in self._rooms.items() if (r.owner, r.lecture) == (owner, lecture)]:
                del self._rooms[code]

    def _close_idle(self) -> None:
        since = time.monotonic() - IDLE
        for code in [c for c, room in self._rooms.items() if room.led_at < since]:
            del self._rooms[code]


def _code() -> str:
    return "".join(secrets.choice(LETTERS) for _ in range(CODE))
