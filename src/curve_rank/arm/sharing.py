"""Load sharing: which drives hold a load, for many postures at once.

Among all drives that satisfy the balances the one with the least sum of drives to a power is taken
(Crowninshield & Brand 1981 take the cube of muscle stress). Each problem is

    minimise Σ c |x|ᵖ / p   subject to   A x = b,   low ≤ x ≤ high,   2 ≤ p ≤ 3,

with at most three rows in A (moments of elbow, forearm and shoulder). Its dual has one multiplier λ per row
and is concave, so Newton's method on all problems at once, damped for the few that need it, ends in a
handful of steps. Above p = 2 drives grow as a root of their pull Aᵀλ, which is steep at 0; so the unknowns
are roots s with λ = sign(s) |s|ᵖ⁻¹, in which a drive that acts in one balance alone is a straight line. The
dual's value never exceeds what the dearest drives would cost, so a higher one proves a problem infeasible.
Postures follow one another, so the few may begin from the multipliers of the nearest one that is solved.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from curve_rank.arm.arrays import Array, BoolArray, Index

BLOCK = 4096
"""Problems solved together: their columns then fit the processor's cache."""
TAIL_BLOCK = 16384
"""The few problems that need many steps are solved in larger lots, so that the steps' own cost is shared."""
MOST_STEPS = 120
FIRST_DAMPING = 0.1
"""Damping from which on it grows where a step fails."""
LEAST_DAMPING = 1e-13
"""Damping of a Newton step that needs none, over the rows' sizes."""
TOLERANCE = 1e-10
"""Largest imbalance left, over one plus the demand."""
EXPONENTS = (2.0, 3.0)
"""Exponents p for which the method is made."""
LEAST_ROOT = 1e-5
"""A multiplier's root below this has the slope it has here."""
LEAST_DRIVE = 1e-2
"""A drive below this is as free as one of this size when the first multipliers are guessed."""
ALIKE = 0.3
"""Demands that differ by less, over one plus the demand, are of postures that follow one another."""
WHOLE_STEPS, WHOLE_STEPS_OF_ROOTS = 2, 5
"""Whole Newton steps that nearly every problem ends with, at exponent 2 and above it."""


@dataclass(frozen=True)
class Sharing:
    """Drives of shape (columns, problems) and, per problem, whether they satisfy the balances."""

    drives: Array
    feasible: BoolArray


def share_load(
    matrix: Array, demand: Array, *, cost: Array, low: Array, high: Array, exponent: Array | float = 2.0
) -> Sharing:
    """Solve many sharing problems.

    Parameters
    ----------
    matrix : array, shape (rows, columns, problems)
        Moment that each column makes in each balance at full drive [N·m]; rows of zeros are ignored.
    demand : array, shape (rows, problems)
        What the balances ask [N·m].
    cost : array, shape (columns,) or (columns, problems)
        Weight c of each drive.
    low, high : array, shape (columns,)
        Bounds of each drive; low is 0, or −high.
    exponent : float or array, shape (problems,)
        Of a drive in the sum that is least, 2 to 3.

    Returns
    -------
    Sharing
        An infeasible problem is flagged; its drives are those of the nearest the bounds allow.

    Raises
    ------
    ValueError
        When shapes disagree, or the exponent lies outside 2 to 3.
    """
    if np.any(exponent < EXPONENTS[0]) or np.any(exponent > EXPONENTS[1]):
        raise ValueError(f"exponent {exponent} must lie from 2 to 3")
    rows, columns, problems = matrix.shape
    exponents = np.broadcast_to(exponent, (problems,))
    fits = low.shape == high.shape == (columns,) and cost.shape in ((columns,), (columns, problems))
    if demand.shape != (rows, problems) or not fits:
        raise ValueError(f"shapes disagree: {matrix.shape}, {demand.shape}, {cost.shape}")
    acts: BoolArray = np.asarray(matrix.any(axis=2))
    order = np.argsort(_side_by_side(acts), kind="stable")
    weights, lowest, highest = cost.reshape(columns, -1)[order], low[order, None], high[order, None]
    spans = tuple(_span(row[order]) for row in acts)
    drives, roots = np.empty((columns, problems)), np.empty((matrix.shape[0], problems))
    feasible = np.zeros(problems, dtype=bool)

    def block_of(part: slice | Index) -> tuple[_Block, Array]:
        power = _common(exponents[part])
        weight = _common(weights if weights.shape[1] == 1 else weights[:, part])
        unit = weight ** (-1 / power)
        rows = tuple(row[:, part][order[s]] for row, s in zip(matrix, spans, strict=True))
        for row, s in zip(rows, spans, strict=True):
            row *= unit[s]
        return _Block(rows, spans, demand[:, part], lowest / unit, highest / unit, power), unit

    def finish(part: Index, begun: Array) -> None:
        block, unit = block_of(part)
        start = np.where(np.isnan(begun), block.first_guess(), begun)
        found, feasible[part] = _damped_newton(block, start)
        drives[order[:, None], part] = found * unit

    for first in range(0, problems, BLOCK):
        part = slice(first, first + BLOCK)
        block, unit = block_of(part)
        found, roots[:, part], feasible[part] = _plain_newton(block)
        drives[order, part] = found * unit
    left = np.flatnonzero(~feasible)
    begun = _of_neighbours(roots, demand, np.flatnonzero(feasible), left)
    for first in range(0, left.size, TAIL_BLOCK):
        part = slice(first, first + TAIL_BLOCK)
        finish(left[part], begun[:, part])
    # What has no solution ends where it happens to: let that hang on the problem alone.
    lost = left[~feasible[left] & ~np.isnan(begun[0])]
    for first in range(0, lost.size, TAIL_BLOCK):
        finish(lost[first : first + TAIL_BLOCK], np.full((1, 1), np.nan))
    return Sharing(drives, feasible)


