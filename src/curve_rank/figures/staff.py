"""A block as a staff: time runs to the right, each head is a line, long tension above it and short below."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from curve_rank.figures.shapes import Label, Picture, Rect, Shape, line
from curve_rank.practice.block import Block, Exercise
from curve_rank.practice.facts import Facts
from curve_rank.practice.profile import WEEKDAYS
from curve_rank.rating.targets import targets

LEFT, DAY, GAP, TOP, ROW, HALF = 150, 21, 12, 40, 46, 19.0
BAR = 13


def staff(block: Block, heads: Sequence[str], facts: Mapping[str, Facts], shown: int = -1) -> Picture:
    """The staff of a block.

    Parameters
    ----------
    block : Block
        The weeks.
    heads : sequence of str
        Whose staves are drawn.
    facts : mapping
        What is not in it is passed over.
    shown : int
        The week that is looked at, which is marked; −1 for none.
    """
    placed = [(w, session.day, _placed(session.exercises, heads, facts)) for w, _, session in block.sessions]
    most = max((v for _, _, row in placed for pair in row for v in pair), default=0.0) or 1.0
    week_width = 7 * DAY + GAP
    width, height = LEFT + len(block.weeks) * week_width, TOP + len(heads) * ROW + 4
    shapes: list[Shape] = []
    for w, week in enumerate(block.weeks):
        x = LEFT + w * week_width
        if w == shown:
            shapes.append(Rect("staff-week", x - 4, 0, 7 * DAY + 4, height))
        words = f"Week {w + 1}" + (", easier" if week.easier else "")
        shapes.append(Label("staff-head", x, 13, words))
        for session in week.sessions:
            at = float(x + session.day * DAY)
            shapes.append(Rect("staff-session", at, 20, BAR + 3, height - 20))
            shapes.append(Label("curve-text", at, 33, WEEKDAYS[session.day][:2]))
    for n, head in enumerate(heads):
        y = TOP + n * ROW + HALF + 3
        shapes.append(Label("staff-head", 0, y + 4, targets()[head].name))
        shapes.append(line("staff-line", LEFT - 6, y, width - GAP, y))
        for w, day, row in placed:
            at = LEFT + w * week_width + day * DAY + 1.5
            long, short = (HALF * v / most for v in row[n])
            says = f"{targets()[head].name}, week {w + 1}, {WEEKDAYS[day]}"
            if long > 0.3:
                above = Rect(f"head-{head}", at, y - long, BAR, long, pattern=head, title=f"{says}: long")
                shapes.append(above)
            if short > 0.3:
                shapes.append(Rect(f"head-{head}", at, y, BAR, short, pattern=head, title=f"{says}: short"))
    return Picture(
        role="staff",
        width=width,
        height=height,
        shapes=tuple(shapes),
        label="Tension placed on each head, day by day: while long above its line, while short below; "
        "the table of hard sets says how much.",
        scaled=True,
    )


def _placed(
    exercises: Sequence[Exercise], heads: Sequence[str], facts: Mapping[str, Facts]
) -> list[tuple[float, float]]:
    """Per head, tension while long and while short, over a session's repetitions."""
    rows = []
    for head in heads:
        long = short = 0.0
        for one in exercises:
            fact = facts.get(one.variant)
            if fact is None:
                continue
            reps = one.sets * one.mean_reps
            long += reps * fact.long.get(head, 0.0)
            short += reps * fact.short.get(head, 0.0)
        rows.append((long, short))
    return rows
