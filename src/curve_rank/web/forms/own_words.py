"""The words of a variant of one's own, as they are typed."""

from __future__ import annotations

from curve_rank.answers.requests import Names, RequestForm
from curve_rank.catalogue.library import validate_variant
from curve_rank.catalogue.schema import Fault, Variant
from curve_rank.errors import BadInputError


class OwnWordsForm(RequestForm):
    """Name, summary, steps and cues, a line each; what is taken of the parent's; faults and cautions."""

    name: str = ""
    also: str = ""
    summary: str = ""
    setup: str = ""
    cues: str = ""
    take_setup: Names = ()
    take_cues: Names = ()
    cautions: Names = ()
    fault: tuple[str, ...] = ()
    fault_name: tuple[str, ...] = ()
    fault_cue: tuple[str, ...] = ()
    drop: Names = ()
    at: str = ""

    @classmethod
    def of(cls, variant: Variant) -> OwnWordsForm:
        """What would be typed for a variant as it is."""
        return cls(
            name=variant.name,
            also=", ".join(variant.also_called),
            summary=variant.summary,
            setup="\n".join(variant.setup),
            cues="\n".join(variant.cues),
            cautions=variant.cautions,
            fault=tuple(one.key for one in variant.faults),
            fault_name=tuple(one.name for one in variant.faults),
            fault_cue=tuple(one.cue for one in variant.faults),
        )

    def said_of(self, fault: Fault) -> tuple[str, str]:
        """What is typed as a fault's name and cue; its own where nothing is."""
        typed = dict(zip(self.fault, zip(self.fault_name, self.fault_cue, strict=False), strict=False))
        return typed.get(fault.key, (fault.name, fault.cue))

    def of_variant(self, variant: Variant) -> Variant:
        """The variant with these words.

        Raises
        ------
        BadInputError
            Naming the field, what stood there and what would be right.
        """
        if not len(self.fault) == len(self.fault_name) == len(self.fault_cue):
            raise BadInputError("faults", len(self.fault_name), "a name and a cue for each")
        data = variant.model_dump(mode="json", by_alias=True) | {
            "name": self.name,
            "also_called": [one.strip() for one in self.also.split(",") if one.strip()],
            "summary": self.summary,
            "setup": [*_lines(self.setup), *self.take_setup],
            "cues": [*_lines(self.cues), *self.take_cues],
            "cautions": list(self.cautions),
            "faults": [
                one.model_dump(mode="json") | dict(zip(("name", "cue"), self.said_of(one), strict=True))
                for one in variant.faults
                if one.key not in self.drop
            ],
        }
        return validate_variant(data)


def _lines(text: str) -> list[str]:
    return [line.strip() for line in text.splitlines() if line.strip()]
