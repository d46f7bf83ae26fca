"""The bench's state in an address: a set-up with its changes and faults, ghosts, load, tempo and view."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal
from urllib.parse import urlencode

from pydantic import Field

from curve_rank.answers.client import Client
from curve_rank.answers.means import Means
from curve_rank.answers.requests import MOST_SETTINGS, Mass, Names, Number, RequestForm, Whole
from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.arm.tempo import Tempo
from curve_rank.catalogue.changes import parse_setting
from curve_rank.catalogue.controls import check_control
from curve_rank.catalogue.schema import Change, Fault, Variant
from curve_rank.catalogue.setups import SetupAddress, parse_setup, setting_text
from curve_rank.figures.projection import VIEWS, best_view
from curve_rank.rating.modelling import VariantModel, content_keys, model_variants
from curve_rank.rating.targets import Target, known, long_head, targets


class BenchRequest(RequestForm):
    """The bench's state: changes to the set-up, faults, ghosts, a load, the view, and for whom."""

    settings: Annotated[Names, Field(max_length=MOST_SETTINGS, alias="set")] = ()
    faults: Names = Field(default=(), alias="fault")
    ghosts: Annotated[Names, Field(max_length=3, alias="ghost")] = ()
    tempo: Annotated[str, Field(max_length=40)] = ""
    load: Mass | None = None
    view: str = ""
    frame: Literal["arm", "whole"] = "arm"
    target: str = ""
    person: Whole | None = Field(default=None, alias="for")
    reps: Whole = DEFAULT_EFFORT_REPS
    part: str = ""


class PullRequest(RequestForm):
    """Which handle of the figure is pulled where [mm], at which part of the rep, and whether it snaps.

    While something moves, without a handle as well, that part of the rep is all that is drawn. With a `held`
    load only the figure is answered, with that load in the hands: what can be lifted is asked for after it.
    What `follows` leaves the figure out, unless the set-up goes less far than it could be posed. At last all
    `frames` of the figure are asked for, without the rest.
    """

    handle: str = Field(default="", alias="pull")
    x: Number = 0.0
    y: Number = 0.0
    place: Number = 0.0
    snap: Whole = 1
    moving: Whole = 0
    held: Number | None = None
    follows: Whole = 0
    frames: Whole = 0


@dataclass(frozen=True)
class BenchState:
    """A variant as saved, as changed by hand, as changed with its faults, and what it is modelled for."""

    saved: Variant
    by_hand: Variant
    changed: Variant
    changes: tuple[Change, ...]
    faults: tuple[str, ...]
    ghosts: tuple[SetupAddress, ...]
    tempo: Tempo | None
    target: Target
    load: float | None
    reps: int
    view: str
    frame: str
    client: Client
    means: Means
    problem: str = ""

    @property
    def settings(self) -> tuple[str, ...]:
        """The changes as they stand in the address."""
        return tuple(setting_text(change) for change in self.changes)

    @property
    def setup(self) -> SetupAddress:
        """The set-up as a ghost, or a comparison, names it."""
        return SetupAddress(self.saved.id, self.changes, self.faults)

    @property
    def known_faults(self) -> tuple[Fault, ...]:
        """The faults among which those of the address are; nobody is asked for them where there are none."""
        return self.means.library.faults_of(self.saved) if self.faults else ()

    @property
    def is_changed(self) -> bool:
        """Whether anything differs from what is saved."""
        return self.setup.is_changed or self.load is not None

    def model(self) -> VariantModel:
        """The changed variant, modelled; kept, for its frames and steps back are asked for after it."""
        modeller, body, effort = self.means.modeller, self.client.body, effort_for_reps(self.reps)
        if self.load is None:
            return modeller.one(self.changed, body, effort=effort)
        (key,) = content_keys((self.changed,), body, effort)
        return modeller.once(
            ("loaded", key, self.load),
            lambda: model_variants((self.changed,), body, effort=effort, load=self.load)[0],
        )

    def model_saved(self) -> VariantModel:
        """The saved variant, modelled at its working load."""
        return self.means.modeller.one(self.saved, self.client.body, effort=effort_for_reps(self.reps))

    def address(self, **replaced: object) -> str:
        """The state as a query string, with some of it replaced."""
        values: dict[str, object] = {
            "set": self.settings,
            "fault": self.faults,
            "ghost": tuple(ghost.text for ghost in self.ghosts),
            "load": None if self.load is None else f"{self.load:g}",
            "reps": self.reps,
            "tempo": self.tempo.text if self.tempo else None,
            "view": self.view,
            "frame": self.frame,
            "target": self.target.key,
            "for": self.client.person,
        }
        defaults: dict[str, object] = {
            "set": (),
            "fault": (),
            "ghost": (),
            "target": long_head(self.saved.group).key,
            "reps": DEFAULT_EFFORT_REPS,
            "view": best_view(self.saved),
            "frame": "arm",
        }
        values |= replaced
        kept = {k: v for k, v in values.items() if v is not None and v != defaults.get(k)}
        return urlencode(kept, doseq=True)


def state_of(means: Means, variant_id: str, query: BenchRequest, client: Client) -> BenchState:
    """The bench's state that an address or a form asks for.

    Raises
    ------
    CurveRankError
    """
    state = read_state(means, variant_id, query, client)
    return with_changes(state, state.changes)


def read_state(means: Means, variant_id: str, query: BenchRequest, client: Client) -> BenchState:
    """What an address asks, its changes not yet made."""
    saved = means.library.variant(variant_id)
    latest: dict[str, Change] = {}
    for change in map(parse_setting, query.settings):
        latest.pop(change.field, None)
        latest[change.field] = change
    for change in latest.values():
        check_control(saved, change)
    view = query.view or best_view(saved)
    known("view", view, VIEWS)
    asked = targets().get(query.target)
    return BenchState(
        saved=saved,
        by_hand=saved,
        changed=saved,
        changes=tuple(latest.values()),
        faults=query.faults,
        ghosts=tuple(map(parse_setup, query.ghosts)),
        tempo=Tempo.parse(query.tempo) if query.tempo else None,
        target=asked if asked is not None and asked.group == saved.group else long_head(saved.group),
        load=query.load,
        reps=query.reps,
        view=view,
        frame=query.frame,
        client=client,
        means=means,
    )


def with_changes(state: BenchState, changes: tuple[Change, ...]) -> BenchState:
    """The state with changes made, whether or not it can be modelled."""
    by_hand = SetupAddress(state.saved.id, changes).of(state.saved)
    return replace(state, changes=changes, by_hand=by_hand, changed=with_faults(state, by_hand))


def with_faults(state: BenchState, by_hand: Variant) -> Variant:
    """A changed variant with the state's faults."""
    return SetupAddress(by_hand.id, (), state.faults).of(by_hand, state.known_faults)
