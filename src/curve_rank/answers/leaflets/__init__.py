"""What leaves the house of each answer: page, paper, picture and table are all written from its leaflet."""

from curve_rank.answers.leaflets.claimed import a_claim
from curve_rank.answers.leaflets.pages import leaflet_from
from curve_rank.answers.leaflets.ranked import a_set, priced_faults, ranking
from curve_rank.answers.leaflets.studied import a_plate, a_study, a_variant, comparison, steps

__all__ = [
    "a_claim",
    "a_plate",
    "a_set",
    "a_study",
    "a_variant",
    "comparison",
    "leaflet_from",
    "priced_faults",
    "ranking",
    "steps",
]
