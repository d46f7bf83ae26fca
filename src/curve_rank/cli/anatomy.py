"""`curve-rank anatomy`: lengths and moment arms of every head over a sweep of one joint."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from curve_rank.arm.arrays import DEGREE, Array
from curve_rank.arm.muscle import default_anatomy, head_geometry
from curve_rank.arm.ranges import ELBOW_RANGE, FOREARM_RANGE, SHOULDER_REACHED
from curve_rank.errors import BadInputError

JOINTS = {"elbow": ELBOW_RANGE, "shoulder": SHOULDER_REACHED, "forearm": FOREARM_RANGE}
MOST_ANGLES = 2000


def sweep(name: str, text: str) -> Array:
    """Angles from "30" or "from:to:step", ends included.

    Raises
    ------
    BadInputError
    """
    low, high = JOINTS[name]
    wanted = f"an angle, or from:to:step, inside {low:g} to {high:g} degrees"
    try:
        numbers = [float(part) for part in text.split(":")]
    except ValueError as error:
        raise BadInputError(f"--{name}", text, wanted) from error
    if len(numbers) not in (1, 3) or not all(math.isfinite(n) for n in numbers):
        raise BadInputError(f"--{name}", text, wanted)
    start, end, step = numbers if len(numbers) == 3 else (numbers[0], numbers[0], 1.0)
    if step == 0 or (end - start) / step < 0 or (end - start) / step > MOST_ANGLES:
        raise BadInputError(f"--{name}", text, f"a step towards the end, at most {MOST_ANGLES} angles")
    angles = start + step * np.arange(math.floor((end - start) / step + 1e-9) + 1)
    if angles.min() < low or angles.max() > high:
        raise BadInputError(f"--{name}", text, wanted)
    return np.asarray(angles)


def anatomy_view(elbow: Array, shoulder: Array, forearm: Array) -> dict[str, Any]:
    """Per head: moment arm about the swept joint, length change from the first angle, length.

    `virtual_work_error_mm` is the largest difference between the length change and the moment arm's
    integral, taken over a fine grid: the check that lengths and arms are one.
    """
    angles = {"elbow": elbow, "shoulder": shoulder, "forearm": forearm}
    swept = [name for name, values in angles.items() if values.size > 1]
    if len(swept) > 1:
        raise BadInputError(f"--{swept[1]}", "a sweep", f"one angle, as --{swept[0]} is already swept")
    joint = swept[0] if swept else "elbow"
    at = angles[joint]
    geometry = _geometry(angles, joint, at)
    arm = getattr(geometry, f"{joint}_moment_arm")
    anatomy = default_anatomy()
    fine = np.linspace(at[0], at[-1], max(2, int(20 * abs(at[-1] - at[0])) + 1))
    fine_geometry = _geometry(angles, joint, fine)
    work = np.trapezoid(getattr(fine_geometry, f"{joint}_moment_arm"), fine * DEGREE, axis=1)
    lost = fine_geometry.shortening[:, -1] - fine_geometry.shortening[:, 0]
    return {
        "joint": joint,
        "angles_deg": np.round(at, 6).tolist(),
        "held_deg": {name: float(values[0]) for name, values in angles.items() if name != joint},
        "heads": {
            key: {
                "moment_arm_mm": np.round(1000 * arm[i], 4).tolist(),
                "length_change_mm": np.round(
                    1000 * (geometry.shortening[i, 0] - geometry.shortening[i]) + 0.0, 4
                ).tolist(),
                "length_norm": np.round(geometry.length[i], 5).tolist(),
                "length_pct": np.round(geometry.percent[i], 3).tolist(),
                "virtual_work_error_mm": float(f"{abs(1000 * (work[i] - lost[i])):.2e}"),
            }
            for i, key in enumerate(anatomy.keys)
        },
    }


def _geometry(angles: dict[str, Array], joint: str, at: Array) -> Any:
    full = {name: at if name == joint else np.full(at.size, values[0]) for name, values in angles.items()}
    return head_geometry(default_anatomy(), abduction=np.zeros(at.size), **full)
