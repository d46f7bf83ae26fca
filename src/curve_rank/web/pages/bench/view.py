"""The bench's state in an address, and the view that page, script and files take."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Any
from urllib.parse import urlencode

from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps, least_load
from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.schema import Change, Variant
from curve_rank.exchange.tables import Table, rep_table
from curve_rank.figures.curves import Curves, curves
from curve_rank.figures.figure import Figure, figure
from curve_rank.figures.projection import VIEWS, best_view
from curve_rank.figures.strip import strip
from curve_rank.figures.svg import svg
from curve_rank.rating.cautions import CautionReason, cautions_for
from curve_rank.rating.joints import Strain, strains
from curve_rank.rating.modelling import VariantModel, model_variants
from curve_rank.rating.targets import Target, known, long_head, targets
from curve_rank.rating.words import gives_out, load_words, why
from curve_rank.web import current
from curve_rank.web.forms import BenchQuery
from curve_rank.web.pages.bench.controls import check_control
from curve_rank.web.question import Client, client_for


@dataclass(frozen=True)
class BenchState:
    """A variant as saved, as changed in the address, and what it is modelled for."""

    saved: Variant
    changed: Variant
    settings: tuple[str, ...]
    target: Target
    load: float | None
    reps: int
    view: str
    frame: str
    client: Client

    @property
    def is_changed(self) -> bool:
        """Whether anything differs from what is saved."""
        return bool(self.settings) or self.load is not None

    def model(self) -> VariantModel:
        """The changed variant, modelled; not kept, for nobody asks for it again."""
        if not self.is_changed:
            return self.model_saved()
        effort = effort_for_reps(self.reps)
        return model_variants((self.changed,), self.client.body, effort=effort, load=self.load)[0]

    def model_saved(self) -> VariantModel:
        """The saved variant, modelled at its working load."""
        return current.modeller().one(self.saved, self.client.body, effort=effort_for_reps(self.reps))

    def address(self, **replaced: object) -> str:
        """The state as a query string, with some of it replaced."""
        values: dict[str, object] = {
            "set": self.settings,
            "load": self.load,
            "reps": self.reps,
            "view": self.view,
            "frame": self.frame,
            "target": self.target.key,
            "for": self.client.person,
        }
        defaults: dict[str, object] = {
            "set": (),
            "reps": DEFAULT_EFFORT_REPS,
            "view": best_view(self.saved),
            "frame": "arm",
        }
        values |= replaced
        kept = {k: v for k, v in values.items() if v is not None and v != defaults.get(k)}
        return urlencode(kept, doseq=True)


@dataclass(frozen=True)
class BenchView:
    """Everything the bench shows of a state, worked out as it is asked for."""

    state: BenchState
    modelled: VariantModel
    ghost: VariantModel

    @cached_property
    def figure(self) -> Figure:
        """The figure in the chosen view."""
        return figure(self.modelled, self.state.view)

    @cached_property
    def ghost_figure(self) -> Figure | None:
        """The saved set-up's figure, where it is not the same."""
        return figure(self.ghost, self.state.view) if self.state.is_changed else None

    @cached_property
    def curves(self) -> Curves:
        """The curves, the saved ones behind them where they are not the same."""
        return curves(self.modelled, self.ghost if self.state.is_changed else None)

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
        return strains(self.modelled.readings)

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
                "drive": _short(100 * m.head_along("drive", head), 0),
                "length": _short(m.length_along(head), 0),
            }
            for head in targets()[m.variant.group].heads
        ]

    def as_script(self, *, with_ghost: bool) -> dict[str, Any]:
        """What the page's script redraws from; the ghost only where the script has not got it yet."""
        ghost = self.ghost_figure if with_ghost else None
        readings = self.modelled.readings
        return {
            "figure": self.figure.as_data(),
            "ghost": None if ghost is None else ghost.as_data(),
            "curves": {"svg": self.curves_picture} | self.curves.as_data(),
            "strip": self.strip,
            "along": self.along,
            "heads": self.heads,
            "hard": self.at,
            "joint": self.modelled.variant.coordinate,
            "why": self.why,
            "load": round(self.modelled.load, 1),
            "load_words": load_words(self.modelled),
            "limit": self.limit,
            "evenness": round(100 * float(readings.evenness)),
            "slack": round(100 * float(readings.slack_share)),
        }


def state_of(variant_id: str, query: BenchQuery) -> BenchState:
    """The bench's state that an address or a form asks for.

    Raises
    ------
    CurveRankError
    """
    saved = current.variant_named(variant_id)
    latest = {change.field: change for change in map(parse_setting, query.settings)}
    for change in latest.values():
        check_control(saved, change)
    view = query.view or best_view(saved)
    known("view", view, VIEWS)
    asked = targets().get(query.target)
    return BenchState(
        saved=saved,
        changed=changed(saved, tuple(latest.values())),
        settings=tuple(f"{change.field}={_plain(change)}" for change in latest.values()),
        target=asked if asked is not None and asked.group == saved.group else long_head(saved.group),
        load=query.load,
        reps=query.reps,
        view=view,
        frame=query.frame,
        client=client_for(query.person),
    )


def _plain(change: Change) -> str:
    if isinstance(change.set, bool):
        return str(change.set).lower()
    return f"{change.set:g}" if isinstance(change.set, float) else str(change.set)


def _short(values: Any, digits: int) -> list[float | None]:
    rounded: list[float | None] = (values.round(digits) + 0.0).tolist()
    return rounded
