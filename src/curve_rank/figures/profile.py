"""A machine's profile: torque over the elbow's angle, with its interval, its samples, and friction apart."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from curve_rank.catalogue.profiles import MachineProfile
from curve_rank.figures.curves import nice_ticks
from curve_rank.figures.shapes import Label, Path, Picture, Shape, kept_apart, line, scale_line, true_minus
from curve_rank.measure.profile import Profile

LISTS = ("angle", "torque", "low", "high", "friction")
WIDTH, HEIGHT, LEFT, RIGHT, TOP, FOOT = 640, 230, 44, 96, 24, 40
MOST_DOTS, TICK = 600, 20
NAME_SPACE = 13.0
TITLE = "Moment that the machine asks [N·m]"


def profile_picture(
    profile: Profile | MachineProfile,
    samples: tuple[Sequence[float], Sequence[float]] = ((), ()),
    group: str = "flexors",
) -> Picture:
    """A profile on its paper.

    Parameters
    ----------
    profile : Profile or MachineProfile
        The smooth curve with its interval, and its friction where that was told apart.
    samples : pair of sequence of float
        Angles and torques of single samples; so many that they would cover each other are thinned.
    group : str
        Whose lifting it is: flexors lift while the elbow bends.
    """
    lists: list[list[float]] = [np.asarray(getattr(profile, name), dtype=float).tolist() for name in LISTS]
    angle, torque, low, high, friction = lists
    friction = friction if any(friction) else []
    dots = tuple(np.asarray(values, dtype=float)[:: max(1, len(values) // MOST_DOTS)] for values in samples)
    every = np.concatenate((np.asarray(low), np.asarray(high), dots[1]))
    down = nice_ticks(min(0.0, float(every.min())), float(every.max()))
    across = (min(angle), max(angle))
    ticks = [tick for tick in range(0, 181, TICK) if across[0] - 1 <= tick <= across[1] + 1]
    right, base = WIDTH - RIGHT, TOP + HEIGHT

    def x(value: float) -> float:
        return LEFT + (right - LEFT) * (value - across[0]) / (across[-1] - across[0])

    def y(value: float) -> float:
        return TOP + HEIGHT * (1 - (value - down[0]) / (down[-1] - down[0]))

    def points(values: list[float]) -> list[str]:
        return [f"{x(a):.1f} {y(v):.1f}" for a, v in zip(angle, values, strict=True)]

    shapes: list[Shape] = [Label("curve-title", LEFT, TOP - 9, TITLE)]
    for tick in down:
        shapes += scale_line(tick, y(tick), LEFT, right)
    for tick in ticks:
        shapes.append(line("curve-domain", x(tick), base, x(tick), base + 4))
        shapes.append(Label("curve-text", x(tick), base + 16, true_minus(f"{tick:g}"), "middle"))
    shapes.append(line("curve-domain", LEFT, base, right, base))
    shapes.append(Label("curve-text", (LEFT + right) / 2, base + 31, "elbow angle [°]", "middle"))
    if dots[0].size:
        spots = "".join(
            f"M{x(a):.1f} {y(t):.1f}h.01" for a, t in zip(dots[0].tolist(), dots[1].tolist(), strict=True)
        )
        shapes.append(Path("profile-sample", spots))
    shapes.append(Path("profile-interval", "M" + "L".join(points(high) + points(low)[::-1]) + "Z"))
    named = [("profile-line", "between" if len(friction) else "profile", torque)]
    if len(friction):
        bends, straightens = ("lifting", "lowering") if group == "flexors" else ("lowering", "lifting")
        named += [
            ("column-b", bends, [t + f for t, f in zip(torque, friction, strict=True)]),
            ("column-c", straightens, [t - f for t, f in zip(torque, friction, strict=True)]),
        ]
    ends: list[tuple[float, str]] = []
    for role, name, values in named:
        shapes.append(Path(role, "M" + "L".join(points(values))))
        ends.append((y(values[-1]), name))
    ends.sort()
    for height, (_, name) in zip(kept_apart([y for y, _ in ends], NAME_SPACE), ends, strict=True):
        shapes.append(Label("curve-name", x(angle[-1]) + 7, height + 4, name))
    return Picture(
        role="profile",
        width=WIDTH,
        height=base + FOOT,
        shapes=tuple(shapes),
        label="What the machine asks over the elbow’s angle; the numbers stand in the table below.",
        scaled=True,
    )