def _of_neighbours(roots: Array, demand: Array, solved: Index, left: Index) -> Array:
    """Roots of the solved problem beside each that is left, (rows, left); NaN where none like it is near."""
    if not solved.size:
        return np.full((roots.shape[0], left.size), np.nan)
    place = np.searchsorted(solved, left)
    before, after = solved[np.maximum(place - 1, 0)], solved[np.minimum(place, solved.size - 1)]
    beside = np.where(np.abs(left - before) <= np.abs(after - left), before, after)
    apart = np.abs(demand[:, beside] - demand[:, left])
    alike = (apart <= ALIKE * (1 + np.abs(demand[:, left]))).all(axis=0)
    return np.where(alike, roots[:, beside], np.nan)


def _common(values: Array) -> Array:
    """Those of one problem where every problem's, the last axis, are alike, as an array that broadcasts."""
    return values[..., :1] if (values == values[..., :1]).all() else values


def _side_by_side(acts: BoolArray) -> Index:
    """A place for each column such that the columns that act in a row stand nearly side by side."""
    places = np.array([7, 0, 5, 4, 1, 2, 6, 3])
    return np.asarray(places[acts.T @ (1 << np.arange(acts.shape[0]))])


def _span(acts: BoolArray) -> slice:
    """From the first to the last column that acts in a row."""
    acting = np.flatnonzero(acts)
    return slice(int(acting[0]), int(acting[-1]) + 1) if acting.size else slice(0, 1)


