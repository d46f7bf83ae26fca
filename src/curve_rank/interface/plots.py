"""Plots with matplotlib, where it is installed."""

from __future__ import annotations

from typing import TYPE_CHECKING

from curve_rank.errors import UnavailableError

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from curve_rank.interface.setup import Rep


def plot_rep(rep: Rep, axes: Axes | None) -> Axes:
    """Demand and strength of a rep over its angle.

    Raises
    ------
    UnavailableError
        Where matplotlib is not installed.
    """
    if axes is None:
        try:
            from matplotlib import pyplot
        except ImportError as error:
            raise UnavailableError(
                "matplotlib", "not installed", 'it, as `pip install "curve-rank[plots]"` does'
            ) from error
        axes = pyplot.subplots()[1]
    axes.fill_between(rep.angle_deg, rep.demand_nm, alpha=0.3, label="the load asks")
    axes.plot(rep.angle_deg, rep.strength_nm, label="the muscles can give")
    axes.axvline(rep.hard_spot_deg, linewidth=0.8)
    axes.set_xlabel("angle [°]")
    axes.set_ylabel("moment [N·m]")
    axes.set_title(rep.setup.name)
    axes.legend()
    return axes
