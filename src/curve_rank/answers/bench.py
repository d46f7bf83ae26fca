"""The view of the bench that page, script and files take."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property, partial
from typing import Any, Literal

from curve_rank.answers.bench_state import (
    BenchRequest,
    BenchState,
    PullRequest,
    read_state,
    with_changes,
    with_faults,
)
from curve_rank.answers.client import Client
from curve_rank.answers.means import Means
from curve_rank.arm.rep_setup import effort_for_reps, least_load
from curve_rank.arm.tempo import TimedReps, time_rep
from curve_rank.catalogue.controls import controls
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.exchange.tables import Table, rep_table
from curve_rank.figures.curves import Curves, curves
from curve_rank.figures.figure import Figure, figure
from curve_rank.figures.handles import handles, pulled
from curve_rank.figures.projection import Projection
from curve_rank.figures.strip import strip
from curve_rank.figures.svg import svg
from curve_rank.figures.time_curves import time_curves
from curve_rank.rating.cautions import CautionReason, cautions_for
from curve_rank.rating.joints import Strain, strains
from curve_rank.rating.modelling import VariantModel, model_variants
from curve_rank.rating.posing import VariantPose, pose_variant
from curve_rank.rating.rep_of_variant import rep_setup
from curve_rank.rating.targets import targets
from curve_rank.rating.words import gives_out, load_words, why
from curve_rank.study.faults import changes_in_words
from curve_rank.study.reach import as_far_as
from curve_rank.study.strokes import stroke_words, strokes_of

GHOST_LETTERS = "PQR"
"""What ghosts are called on the curves, apart from a comparison's columns."""


