"""What takes longer to prove: sharing against an independent solver, draws against fresh ones, training."""

from __future__ import annotations

import numpy as np

from curve_rank.arm.arrays import Array
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.arm.sharing import share_load
from curve_rank.catalogue.library import built_in
from curve_rank.rating.draws import draw_loads, fixed_draws
from curve_rank.rating.lenses import lenses
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.spreads import interval, spread_of
from curve_rank.rating.words import lower_first
from curve_rank.study.evidence import every_comparison, tally
from curve_rank.study.proving import Proof, at_the_side

PROBLEMS, SEED = 40, 7
AGREES = {2.0: 1e-6, 3.0: 1e-5}
"""How near drives must be by exponent [1]."""
FRESH, FRESH_SEED, EVERY = 300, 4242, 12
"""Fresh draws, their seed, and every how manieth variant is drawn."""
APART = 0.10
"""By how much the part inside may differ from what is stated: of so few variants more is chance [1]."""


def proofs_apart(modeller: Modeller) -> tuple[Proof, ...]:
    """All three kinds, worked out now."""
    return (*sharing_proofs(), draws_proof(modeller), *training_proofs(modeller))


def sharing_proofs() -> list[Proof]:
    """Drives beside those of a general solver of constrained problems, at random postures and demands."""
    chance = np.random.default_rng(SEED)
    elbow, forearm = chance.uniform(0, 145, PROBLEMS), chance.uniform(-90, 90, PROBLEMS)
    columns = at_the_side(elbow, forearm).gripping(np.full(PROBLEMS, 6.0))
    reach = np.abs(columns.matrix).sum(axis=1) * np.array([0.3, 0.2, 0.3])[:, None]
    demand = chance.uniform(-1, 1, (3, PROBLEMS)) * reach
    found = []
    for exponent, most in AGREES.items():
        shared = share_load(
            columns.matrix, demand, cost=columns.cost, low=columns.low, high=columns.high, exponent=exponent
        )
        worst, solved = 0.0, np.flatnonzero(shared.feasible)
        for n in solved:
            cost, matrix = columns.cost[:, n], columns.matrix[:, :, n]
            other = _solved(matrix, demand[:, n], cost, columns.low, columns.high, exponent)
            acts = np.abs(matrix).max(axis=0) > 0
            worst = max(worst, float(np.abs(shared.drives[acts, n] - other[acts]).max()))
        found.append(
            Proof(
                "solver",
                f"Exponent {exponent:g}: largest difference of a drive over {solved.size} postures",
                f"at most {most:g}",
                "sequential quadratic programming",
                f"{worst:.0e}",
                worst <= most,
            )
        )
    return found


def _solved(matrix: Array, demand: Array, cost: Array, low: Array, high: Array, exponent: float) -> Array:
    """Drives by a general solver."""
    from scipy.optimize import Bounds, minimize  # read in only where something is proved

    start = np.clip(np.linalg.lstsq(matrix, demand, rcond=None)[0], low, high)
    made = minimize(  # type: ignore[call-overload]
        lambda drives: cost @ np.abs(drives) ** exponent,
        start,
        jac=lambda drives: exponent * cost * np.abs(drives) ** (exponent - 1) * np.sign(drives),
        method="SLSQP",
        bounds=Bounds(low, high),
        constraints={"type": "eq", "fun": lambda drives: matrix @ drives - demand, "jac": lambda _: matrix},
        options={"ftol": 1e-18, "maxiter": 3000},
    )
    drives: Array = made.x
    return drives


def draws_proof(modeller: Modeller) -> Proof:
    """How many fresh draws of a load fall into the interval that the fixed ones give."""
    variants, effort = built_in()[::EVERY], usual_effort()
    fixed = fixed_draws(variants, Body(), effort, modeller)
    fresh = draw_loads(variants, Body(), effort, FRESH_SEED, range(FRESH))
    spans = [spread_of(one.load) for one in fixed]
    low, high = (np.array([getattr(span, end) for span in spans]) for end in ("low", "high"))
    inside = float(((fresh >= low) & (fresh <= high)).mean())
    return Proof(
        "draws",
        f"{FRESH} fresh draws inside the interval of the fixed: loads of {len(variants)} set-ups",
        f"{100 * interval():.0f} ± {100 * APART:.0f} %",
        "the interval’s own statement",
        f"{100 * inside:.1f} %",
        abs(inside - interval()) <= APART,
    )


def training_proofs(modeller: Modeller) -> list[Proof]:
    """What each lens foretells of published training comparisons; a lens may fail, and says so."""
    table = lenses()
    found = every_comparison(tuple(table.values()), modeller)
    counted = [tally(found, lens) for lens in table.values()]
    return [
        Proof(
            "training",
            f"Published training comparisons foretold by {lower_first(one.lens.name)}",
            f"more than half of {one.studies}",
            "the studies on the evidence page",
            one.says,
            one.expected > one.studies / 2,
            miss="so few studies tell no school from another" if one.expected <= one.studies / 2 else "",
        )
        for one in counted
    ]