@dataclass(frozen=True)
class _Block:
    """Problems solved together, drives in units in which the sum to be least has no weights.

    `spans` is the stretch of columns each row keeps; the bounds are (columns, 1 or problems).
    """

    rows: tuple[Array, ...]
    spans: tuple[slice, ...]
    asked: Array
    low: Array
    high: Array
    exponent: Array

    def only(self, chosen: Index) -> _Block:
        """The block with some of its problems."""
        rows = tuple(np.ascontiguousarray(row[:, chosen]) for row in self.rows)
        block = replace(self, rows=rows, asked=self.asked[:, chosen])
        if self.exponent.size > 1:
            block = replace(block, exponent=self.exponent[chosen])
        if self.low.shape[1] == 1:
            return block
        return replace(block, low=self.low[:, chosen], high=self.high[:, chosen])

    @property
    def squares(self) -> bool:
        """Whether the exponent is 2: a multiplier is then its own root."""
        return self.exponent.size == 1 and bool(self.exponent[0] == EXPONENTS[0])

    def multipliers(self, roots: Array) -> Array:
        """The multipliers λ of roots s, (rows, problems)."""
        return roots if self.squares else np.copysign(np.abs(roots) ** (self.exponent - 1), roots)

    def pull(self, multipliers: Array) -> Array:
        """What multipliers ask of each column, shape (columns, problems)."""
        pull = np.zeros((self.low.shape[0], multipliers.shape[1]))
        np.multiply(multipliers[0], self.rows[0], out=pull[self.spans[0]])
        for multiplier, row, span in zip(multipliers[1:], self.rows[1:], self.spans[1:], strict=True):
            pull[span] += multiplier * row
        return pull

    def root_of(self, pull: Array) -> Array:
        """The drive that a pull calls for, bounds aside."""
        if self.squares:
            return pull
        size = np.abs(pull)
        cubes = self.exponent.size == 1 and self.exponent[0] == EXPONENTS[1]
        size = np.sqrt(size) if cubes else size ** (1 / (self.exponent - 1))
        return np.copysign(size, pull)

    def called(self, roots: Array) -> tuple[Array, Array]:
        """Pull, and the drives it calls for, bounds aside, of roots of the multipliers."""
        pull = self.pull(self.multipliers(roots))
        return pull, self.root_of(pull)

    def within(self, free: Array) -> Array:
        """Drives brought inside their bounds."""
        return np.clip(free, self.low, self.high)

    def gap(self, drive: Array) -> Array:
        """What the balances still lack, shape (rows, problems)."""
        held = [np.einsum("kn,kn->n", row, drive[s]) for row, s in zip(self.rows, self.spans, strict=True)]
        return np.asarray(self.asked - np.stack(held))

    def balanced(self, gap: Array) -> BoolArray:
        """Which problems are balanced to the tolerance."""
        limit = TOLERANCE * (1 + np.abs(self.asked))
        return np.asarray((np.abs(gap) < limit).all(axis=0))

    def step(self, roots: Array, gap: Array, pull: Array, free: Array, damping: Array | float = 0.0) -> Array:
        """A Newton step of the roots, which call for `pull` and `free`, against the gap they leave."""
        if self.squares:
            return self.newton_step(gap, self.off_bounds(free), damping)
        size, power = np.abs(roots), self.exponent - 1
        near = np.copysign(np.maximum(size, LEAST_ROOT), roots)
        small = np.flatnonzero((size < LEAST_ROOT).any(axis=0)).astype(np.intp)
        if small.size:
            pull, free = pull.copy(), free.copy()
            pull[:, small], free[:, small] = self.only(small).called(near[:, small])
        weight = self.off_bounds(free) * free / np.where(pull == 0, 1.0, power * pull)
        return self.newton_step(gap, weight, damping) / (power * np.abs(near) ** (power - 1))

    def off_bounds(self, drive: Array) -> Array:
        """1 for drives off their bounds, else 0."""
        return ((drive > self.low) & (drive < self.high)).astype(float)

    def first_guess(self) -> Array:
        """Roots as if exactly those columns worked that do not oppose the first balance."""
        helps = np.ones((self.low.shape[0], self.asked.shape[1]))
        helps[self.spans[0]] = self.rows[0] * self.asked[0] >= 0
        guess = self.newton_step(self.asked, helps)
        if self.squares:
            return guess
        # The balances again, each drive's power taken as a straight line through the drive of that guess.
        drive, power = self.within(self.pull(guess)), self.exponent - 1
        free = self.off_bounds(drive)
        weight = free / (power * np.maximum(np.abs(drive), LEAST_DRIVE) ** (power - 1))
        found = self.newton_step(self.gap(np.where(free, drive * (1 - 1 / power), drive)), weight)
        return np.copysign(np.abs(found) ** (1 / power), found)

    def spent(self, drive: Array) -> Array:
        """Σ |x|ᵖ / p of each problem."""
        size = np.abs(drive)
        powers = drive * drive if self.squares else size * size * size ** (self.exponent - 2)
        return np.asarray(powers.sum(axis=0) / self.exponent)

    def row_sizes(self) -> Array:
        """Σ a² of each row, over all columns, shape (rows, problems)."""
        return np.stack([np.einsum("kn,kn->n", row, row) + 1e-12 for row in self.rows])

    def newton_step(self, gap: Array, weight: Array, damping: Array | float = 0.0) -> Array:
        """Solve (A W Aᵀ + damping) step = gap for each problem by Cholesky's method, written out.

        `damping` is added to the diagonal, (rows, problems). A row that no free column moves gets a small
        ridge of its own.
        """
        damped = not isinstance(damping, float)
        extra = np.broadcast_to(damping, gap.shape)
        count = len(self.rows)
        factor: list[list[Array]] = []
        half: list[Array] = []
        for i in range(count):
            weighted = self.rows[i] * weight[self.spans[i]]
            line: list[Array] = []
            for j in range(i):
                total = _overlap(weighted, self.spans[i], self.rows[j], self.spans[j])
                for m in range(j):
                    total -= line[m] * factor[j][m]
                line.append(total / factor[j][j])
            square = np.einsum("kn,kn->n", weighted, self.rows[i]) + extra[i]
            ridge = 1e-14 * (1 + square) if damped else 1e-9 * (1 + square)
            for part in line:
                square -= part**2
            line.append(np.sqrt(np.maximum(square, ridge)))
            factor.append(line)
            partial = gap[i] - sum(line[m] * half[m] for m in range(i))
            half.append(partial / line[i])
        step = np.empty_like(gap)
        for i in reversed(range(count)):
            partial = half[i] - sum(factor[m][i] * step[m] for m in range(i + 1, count))
            step[i] = partial / factor[i][i]
        return step