@dataclass(frozen=True)
class BenchView:
    """Everything the bench shows of a state, worked out as it is asked for; of a pull, one frame only."""

    state: BenchState
    modelled: VariantModel
    only: int | None = None
    shows: Literal["all", "figure", "rest"] = "all"

    @cached_property
    def figure(self) -> Figure:
        """The figure in the chosen view."""
        return figure(self.modelled, self.state.view, self.only, hair=self.state.client.hair)

    @cached_property
    def ghosts(self) -> tuple[VariantModel, ...]:
        """The ghosts that are named; else what is saved, where the set-up is changed."""
        state = self.state
        if not state.ghosts:
            return (state.model_saved(),) if state.is_changed else ()
        effort = effort_for_reps(state.reps)
        found = (state.means.library.setup(ghost) for ghost in state.ghosts)
        return tuple(state.means.modeller.one(v, state.client.body, effort=effort) for v in found)

    @cached_property
    def ghost_figures(self) -> tuple[Figure, ...]:
        """Their figures."""
        return tuple(figure(ghost, self.state.view) for ghost in self.ghosts)

    def _outlines(self, ghost: VariantModel) -> dict[str, Any]:
        return figure(ghost, self.state.view).outlines()

    @cached_property
    def timed(self) -> TimedReps | None:
        """The rep in time, where a tempo is set."""
        m, tempo = self.modelled, self.state.tempo
        return time_rep(m.setup, m.body, m.load, tempo) if tempo else None

    @cached_property
    def curves(self) -> Curves:
        """The curves, over time where a tempo is set; the ghosts' behind them over the rep."""
        if self.timed is not None:
            return time_curves(self.modelled, self.timed)
        state = self.state
        named = bool(state.ghosts)
        return curves(
            self.modelled,
            self.ghosts,
            state.target.heads[0] if named else "",
            GHOST_LETTERS[: len(self.ghosts)] if named else "",
        )

    @property
    def in_time(self) -> str:
        """Time under tension, in a sentence; empty without a tempo."""
        timed = self.timed
        if timed is None:
            return ""
        thirds = timed.thirds
        says = (
            f"{timed.under_light:.1f} s of {timed.tempo.total:g} s over a fifth of what muscle could do, "
            f"{timed.under_hard:.1f} s over half; {thirds['first']:.1f} s in the first third of the rep, "
            f"{thirds['middle']:.1f} s in the middle, {thirds['last']:.1f} s in the last."
        )
        return f"{says} {stroke_words(strokes_of(self.modelled), timed)}".rstrip()

    @cached_property
    def price(self) -> str:
        """What the faults that are switched on change, in words; empty without any."""
        state = self.state
        if not state.faults:
            return ""
        effort = effort_for_reps(state.reps)
        (right,) = model_variants((state.by_hand,), state.client.body, effort=effort, load=state.load)
        faults = state.means.library.faults_of(state.saved)
        names = " and ".join(f.name.lower() for f in faults if f.key in state.faults)
        return f"Done wrong ({names}): {changes_in_words(right, self.modelled, state.target)}."

    @cached_property
    def handles(self) -> list[dict[str, Any]]:
        """What of the figure can be taken hold of, and where it is along the rep."""
        return _handles(self.modelled, self.state.view)

    @cached_property
    def curves_picture(self) -> str:
        """The curves, drawn."""
        return svg(self.curves.picture)

    @cached_property
    def strip(self) -> str:
        """The rep strip."""
        return svg(strip(self.modelled, self.state.target, "large"))

    @cached_property
    def table(self) -> Table:
        """The numbers behind the curves."""
        return rep_table(self.modelled)

    @property
    def at(self) -> int:
        """The sample that is shown first."""
        return self.modelled.hard

    @property
    def why(self) -> str:
        """Where it is hard, in a sentence."""
        return why(self.modelled, self.state.target)

    @property
    def limit(self) -> str:
        """What gives out first."""
        return gives_out(self.modelled)

    @property
    def least(self) -> int:
        """The least load that can be typed [kg]."""
        return math.ceil(least_load(self.modelled.setup, self.modelled.body))

    @property
    def strains(self) -> tuple[Strain, ...]:
        """What the joints bear."""
        return strains(self.modelled.readings, self.modelled.body)

    @property
    def cautions(self) -> tuple[CautionReason, ...]:
        """The cautions that apply."""
        return cautions_for(self.modelled)

    @cached_property
    def along(self) -> dict[str, list[float | None]]:
        """What is read off at each place of the rep."""
        m = self.modelled
        return {
            "angle": _short(m.along("angle"), 1),
            "demand": _short(m.along("demand"), 1),
            "effort": _short(100 * m.along("effort"), 0),
            "lever": [round(v, 1) if math.isfinite(v) else None for v in 100 * m.along("lever")],
        }

    @cached_property
    def heads(self) -> list[dict[str, Any]]:
        """Drive and length of each head along the rep."""
        m = self.modelled
        return [
            {
                "key": head,
                "name": targets()[head].name,
                "drive": _short(100 * m.drive_along(head), 0),
                "length": _short(m.length_along(head), 0),
            }
            for head in targets()[m.variant.group].heads
        ]

    def as_script(self) -> dict[str, Any]:
        """What the page's script redraws from."""
        figure = {} if self.shows == "rest" else self._figure_data()
        rest = {} if self.shows == "figure" else self._rest_data()
        return _set_up(self.state) | figure | rest

    def _figure_data(self) -> dict[str, Any]:
        return {"figure": self.figure.as_data(self.only), "handles": self.handles}

    def _rest_data(self) -> dict[str, Any]:
        readings, state = self.modelled.readings, self.state
        return {
            "ghosts": [
                state.means.modeller.derived(ghost, ("outlines", state.view), partial(self._outlines, ghost))
                for ghost in self.ghosts
            ],
            "ghost_names": [m.variant.name for m in self.ghosts] if state.ghosts else [],
            "in_time": self.in_time,
            "price": self.price,
            "curves": {"svg": self.curves_picture} | self.curves.as_data(),
            "strip": self.strip,
            "along": self.along,
            "heads": self.heads,
            "hard": self.at,
            "joint": self.modelled.variant.coordinate,
            "why": self.why,
            "load": round(self.modelled.load, 1),
            "load_words": load_words(self.modelled),
            "load_alone": f"{self.modelled.load:.1f} kg".replace("-", "−"),
            "limit": self.limit,
            "evenness": round(100 * float(readings.evenness)),
            "slack": round(100 * float(readings.slack_share)),
        }


