"""Write what the model is held against, and how it stands: a page of the guide, with a picture.

python -m scripts.write_validation
"""

from __future__ import annotations

from pathlib import Path

from curve_rank.arm.parameters import parameter_set
from curve_rank.figures.ladder import Rung, ladder
from curve_rank.figures.palette import palette
from curve_rank.figures.svg import ByColour, svg
from curve_rank.interface.here import means
from curve_rank.study.proving import Proof, proofs
from curve_rank.study.proving_apart import proofs_apart
from curve_rank.training.proving import learning_proofs

ROOT = Path(__file__).parents[1]
PAGE = ROOT / "src" / "curve_rank" / "web" / "guide" / "validation.md"
PICTURE = ROOT / "docs" / "screenshots" / "validation.svg"
GROUPS = {
    "strength": (
        "Strength",
        "The default body, a trained man of 1.78 m and 80 kg, against published ranges.",
    ),
    "order": ("Orders", "What anatomy, mechanics and training ask to fall from one set-up to the next."),
    "place": ("Places", "Where a rep is hardest, and where it is slack."),
    "load": (
        "Loads",
        "Same-effort loads, medians of 64 drawn arms, over one hand’s strict standing dumbbell curl or"
        " another lift.",
    ),
    "solver": ("Sharing", "How heads share a load, beside a solver that knows nothing of arms."),
    "draws": ("Draws", "Whether an interval holds as often as it says."),
    "learning": (
        "Learning",
        "What is learned of a log, of simulated lifters: arms of the model’s spreads, each with a strength"
        " and a skill of their own, whose days scatter and who misjudge what is left.",
    ),
    "training": (
        "Training",
        "What each lens foretells of published comparisons. A lens may fail: it is a school, no physics.",
    ),
}
SHORT = {
    ", arm at the side": "",
    ", palm up, a straight bar": "",
    "elbow angle of the largest moment": "its angle",
    "Turning the palm": "Palm",
    "Flexion at 90° with the ": "Flexion, ",
    ", elbow 90°": "",
}
CAPTION = (
    "Where the model stands in each published range of strength: 0 its low end, 1 its high end; a dot outside"
    " the line fails"
)
NOT_RUN = (
    "What is not on this page: measured moment arms of single heads, from which the model’s own are taken, so"
    " that they prove nothing. `python -m benchmarks.lifters` runs more and odder simulated lifters."
)


def table(found: list[Proof]) -> list[str]:
    """Rows of a table in Markdown."""
    lines = ["| | What is looked at | Expected | By | The model |", "|---|---|---|---|---|"]
    for one in found:
        why = f" ({one.miss})" if one.miss else ""
        lines.append(
            f"| {'✓' if one.holds else '✗'} | {one.asks} | {one.expected} | {one.source} | {one.found}{why} |"
        )
    return lines


def page(every: tuple[Proof, ...]) -> str:
    """The page: what fails first."""
    failed = [one for one in every if not one.holds]
    lines = [
        "# What the model is held against",
        "",
        f"{len(every) - len(failed)} of {len(every)} checks hold, by edition `{parameter_set().fingerprint}`"
        " of the numbers. `make validation` works all of it out anew.",
        "",
        "## What does not hold",
        "",
        *(table(failed) if failed else ["Everything here holds."]),
        "",
        f"![{CAPTION}](../screenshots/validation.svg)",
    ]
    for key, (title, words) in GROUPS.items():
        lines += ["", f"## {title}", "", words, "", *table([one for one in every if one.group == key])]
    return "\n".join([*lines, "", NOT_RUN, ""])


def _short(text: str) -> str:
    for long, short in SHORT.items():
        text = text.replace(long, short)
    return text


def picture(every: tuple[Proof, ...]) -> str:
    """Every range of strength on one scale, with where the model stands."""
    rungs = [
        Rung(_short(one.asks), one.place, 0.0, 1.0, one.found)
        for one in every
        if one.group == "strength" and one.place is not None
    ]
    made = ladder(rungs, "Place in the published range: 0 low end, 1 high end", (-0.2, 1.2))
    paper = (
        f'<rect width="{made.width:g}" height="{made.height:g}" fill="{palette().colour("paper", "light")}"/>'
    )
    return svg(made, ByColour("light")).replace("><", f">{paper}<", 1)


def main() -> None:
    """Write both files."""
    modeller = means().modeller
    every = (*proofs(modeller), *proofs_apart(modeller), *learning_proofs())
    PAGE.write_text(page(every), encoding="utf-8")
    PICTURE.write_text(picture(every), encoding="utf-8")
    failed = sum(not one.holds for one in every)
    print(f"{PAGE.relative_to(ROOT)}: {len(every)} checks, {failed} do not hold")


if __name__ == "__main__":
    main()