def _overlap(first: Array, first_span: slice, second: Array, second_span: slice) -> Array:
    """Sum of products over the columns that two rows share."""
    start, stop = max(first_span.start, second_span.start), min(first_span.stop, second_span.stop)
    if start >= stop:
        return np.zeros(first.shape[1])
    return np.asarray(
        np.einsum(
            "kn,kn->n",
            first[start - first_span.start : stop - first_span.start],
            second[start - second_span.start : stop - second_span.start],
        )
    )


def _plain_newton(block: _Block) -> tuple[Array, Array, BoolArray]:
    """A few whole Newton steps after a guess: enough for nearly all problems.

    Drives, the roots that call for them, and which problems they balance.
    """
    count = block.asked.shape[1]
    drives, feasible = np.empty((block.low.shape[0], count)), np.zeros(count, dtype=bool)
    roots, all_ = block.first_guess(), np.arange(count)
    ends = np.empty_like(roots)
    open_: slice | Index = slice(None)
    steps = WHOLE_STEPS if block.squares else WHOLE_STEPS_OF_ROOTS
    for left_to_take in reversed(range(steps + 1)):
        pull, free = block.called(roots)
        drive = block.within(free)
        gap = block.gap(drive)
        done = block.balanced(gap)
        if done.any() or not left_to_take:
            drives[:, open_], ends[:, open_], feasible[open_] = drive, roots, done
            if done.all() or not left_to_take:
                break
            still = np.flatnonzero(~done).astype(np.intp)
            open_, block = all_[open_][still], block.only(still)
            roots, gap, pull, free = (part[:, still] for part in (roots, gap, pull, free))
        roots = roots + block.step(roots, gap, pull, free)
    return drives, ends, feasible


def _damped_newton(block: _Block, trial: Array) -> tuple[Array, BoolArray]:
    """Newton's method on the dual, damped after Levenberg and Marquardt where a step does not raise it.

    Damping is relative to the rows' own sizes, problem by problem: it grows where a step fails and shrinks
    where one succeeds. A problem leaves when it balances, or when the dual proves it infeasible.
    """
    count = block.asked.shape[1]
    drives, feasible = np.empty((block.low.shape[0], count)), np.zeros(count, dtype=bool)
    dearest = np.broadcast_to(block.spent(np.maximum(np.abs(block.low), block.high)), (count,))
    open_, sizes = np.arange(count), block.row_sizes()
    base = np.zeros_like(block.asked)
    value, damping = np.full(count, -np.inf), np.full(count, LEAST_DAMPING)
    base_gap, (base_pull, base_free) = block.asked, block.called(base)
    for _ in range(MOST_STEPS):
        pull, free = block.called(trial)
        drive = block.within(free)
        gap = block.gap(drive)
        reached = block.spent(drive) + (block.multipliers(trial) * gap).sum(axis=0)
        done = block.balanced(gap)
        leaves = done | (reached > dearest * (1 + 1e-9))
        if leaves.any():
            drives[:, open_[leaves]], feasible[open_[leaves]] = drive[:, leaves], done[leaves]
            keep = np.flatnonzero(~leaves).astype(np.intp)
            open_, block = open_[keep], block.only(keep)
            trial, pull, free, gap, base, base_gap, base_pull, base_free, sizes = (
                part[:, keep]
                for part in (trial, pull, free, gap, base, base_gap, base_pull, base_free, sizes)
            )
            value, damping, reached = value[keep], damping[keep], reached[keep]
            dearest = dearest[keep]
        if open_.size == 0:
            return drives, feasible
        better = reached > value
        base, base_gap, base_pull, base_free = (
            np.where(better, new, old)
            for new, old in ((trial, base), (gap, base_gap), (pull, base_pull), (free, base_free))
        )
        value = np.where(better, reached, value)
        damping = np.where(
            better, np.maximum(damping / 30, LEAST_DAMPING), np.maximum(damping, FIRST_DAMPING) * 10
        )
        trial = base + block.step(base, base_gap, base_pull, base_free, damping * sizes)
    drives[:, open_] = block.within(base_free)
    return drives, feasible