@dataclass(frozen=True)
class PoseView:
    """What the bench shows first while something moves: the figure at one place, and what is set."""

    state: BenchState
    posed: VariantPose
    part: float

    def as_script(self) -> dict[str, Any]:
        """What the page's script redraws of it."""
        state = self.state
        only = _frame_at(self.part, self.posed.along("angle").size)
        shown = figure(self.posed, state.view, only, hair=state.client.hair)
        return {
            **_set_up(state),
            "figure": shown.as_data(only),
            "handles": _handles(self.posed, state.view),
        }


def _handles(shown: VariantModel | VariantPose, view: str) -> list[dict[str, Any]]:
    """What of a figure can be taken hold of, and where it is along the rep."""
    scene = Projection.of_model(shown, view)
    return [one.as_data(scene) for one in handles(shown.variant, view)]


def _set_up(state: BenchState) -> dict[str, Any]:
    """What is set, for the page's script."""
    return {
        "controls": {c.field: c.shown for c in controls(state.by_hand)},
        "handle": state.changed.equipment.handle,
        "settings": list(state.settings),
        "faults": list(state.faults),
        "address": state.address(),
        "setup": state.setup.text,
        "problem": state.problem,
    }


def _frame_at(part: float, frames: int) -> int:
    return round(part * (frames - 1))


def view_after(
    means: Means, variant_id: str, query: BenchRequest, pull: PullRequest, client: Client
) -> BenchView | PoseView:
    """What the bench shows after a pull on a handle, or a last change: as far as it goes, and why no further.

    Raises
    ------
    CurveRankError
        Where the set-up could not be even before, or what was changed last is no number.
    """
    state, part = read_state(means, variant_id, query, client), min(max(pull.place, 0.0), 1.0)

    def modelled(tried: BenchState) -> BenchView:
        return BenchView(tried, tried.model())

    def posed(tried: BenchState) -> PoseView:
        load = tried.load if tried.load is not None else pull.held or 0.0
        return PoseView(tried, pose_variant(tried.changed, client.body, load=load, part=part), part)

    view_of = modelled if pull.held is None else posed
    if pull.handle:
        before = with_changes(state, state.changes)
        wanted = pulled(
            before.by_hand, state.client.body, state.view, pull.handle,
            (pull.x, pull.y), part, snap=bool(pull.snap),
        )  # fmt: skip
        view = _as_far(state, state.changes, wanted, view_of)
    elif state.changes:
        view = _as_far(state, state.changes[:-1], state.changes[-1:], view_of)
    else:
        view = view_of(with_changes(state, ()))
    if isinstance(view, PoseView):
        return view
    short = bool(view.state.problem)  # it goes less far than was shown before: all of it is told
    if not (pull.handle or pull.moving):
        return replace(view, shows="figure" if pull.frames and not short else "all")
    only = _frame_at(part, view.modelled.along("angle").size)
    return replace(view, only=only, shows="rest" if pull.follows and not short else "all")


def _as_far(
    state: BenchState,
    made: tuple[Change, ...],
    wanted: tuple[Change, ...],
    view_of: Callable[[BenchState], BenchView | PoseView],
) -> BenchView | PoseView:
    """What is wanted on top of what is made, as far as it can be seen."""

    def check(by_hand: Variant) -> BenchView | PoseView:
        faulty = with_faults(state, by_hand)
        return view_of(replace(state, by_hand=by_hand, changed=faulty, changes=wanted))

    def pose(by_hand: Variant) -> None:
        rep_setup(with_faults(state, by_hand), state.client.body)

    reached = as_far_as(state.saved, made, wanted, check, pose)
    view = reached.checked
    return replace(view, state=replace(view.state, changes=reached.changes, problem=reached.problem))


def _short(values: Any, digits: int) -> list[float | None]:
    rounded: list[float | None] = (values.round(digits) + 0.0).tolist()
    return rounded
