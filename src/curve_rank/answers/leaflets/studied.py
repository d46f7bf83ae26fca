"""Leaflets of what is studied: a set-up on the bench, a variant, some side by side, a series, a head."""

from __future__ import annotations

from curve_rank.answers.bench import BenchView
from curve_rank.answers.compare import CompareAnswer
from curve_rank.answers.heads import HeadAnswer, plates_of
from curve_rank.answers.leaflets.parts import MEDIANS, cautions_of, for_whom, leaflet, not_told
from curve_rank.answers.plain import plain
from curve_rank.answers.series import SeriesAnswer
from curve_rank.answers.variants import VariantAnswer
from curve_rank.catalogue.controls import controls
from curve_rank.exchange.json_views import model_view
from curve_rank.exchange.leaflet import Leaflet
from curve_rank.exchange.tables import Table, comparison_table, rep_table, series_table
from curve_rank.figures.arm_plate import VIEWS
from curve_rank.figures.curves import curves
from curve_rank.figures.figure import figure
from curve_rank.figures.overlay import LETTERS
from curve_rank.figures.strip import strip
from curve_rank.rating.words import in_a_row, load_words, lower_first, the

PLAIN = (
    "Plain values of the middle arm; boards and comparisons print medians of 64 arms with their intervals."
)


def comparison(answer: CompareAnswer) -> Leaflet:
    """A comparison as it stands."""
    asked, names = answer.asked, [one.name for one in answer.variants]
    lettered = {f"curves-{n}": one for n, one in enumerate(answer.overlay.pictures, 1)}
    return leaflet(
        "comparison",
        " against ".join(names),
        plain(answer),
        asks=(
            f"{in_a_row([f'{one.letter} {one.name}' for one in answer.variants])} side by side, for"
            f" {the(asked.target)} by {asked.lens.name.lower()}, {for_whom(asked.client, asked.reps)}"
        ),
        holds=f"{len(names)} set-ups, {len(answer.readings)} readings.",
        told=(
            MEDIANS,
            "A difference whose interval spans zero is too close to call.",
            asked.client.of_strength,
        ),
        cautions=cautions_of(zip((o.letter for o in answer.variants), answer.cautions, strict=True)),
        table=comparison_table(names, answer.readings, as_printed=True),
        pictures=lettered | {f"strip-{one.letter.lower()}": one.strip for one in answer.variants},
        answer=answer,
        figures=[one.figure.at(one.hard) for one in answer.variants],
    )


def steps(answer: SeriesAnswer) -> Leaflet:
    """A series as it stands."""
    asked = answer.asked
    told = [(one.name, one.spread, one.problem) for one in answer.steps]
    return leaflet(
        "series",
        f"{asked.variant.name}: {asked.name.lower()} in steps",
        plain(answer),
        asks=(
            f"{answer.name} of {the(asked.target)} while {lower_first(asked.label)} of the"
            f" {lower_first(asked.variant.name)} goes through {len(told)} steps,"
            f" {for_whom(asked.client, asked.reps)}"
        ),
        holds=f"{len(told)} steps, {sum(one.spread is None for one in answer.steps)} of which cannot be.",
        told=(MEDIANS, asked.client.of_strength),
        table=series_table(asked.label, asked.reading, told, digits=asked.reading.digits),
        pictures={"thread": answer.thread}
        | {f"strip-{n}": one.strip for n, one in enumerate(answer.steps, 1) if one.strip is not None},
        answer=answer,
    )


def a_plate(answer: HeadAnswer) -> Leaflet:
    """A head's plate and its map as it stands."""
    plates = plates_of(answer.asked, lambda _: "")
    joint, angle = answer.held
    script = answer.as_script()
    walks = [f"{x} {one.name}" for x, one in zip(LETTERS.upper(), answer.asked.variants, strict=False)]
    over = f" Over it from the stretched end to the short: {in_a_row(walks)}." if walks else ""
    titles = ("Elbow [°]", f"{script['across'].capitalize()} [°]", f"{script['name']} [{script['unit']}]")
    rows = [
        (round(elbow, 1), round(other, 1), round(script["values"][j][i], 2))
        for i, elbow in enumerate(script["elbow"])
        for j, other in enumerate(script["other"])
    ]
    return leaflet(
        "plate",
        answer.head.name,
        plain(answer),
        asks=(
            f"{script['name']} of the {lower_first(answer.head.name)} over elbow and {script['across']},"
            f" {joint} held at {angle:.0f}°, for the default body.{over}"
        ),
        holds=f"{len(rows)} places of the map.",
        told=not_told(answer.cannot_tell),
        table=Table(titles, tuple(rows)),
        pictures={"map": answer.map} | plates,
        answer=answer,
        plates={VIEWS[view]: one for view, one in plates.items()},
        letters=LETTERS.upper(),
    )


def a_variant(answer: VariantAnswer) -> Leaflet:
    """A variant as it stands."""
    drawn = strip(answer.modelled, answer.target, "large")
    figures = answer.figures(whole=False)
    graph = curves(answer.modelled).picture
    rows: list[tuple[float | str, ...]] = [
        (one.name, *(round(v, one.digits) for v in (one.value, one.low, one.high)), one.unit)
        for one in answer.intervals
    ]
    return leaflet(
        "variant",
        answer.variant.name,
        plain(answer),
        asks=(
            f"What the {lower_first(answer.variant.name)} does for {the(answer.target)} by"
            f" {answer.lens.name.lower()}, {for_whom(answer.client, answer.reps)}"
        ),
        holds=f"{len(rows)} readings, {len(answer.variant.setup)} steps.",
        told=(
            MEDIANS,
            answer.reported,
            answer.client.of_strength,
            *not_told(answer.cannot_tell),
        ),
        cautions=cautions_of([("", answer.cautions)]),
        table=Table(("Reading", "Median", "Low", "High", "Unit"), tuple(rows)),
        pictures={"figure": figures["hard spot"], "strip": drawn, "curves": graph},
        view=answer,
        strip=drawn,
        figures=figures,
        curves=graph,
    )


def a_study(view: BenchView) -> Leaflet:
    """A set-up as it stands on the bench, with what was changed and what is done wrong."""
    state, m = view.state, view.modelled
    moved = {change.field for change in state.changes}
    changes = [f"{one.name.lower()} {one.words(one.shown)}" for one in controls(state.by_hand)
               if one.field in moved]  # fmt: skip
    wrong = [f.name.lower() for f in state.means.library.faults_of(state.saved) if f.key in state.faults]
    done = f", done wrong: {in_a_row(wrong)}" if wrong else ", as it should be done"
    shown = figure(m, state.view, hair=state.client.hair).at(m.hard, whole=state.frame == "whole")
    graph, drawn = view.curves.picture, strip(m, state.target, "large")
    return leaflet(
        "study",
        m.variant.name,
        plain(model_view(m)),
        asks=(
            f"{m.variant.name}{', with ' + in_a_row(changes) if changes else ''}{done}, {load_words(m)},"
            f" plain; for {the(state.target)}, {for_whom(state.client, state.reps)}"
        ),
        holds=f"{m.along('angle').size} places of the rep.",
        told=(PLAIN, view.price, view.in_time),
        cautions=cautions_of([("", view.cautions)]),
        table=rep_table(m),
        pictures={"figure": shown, "strip": drawn, "curves": graph},
        view=view,
        figure=shown,
        strip=drawn,
        curves=graph,
        limit=view.limit,
    )
