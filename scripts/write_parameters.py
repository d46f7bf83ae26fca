"""Writes the table of every number of the model at the end of docs/model.md, from the parameter file."""

from __future__ import annotations

from pathlib import Path

from curve_rank.arm.parameters import Parameter, parameter_set

MODEL = Path(__file__).parent.parent / "docs" / "model.md"
BEGINS = "## Every number\n"


def table() -> str:
    """Sources by number, and a line for every parameter."""
    parameters = parameter_set()
    cited = [key for key, _ in parameters.sources if key not in ("fitted", "definition")]
    places = {key: str(n) for n, key in enumerate(cited, start=1)} | {"fitted": "fitted", "definition": "—"}
    named = dict(parameters.sources)
    lines = [BEGINS, *(f"{n}. {named[key]}." for n, key in enumerate(cited, start=1)), ""]
    lines += ["| Number | Value | Unit | Spread | Source |", "|---|---|---|---|---|"]
    lines += [_line(one, places) for one in parameters]
    return "\n".join(lines) + "\n"


def _line(one: Parameter, places: dict[str, str]) -> str:
    spread = (
        "" if not one.spread else f"{one.spread:g}" if one.spread_is_absolute else f"{100 * one.spread:g} %"
    )
    value = ", ".join(f"{number:g}" for number in one.value)
    return f"| `{one.key}` | {value} | {one.unit} | {spread} | {', '.join(places[s] for s in one.sources)} |"


def with_table(text: str) -> str:
    """The document with its table as it should be."""
    return text.partition(BEGINS)[0].rstrip() + "\n\n" + table()


if __name__ == "__main__":
    MODEL.write_text(with_table(MODEL.read_text(encoding="utf-8")), encoding="utf-8")
