"""Server time of what a person waits for, against the same work done variant by variant.

Prints the time of one change on the bench (what a page asks for one after the other: the figure at one place,
curves and numbers, the figure's other frames), of a new body's fixed draws on all cores, of one group ranked
cold on one core, and of the same question asked again, each as a median; and the ratio of modelling the
catalogue as one batch to modelling it one variant at a time.
"""

from __future__ import annotations

import argparse
import statistics
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

from curve_rank.arm.body import Body
from curve_rank.background.draws import Draws
from curve_rank.catalogue.library import built_in
from curve_rank.rating.modelling import Modeller, model_variants
from curve_rank.rating.ranking import question, rank
from curve_rank.settings import Settings
from curve_rank.web import create_app

MOVES = "&moving=1&place=0.5"
"""What a page asks for while something moves."""


def median_ms(work: Callable[[], object], rounds: int) -> float:
    """Median time of some work over rounds, after one that is not counted [ms]."""
    work()
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - start))
    return statistics.median(times)


def main(arguments: list[str] | None = None) -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--rounds", type=int, default=15)
    rounds = parser.parse_args(arguments).rounds
    variants = built_in()
    with tempfile.TemporaryDirectory() as folder:
        client = create_app(Settings(data=Path(folder), local_viewer=True)).test_client()
        angle = iter(range(10_000))

        def change(address: str) -> None:
            response = client.get(address)
            assert response.status_code == 200, response.text

        for name, variant, field in (
            ("hand path", "chin-up", "posture.forearm"),
            ("band and weight", "dumbbell-band-curl", "posture.forearm"),
            ("machine", "machine-pad-curl", "posture.forearm"),
            ("straight arm", "dumbbell-pullover", "posture.trunk_pitch"),
            ("free weight", "reclined-60-dumbbell-curl", "posture.trunk_pitch"),
            ("cable", "rope-press-down", "posture.wrist"),
        ):
            steps: list[list[float]] = [[], [], [], []]
            for _ in range(rounds + 1):
                value = next(angle) % 200 / 10 - 40
                asked = (f"{MOVES}&held=10", value), (f"{MOVES}&follows=1", value), ("&frames=1", value)
                for told, (more, at) in zip(steps, (*asked, ("", value + 0.05)), strict=True):
                    start = time.perf_counter()
                    change(f"/bench/{variant}.json?part=bench{more}&set={field}%3D{at:g}")
                    told.append(1000 * (time.perf_counter() - start))
            figure, rest, frames, at_once = (statistics.median(told[1:]) for told in steps)
            print(
                f"bench change, {name:16} {figure:5.1f} ms its figure, {rest:5.1f} the rest, "
                f"{frames:5.1f} its other frames; all at once {at_once:5.1f}"
            )
        client.get("/board.json")  # its draws made
        print(f"board page, asked again            {median_ms(lambda: client.get('/board'), rounds):7.1f} ms")

    asked, warm, desk = question(), Modeller(), Draws()
    flexors = tuple(v for v in variants if v.group == "flexors")
    sizes = iter(range(1000))

    def new_body() -> None:
        body = Body(height=1.6 + next(sizes) / 100, mass=70)
        run = desk.fixed(0, flexors, body, asked.effort, warm)
        assert run is not None
        run.wait()

    print(f"a new body’s draws, {len(flexors)} variants    {median_ms(new_body, 5):7.1f} ms")
    desk.close()
    cold = median_ms(lambda: rank(asked, variants, Modeller()), 3)
    again = median_ms(lambda: rank(asked, variants, warm), rounds)
    print(f"one group ranked, cold             {cold:7.1f} ms")
    print(f"one group ranked, nothing changed  {again:7.1f} ms")
    together = median_ms(lambda: model_variants(variants, Body(), effort=0.75), rounds)
    apart = median_ms(lambda: [model_variants((v,), Body(), effort=0.75) for v in variants], 3)
    print(f"catalogue of {len(variants)} modelled, cold      {together:7.1f} ms")
    print(f"one batch over one by one          1/{apart / together:.1f}")


if __name__ == "__main__":
    main()
