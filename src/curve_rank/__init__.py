"""Curve Rank: the arm as physics, exercise variants ranked for a purpose.

    >>> import curve_rank as cr
    >>> curl = cr.variant("standing-dumbbell-curl")
    >>> round(curl.rep(reps=10).hard_spot_deg)
    91

What stands in `__all__` is public and stays; everything else may move. It is read in when it is first used,
so that importing the package costs nothing.
"""

from __future__ import annotations

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from curve_rank.errors import BadInputError as BadInputError
    from curve_rank.errors import CurveRankError as CurveRankError
    from curve_rank.errors import UnavailableError as UnavailableError
    from curve_rank.errors import UnknownNameError as UnknownNameError
    from curve_rank.interface.arm import Arm as Arm
    from curve_rank.interface.arm import KnownSet as KnownSet
    from curve_rank.interface.comparing import CarriedLoad as CarriedLoad
    from curve_rank.interface.comparing import ComparedValue as ComparedValue
    from curve_rank.interface.comparing import Comparison as Comparison
    from curve_rank.interface.comparing import Verdict as Verdict
    from curve_rank.interface.comparing import claim as claim
    from curve_rank.interface.comparing import claims as claims
    from curve_rank.interface.comparing import compare as compare
    from curve_rank.interface.comparing import transfer as transfer
    from curve_rank.interface.draws import DrawPlan as DrawPlan
    from curve_rank.interface.draws import draws as draws
    from curve_rank.interface.learning import Learned as Learned
    from curve_rank.interface.learning import learn as learn
    from curve_rank.interface.ranking import RankedRow as RankedRow
    from curve_rank.interface.ranking import Ranking as Ranking
    from curve_rank.interface.ranking import rank as rank
    from curve_rank.interface.setup import Rep as Rep
    from curve_rank.interface.setup import Setup as Setup
    from curve_rank.interface.setup import variant as variant
    from curve_rank.interface.setup import variants as variants
    from curve_rank.rating.spreads import Spread as Spread

__version__ = "0.2.0"

_WHERE = {
    "errors": ("BadInputError", "CurveRankError", "UnavailableError", "UnknownNameError"),
    "interface.arm": ("Arm", "KnownSet"),
    "interface.comparing": (
        "CarriedLoad", "ComparedValue", "Comparison", "Verdict", "claim", "claims", "compare", "transfer",
    ),
    "interface.draws": ("DrawPlan", "draws"),
    "interface.learning": ("Learned", "learn"),
    "interface.ranking": ("RankedRow", "Ranking", "rank"),
    "interface.setup": ("Rep", "Setup", "variant", "variants"),
    "rating.spreads": ("Spread",),
}  # fmt: skip
_MODULES = {name: module for module, names in _WHERE.items() for name in names}

__all__ = sorted(_MODULES)


def __getattr__(name: str) -> Any:
    """A public name, from the module that holds it."""
    if name not in _MODULES:
        raise AttributeError(f"module {__name__!r} has no attribute {name!r}")
    found = getattr(import_module(f"{__name__}.{_MODULES[name]}"), name)
    globals()[name] = found
    return found


def __dir__() -> list[str]:
    return sorted((*__all__, "__version__"))
