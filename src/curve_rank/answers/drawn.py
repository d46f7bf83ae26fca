"""What is drawn once and kept: strips and set-ups, as text that stands in a page."""

from __future__ import annotations

from markupsafe import Markup

from curve_rank.answers.means import Means
from curve_rank.catalogue.schema import Variant
from curve_rank.figures.figure import figure
from curve_rank.figures.strip import strip
from curve_rank.figures.svg import svg
from curve_rank.practice.profile import Hair
from curve_rank.rating.modelling import Modeller, VariantModel
from curve_rank.rating.ranking import Question
from curve_rank.rating.targets import Target


def strip_of(modeller: Modeller, modelled: VariantModel, target: Target, size: str = "row") -> Markup:
    """A rep strip in a page, kept beside the model it is drawn from."""
    # The writer escapes whatever stands in it.
    return modeller.derived(
        modelled, ("strip", target.key, size), lambda: Markup(svg(strip(modelled, target, size)))
    )


def row_picture(means: Means, asked: Question, variant: Variant, hair: Hair) -> Markup:
    """The figure of a set-up that a question ranks."""
    return setup_of(means.modeller, means.modeller.one(variant, asked.body, effort=asked.effort), hair)


def setup_of(modeller: Modeller, modelled: VariantModel, hair: Hair = "short") -> Markup:
    """A set-up's figure in a page, where it is hardest; kept beside its model."""

    def draw() -> Markup:
        return Markup(svg(figure(modelled, only=modelled.hard, hair=hair).at(0)))

    return modeller.derived(modelled, ("set-up picture", hair), draw)
