"""What summaries, steps, cues and faults say of a curve, against the curve."""

from __future__ import annotations

import re
from collections.abc import Callable

import numpy as np
import pytest

from curve_rank.arm.body import Body
from curve_rank.arm.readings import Readings
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.catalogue.schema import Variant
from curve_rank.rating.draws import fixed_draws
from curve_rank.rating.modelling import Modeller
from curve_rank.rating.targets import targets

Check = Callable[[Callable[[str], float]], bool]
SAID: tuple[tuple[str, Check], ...] = (
    (r"hardest near straight", lambda r: r("hard_spot") < 40),
    (r"hardest in the first third", lambda r: r("hard_at") <= 1 / 3),
    (r"hard from its start", lambda r: r("demand_stretched") > 0.85),
    (r"hardest past the middle|heaviest at its end", lambda r: r("hard_at") > 0.5),
    (r"hardest (when the muscle is short|at lockout|near the top)", lambda r: r("hard_at") > 2 / 3),
    (
        r"(top|it|finish) (stays|is|keeps?) (loaded|hard)|still loaded|top kept loaded|degrees are loaded"
        r"|no (rest|slack) at the top|removes the rest|(pulling|pulls|load stays) at the top|still pulls",
        lambda r: r("demand_short") >= 0.25,
    ),
    (
        r"[^o] slack at the top|nothing left at the top|asks little|light at lockout|last degrees are"
        r" light|light as the last|little left when",
        lambda r: r("demand_short") < 0.25,
    ),
    (r"slack at the bottom(?<!never slack at the bottom)", lambda r: r("demand_stretched") < 0.2),
    (r"never slack at the bottom", lambda r: r("demand_stretched") >= 0.2),
    (r"no resting place|no slack at either end", lambda r: r("slack_share") < 0.1),
)  # fmt: skip


def texts(variant: Variant) -> tuple[str, ...]:
    faults = (words for fault in variant.faults for words in (fault.name, fault.cue))
    return (variant.summary, *variant.setup, *variant.cues, *faults)


@pytest.fixture(scope="module")
def drawn(modeller: Modeller) -> dict[str, Readings]:
    found = {}
    for group in ("flexors", "extensors"):
        variants = tuple(v for v in built_in() if v.group == group)
        made = fixed_draws(variants, Body(), 0.75, modeller)
        found |= {v.id: one for v, one in zip(variants, made, strict=True)}
    return found


def read(drawn: Readings) -> Callable[[str], float]:
    return lambda name: float(np.median(getattr(drawn, name)))


def test_no_text_contradicts_its_curve(drawn: dict[str, Readings]) -> None:
    wrong, met = [], dict.fromkeys((pattern for pattern, _ in SAID), 0)
    for variant in built_in():
        for text in texts(variant):
            for pattern, holds in SAID:
                if re.search(pattern, text, re.IGNORECASE):
                    met[pattern] += 1
                    if not holds(read(drawn[variant.id])):
                        wrong.append((variant.id, text))
    assert wrong == []
    assert all(met.values()), [pattern for pattern, count in met.items() if not count]


def test_what_is_said_beside_another_is_so_beside_it(drawn: dict[str, Readings], modeller: Modeller) -> None:
    def of(name: str) -> Callable[[str], float]:
        return read(drawn[name])

    def share(name: str, heads: tuple[str, ...]) -> float:
        anatomy = modeller.one(find_variant(name, built_in()), Body(), effort=0.75).anatomy
        return float(np.median(sum(drawn[name].work_share[anatomy.index(head)] for head in heads)))

    curl, down = "standing-dumbbell-curl", "palm-down-dumbbell-curl"
    biceps = targets()["biceps"].heads
    assert 0.35 < share(down, biceps) / share(curl, biceps) < 0.65  # about half as much
    assert share(down, ("brachialis",)) == max(share(down, (h,)) for h in targets()["flexors"].heads)
    assert of(down)("load") / of(curl)("load") == pytest.approx(2 / 3, abs=0.07)
    assert of("low-cable-lean-curl")("demand_short") > of("low-cable-bar-curl")("demand_short")
    assert (
        of("lying-arms-back-angled-bar")("demand_short")
        > of("lying-upright-angled-bar")("demand_short") + 0.2
    )
    assert of("dumbbell-band-curl")("demand_short") == pytest.approx(of(curl)("demand_short"), abs=0.06)
    assert of("pad-60-angled-bar-curl")("hard_at") > of("pad-45-angled-bar-curl")("hard_at")
    assert of("chest-down-dumbbell-curl")("hard_at") > of(curl)("hard_at")
