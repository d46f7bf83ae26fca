"""Everything that a page works out of a variant, tried once before it is kept."""

from __future__ import annotations

from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.arm.tempo import time_rep
from curve_rank.catalogue.schema import Variant
from curve_rank.errors import LoadError
from curve_rank.rating.modelling import model_variants
from curve_rank.study.schemes import read_schemes, schemes, tempo_of


def try_out(variant: Variant, body: Body) -> None:
    """Model a variant at its working load, and in time at its own tempo and by every scheme.

    Raises
    ------
    CurveRankError
        What keeps it from being shown; a variant that raises none breaks no page.
    """
    (modelled,) = model_variants((variant,), body, effort=usual_effort())
    try:
        time_rep(modelled.setup, body, modelled.load, tempo_of(variant))
        read_schemes(modelled, tuple(schemes().values()))
    except (ArithmeticError, ValueError) as error:
        raise LoadError("guide", variant.name, f"a tempo that can be worked out ({error})") from error
