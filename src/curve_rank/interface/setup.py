"""Set-ups of exercises, and one modelled repetition of them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from html import escape
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from curve_rank.arm.rep_setup import DEFAULT_EFFORT_REPS, effort_for_reps
from curve_rank.catalogue.changes import parse_setting
from curve_rank.catalogue.controls import controls
from curve_rank.catalogue.schema import Variant
from curve_rank.catalogue.setups import SetupAddress, parse_setup
from curve_rank.exchange.json_views import model_view
from curve_rank.figures.curves import curves
from curve_rank.figures.strip import strip
from curve_rank.figures.svg import ByColour, svg
from curve_rank.interface import table
from curve_rank.interface.arm import Arm
from curve_rank.interface.here import means
from curve_rank.rating.modelling import VariantModel, model_variants
from curve_rank.rating.spreads import Spread, spread_of
from curve_rank.rating.targets import long_head, targets
from curve_rank.rating.words import load_words, where_hard

if TYPE_CHECKING:
    from matplotlib.axes import Axes

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Setup:
    """One way of doing an exercise: a variant, with what is changed about it.

    Made by `variant`; changed by `with_`.
    """

    address: SetupAddress
    document: Variant

    @property
    def text(self) -> str:
        """The line that `variant` makes it from again: the id, then what is changed."""
        return self.address.text

    @property
    def name(self) -> str:
        """Its name for people."""
        return self.document.name

    @property
    def heads(self) -> tuple[str, ...]:
        """The heads of its muscle group, by key."""
        return targets()[self.document.group].heads

    @property
    def fields(self) -> dict[str, float]:
        """What can be moved, by the path that `with_` takes, as it stands."""
        return {c.field: c.field_value(c.shown) for c in controls(self.document)}

    def with_(self, changes: Mapping[str, float | str] | None = None, **named: float | str) -> Setup:
        """The same set-up with some of it changed.

        Parameters
        ----------
        changes : mapping, optional
            By dotted path of the document, as in ``{"posture.trunk_pitch": -45}``.
        **named : float or str
            The same with two underscores for each dot: ``posture__trunk_pitch=-45``.

        Returns
        -------
        Setup

        Raises
        ------
        CurveRankError
            For a path that there is not, and a result that is no set-up.

        Examples
        --------
        >>> curl = variant("standing-dumbbell-curl")
        >>> curl.with_(posture__forearm=0).text
        'standing-dumbbell-curl~posture.forearm=0'
        """
        wanted = dict(changes or {}) | {key.replace("__", "."): value for key, value in named.items()}
        made = {change.field: change for change in self.address.changes}
        for path, value in wanted.items():
            change = parse_setting(f"{path}={value}")
            made[change.field] = change
        address = SetupAddress(self.address.variant, tuple(made.values()), self.address.faults)
        return Setup(address, means().library.setup(address))

    def rep(
        self, *, reps: int = DEFAULT_EFFORT_REPS, arm: Arm | None = None, load_kg: float | None = None
    ) -> Rep:
        """One repetition at the load that so many end at, or at a load of one's own.

        Parameters
        ----------
        reps : int
            Repetitions to failure: they say how hard the hardest moment may be.
        arm : Arm, optional
            Whose; else the default body's, a trained man of 1.78 m and 80 kg.
        load_kg : float, optional
            Instead of the load that ends after `reps` [kg].

        Returns
        -------
        Rep

        Raises
        ------
        CurveRankError
            Where it cannot be modelled, as with a posture that the arm cannot take.
        """
        body, effort = (arm or Arm()).body, effort_for_reps(reps)
        modelled = model_variants((self.document,), body, effort=effort, load=load_kg)[0]
        return Rep(self, modelled, reps, effort, is_at_own_load=load_kg is not None)

    def to_dict(self) -> dict[str, Any]:
        """The whole document, as it is exported and kept."""
        return self.document.model_dump(mode="json")

    def __repr__(self) -> str:
        return f"<Setup {self.text}>"

    def _repr_html_(self) -> str:
        return self.rep()._repr_html_()


@dataclass(frozen=True, eq=False)
class Rep(table.Tabular):
    """One modelled repetition, from the target's stretched end to its short end.

    Arrays have shape (samples,) and are the middle arm's; what a page prints, the median of 64 arms with its
    80 % interval, is `load_drawn_kg`.
    """

    setup: Setup
    modelled: VariantModel
    reps: int
    effort_allowed: float
    is_at_own_load: bool = False

    @property
    def load_kg(self) -> float:
        """Load in use [kg]."""
        return self.modelled.load

    @cached_property
    def load_drawn_kg(self) -> Spread:
        """Median, low and high of the working load over 64 drawn arms [kg]."""
        m = self.modelled
        (drawn,) = means().draw((m.variant,), m.body, self.effort_allowed)
        return spread_of(drawn.load)

    @property
    def angle_deg(self) -> Array:
        """The angle the rep is measured in: the elbow's, of straight-arm work the shoulder's [degrees]."""
        return self.modelled.along("angle")

    @property
    def elbow_deg(self) -> Array:
        """Elbow angle, 0 straight [degrees]."""
        return self.modelled.angle("elbow")

    @property
    def demand_nm(self) -> Array:
        """Moment that the load asks of the target's side [N·m]."""
        return self.modelled.along("demand")

    @property
    def strength_nm(self) -> Array:
        """Moment that the muscles can give there [N·m]."""
        return self.modelled.along("strength")

    @property
    def effort(self) -> Array:
        """Demand over strength [1]."""
        return self.modelled.along("effort")

    @property
    def lever_m(self) -> Array:
        """Distance of the line of pull from the elbow [m]; NaN where nothing pulls at the hand."""
        return self.modelled.along("lever")

    def drive(self, head: str) -> Array:
        """How hard a head is driven [1], by its key, as in ``"biceps_long"``."""
        return self.modelled.drive_along(head)

    def force_n(self, head: str) -> Array:
        """Active force of a head [N]."""
        return self.modelled.head_along("force", head)

    def length_pct(self, head: str) -> Array:
        """Length of a head over its own range [%]: 0 at its shortest, 100 at its longest."""
        return self.modelled.length_along(head)

    def moment_arm_m(self, head: str) -> Array:
        """Moment arm of a head at the elbow [m], positive where it bends."""
        m = self.modelled
        arms: Array = m.body.scale * m.rep.geometry.elbow_moment_arm[m.anatomy.index(head), 0]
        return arms

    @property
    def hard_spot_deg(self) -> float:
        """Where the demand peaks, on `angle_deg` [degrees]."""
        return float(self.modelled.readings.hard_spot)

    @property
    def says(self) -> str:
        """Where it is hard and what is slack, in a sentence."""
        return where_hard(self.modelled, long_head(self.setup.document.group)).says

    def to_dict(self) -> dict[str, Any]:
        """Curves, heads and readings, as `curve-rank model --json` prints them."""
        return model_view(self.modelled)

    @property
    def _columns(self) -> table.Columns:
        plain = ("angle_deg", "elbow_deg", "demand_nm", "strength_nm", "effort", "lever_m")
        heads = {
            f"{name}_{head}": getattr(self, name)(head)
            for head in self.setup.heads
            for name in ("drive", "force_n", "length_pct", "moment_arm_m")
        }
        return {name: getattr(self, name).tolist() for name in plain} | {
            k: v.tolist() for k, v in heads.items()
        }

    def plot(self, axes: Axes | None = None) -> Axes:
        """Demand and strength over the angle, on axes of one's own or new ones; needs the extra `plots`."""
        from curve_rank.interface.plots import plot_rep

        return plot_rep(self, axes)

    def svg(self, what: str = "strip") -> str:
        """A picture that stands alone: "strip" or "curves"."""
        target = long_head(self.setup.document.group)
        made = curves(self.modelled).picture if what == "curves" else strip(self.modelled, target, "large")
        return svg(made, ByColour("light"))

    def __repr__(self) -> str:
        return f"<Rep of {self.setup.text}, the middle arm: {load_words(self.modelled)}. {self.says}>"

    def _repr_html_(self) -> str:
        said = f"{load_words(self.modelled)} in the middle arm. {self.says}"
        return f"<p><b>{escape(self.setup.name)}</b>: {escape(said)}</p>{self.svg()}"


def variant(text: str) -> Setup:
    """A set-up by its id, or as an address writes it, with what is changed.

    Parameters
    ----------
    text : str
        As in ``"standing-dumbbell-curl"`` or ``"chin-up~posture.trunk_pitch=10"``.

    Returns
    -------
    Setup

    Raises
    ------
    CurveRankError
        Where there is none of that id, with the nearest ones.

    Examples
    --------
    >>> variant("standing-dumbbell-curl").name
    'Standing dumbbell curl'
    """
    address = parse_setup(text)
    return Setup(address, means().library.setup(address))


def variants(group: str = "") -> tuple[Setup, ...]:
    """Every set-up that ships, or those of one muscle group: "flexors" or "extensors".

    Examples
    --------
    >>> len(variants("flexors")) > 50
    True
    """
    library = means().library
    found = library.of_group(group) if group else library.variants
    return tuple(Setup(SetupAddress(one.id), one) for one in found)


def as_setup(one: Setup | str) -> Setup:
    """A set-up, or what a line names."""
    return variant(one) if isinstance(one, str) else one
