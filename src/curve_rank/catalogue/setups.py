"""Set-ups in addresses: a variant, what is changed about it, its faults and a name, in one line of text.

reclined-60-dumbbell-curl~posture.trunk_pitch=-45~fault=sits-up-20~name=Low bench
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.schema import Change, Fault, Variant
from curve_rank.errors import BadInputError, UnknownNameError

BETWEEN = "~"
FAULT, NAME = "fault", "name"
MOST_PARTS, LONGEST_NAME = 40, 60


@dataclass(frozen=True)
class SetupAddress:
    """A set-up as an address names it.

    Attributes
    ----------
    variant : str
        The variant's id.
    changes : tuple of Change
    faults : tuple of str
        Keys of the variant's faults, made one after another.
    name : str
        Its own name; empty where it has none.
    """

    variant: str
    changes: tuple[Change, ...] = ()
    faults: tuple[str, ...] = ()
    name: str = ""

    @property
    def is_changed(self) -> bool:
        """Whether it differs from the variant."""
        return bool(self.changes or self.faults)

    @property
    def text(self) -> str:
        """The line that `parse_setup` reads."""
        parts = [self.variant, *(setting_text(change) for change in self.changes)]
        parts += [f"{FAULT}={key}" for key in self.faults]
        return BETWEEN.join([*parts, f"{NAME}={self.name}"] if self.name else parts)

    def of(self, variant: Variant, faults: tuple[Fault, ...] | None = None) -> Variant:
        """The variant with its changes, then its faults, which are its own or those given.

        Raises
        ------
        CurveRankError
            For a fault that the variant has not, and a result that is no set-up.
        """
        wrong = faults_named(variant.faults if faults is None else faults, self.faults)
        found = changed(variant, self.changes + changes_of(wrong)) if self.is_changed else variant
        return found.model_copy(update={"name": self.name}) if self.name else found

    def named(self, name: str) -> SetupAddress:
        """The same under a name."""
        plain = "".join(c if c.isprintable() and c != BETWEEN else " " for c in name)
        return replace(self, name=" ".join(plain.split())[:LONGEST_NAME].strip())


def faults_named(faults: tuple[Fault, ...], keys: tuple[str, ...]) -> tuple[Fault, ...]:
    """Those of some faults that have the keys, in the keys' order.

    Raises
    ------
    UnknownNameError
    """
    there = {fault.key: fault for fault in faults}
    for key in keys:
        if key not in there:
            known = ", ".join(there) or "none is written down"
            raise UnknownNameError("fault", key, f"one of: {known}")
    return tuple(there[key] for key in keys)


def changes_of(faults: tuple[Fault, ...]) -> tuple[Change, ...]:
    """What faults change, one after another."""
    return tuple(change for fault in faults for change in fault.changes)


def parse_setup(text: str) -> SetupAddress:
    """A set-up from its line.

    Raises
    ------
    BadInputError
    """
    variant, *parts = text.split(BETWEEN)
    if not variant or len(parts) > MOST_PARTS:
        right = f"a variant's id and at most {MOST_PARTS} changes, with {BETWEEN} between"
        raise BadInputError("set-up", text, right)
    changes: dict[str, Change] = {}
    faults: list[str] = []
    name = ""
    for part in parts:
        what, _, value = part.partition("=")
        if what == FAULT and value:
            faults.append(value)
        elif what == NAME:
            name = value
        else:
            change = parse_setting(part)
            changes[change.field] = change
    return SetupAddress(variant, tuple(changes.values()), tuple(dict.fromkeys(faults))).named(name)


def setting_text(change: Change) -> str:
    """A change as it is typed: path=value."""
    value = change.set
    if isinstance(value, bool):
        value = str(value).lower()
    return f"{change.field}={value:g}" if isinstance(value, float) else f"{change.field}={value}"
