"""What a lecture shows: each slide worked out as the page is that it was taken from."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

from markupsafe import Markup

from curve_rank.answers.edition import made_now
from curve_rank.answers.leaflets import leaflet_from
from curve_rank.answers.means import Means
from curve_rank.arm.body import Body
from curve_rank.arm.rep_setup import usual_effort
from curve_rank.background.audiences import Question
from curve_rank.errors import BadInputError, CurveRankError
from curve_rank.exchange.paper import on_paper
from curve_rank.exchange.pdf import pdf
from curve_rank.figures.shapes import Picture
from curve_rank.figures.sketched import overlaid, sketched
from curve_rank.figures.strip import strip
from curve_rank.figures.svg import ByColour, svg
from curve_rank.rating.modelling import VariantModel
from curve_rank.rating.targets import known, long_head
from curve_rank.store.database import DbSession
from curve_rank.store.viewers import Viewer
from curve_rank.study.lecture import Lecture, Slide
from curve_rank.study.sketch import LEVEL, PLACES, quiz_of, why_there

NOTHING = Question()


@dataclass(frozen=True)
class ShownSlide:
    """One slide, worked out.

    Attributes
    ----------
    slide : Slide
    title, asks : str
    pictures : tuple of Picture
        On show from the start.
    truth : tuple of Picture
        Shown when the question is answered.
    why : str
        Said then.
    cautions : tuple of str
    question : Question
        For those who listen.
    problem : str
        Why it cannot be shown.
    """

    slide: Slide
    title: str
    asks: str = ""
    pictures: tuple[Picture, ...] = ()
    truth: tuple[Picture, ...] = ()
    why: str = ""
    cautions: tuple[str, ...] = ()
    question: Question = NOTHING
    problem: str = ""


@dataclass(frozen=True)
class LectureAnswer:
    """A lecture, its slides worked out as they are asked for."""

    db: DbSession
    viewer: Viewer
    means: Means
    lecture: Lecture

    def slide(self, n: int) -> ShownSlide:
        """The slide at a place, counted from 0; what cannot be shown says why.

        Raises
        ------
        BadInputError
            For a place that it has not.
        """
        count = len(self.lecture.slides)
        if not 0 <= n < count:
            raise BadInputError("slide", n + 1, f"1 to {count}" if count else "a lecture with slides")
        slide = self.lecture.slides[n]
        try:
            return getattr(self, f"_{slide.kind}")(slide)  # type: ignore[no-any-return]
        except CurveRankError as error:
            return ShownSlide(slide, slide.title or "This cannot be shown", problem=str(error))

    def names(self, n: int) -> str:
        """What a slide shows, where that can be told without working out its page."""
        slide = self.lecture.slides[n]
        if slide.kind in ("words", "page"):
            return ""
        shown = self.slide(n)
        return shown.problem or shown.question.asks

    def sketches(self, n: int, drawn: list[tuple[float, ...]], *, shown: bool) -> Markup:
        """What the room sketched for a slide, laid over each other, and over the truth once it is shown."""
        modelled = known("variant", self.lecture.slides[n].what, self.pool)
        return Markup(svg(overlaid(drawn, modelled if shown else None)))

    @cached_property
    def pool(self) -> dict[str, VariantModel]:
        """Every set-up that can be modelled, by id."""
        effort = usual_effort()
        groups = ("flexors", "extensors")
        return {m.variant.id: m for group in groups for m in self.means.able(group, Body(), effort)}

    def _words(self, slide: Slide) -> ShownSlide:
        return ShownSlide(slide, slide.title)

    def _page(self, slide: Slide) -> ShownSlide:
        found = leaflet_from(self.db, self.viewer, self.means, slide.what)
        first = next(iter(found.pictures.values()), None)
        return ShownSlide(
            slide,
            slide.title or found.title,
            asks=found.asks,
            pictures=(first,) if first else (),
            cautions=found.cautions,
        )

    def _hands(self, slide: Slide) -> ShownSlide:
        quiz = quiz_of(slide.what, self.pool)
        if quiz is None:
            raise BadInputError("question", slide.what, "one that has a clear answer")
        of = f" {quiz.models[0].variant.name}" if len(quiz.models) == 1 else ""
        return ShownSlide(
            slide,
            slide.title or quiz.asks,
            asks=of.strip(),
            truth=tuple(strip(m, long_head(m.variant.group), "large") for m in quiz.models),
            why=f"{quiz.answers[quiz.right]}. {quiz.why}",
            question=Question("hands", f"{quiz.asks}{of}", quiz.answers, quiz.right),
        )

    def _sketch(self, slide: Slide) -> ShownSlide:
        modelled = known("variant", slide.what, self.pool)
        asks = f"Where is it hard? {modelled.variant.name}"
        return ShownSlide(
            slide,
            slide.title or asks,
            asks="Draw what the load asks along the rep, from stretched to short.",
            pictures=(sketched((LEVEL,) * PLACES),),
            truth=(strip(modelled, long_head(modelled.variant.group), "large"),),
            why=why_there(modelled),
            question=Question("sketch", asks, places=PLACES),
        )


def lecture_pdf(answer: LectureAnswer, paper: str = "A4") -> bytes:
    """All slides, a page each."""
    paint = ByColour("light")

    def drawn(pictures: tuple[Picture, ...]) -> list[Markup]:
        return [Markup(svg(one, paint)) for one in pictures]

    slides: list[dict[str, Any]] = []
    for n in range(len(answer.lecture.slides)):
        one = answer.slide(n)
        pictures = drawn(one.truth if one.question.kind != "nothing" else one.pictures)
        slides.append({"shown": one, "pictures": pictures})
    return pdf(
        on_paper("print/lecture", name=answer.lecture.name, slides=slides, made=made_now(), paper=paper)
    )
