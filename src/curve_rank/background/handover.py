"""What was under way at a stop is written down, and the next start goes on with it."""

from __future__ import annotations

import json
import logging
from contextlib import suppress
from dataclasses import asdict
from pathlib import Path

from curve_rank.arm.body import Body
from curve_rank.background.draws import ONESELF, DrawQuestion, Draws
from curve_rank.catalogue.library import validate_variant
from curve_rank.errors import CurveRankError
from curve_rank.rating.modelling import Modeller
from curve_rank.store.safe.private import FILE_MODE

log = logging.getLogger(__name__)

FILE = "curve-rank-unfinished.json"


def hand_over(draws: Draws, folder: Path) -> int:
    """Write down which draws are under way; how many questions."""
    left = draws.unfinished()
    if left:
        partial = folder / f"{FILE}.part"
        try:
            partial.touch(FILE_MODE)
            partial.write_text(json.dumps([_plain(one) for one in left]), encoding="utf-8")
            partial.replace(folder / FILE)
        except OSError as error:  # a page that needs them asks again
            log.warning("what is unfinished could not be written down", extra={"problem": error.strerror})
            return 0
    return len(left)


def take_up(draws: Draws, modeller: Modeller, folder: Path) -> int:
    """Go on with what an earlier stop has left; how many questions."""
    path = folder / FILE
    try:
        found = json.loads(path.read_text(encoding="utf-8"))
        path.unlink()
        if not isinstance(found, list):
            return 0
    except FileNotFoundError:
        return 0
    except (OSError, ValueError):  # damaged: a page that needs them asks again
        with suppress(OSError):
            path.unlink()
        return 0
    begun = 0
    for one in found:
        with suppress(CurveRankError, KeyError, TypeError):
            variants = tuple(validate_variant(document) for document in one["variants"])
            run = draws.fixed(ONESELF, variants, Body(**one["body"]), one["effort"], modeller, one["seed"])
            if run is not None:
                run.patience = None
                begun += 1
    return begun


def _plain(question: DrawQuestion) -> dict[str, object]:
    return {
        "variants": [one.model_dump(mode="json") for one in question.variants],
        "body": asdict(question.body),
        "effort": question.effort,
        "seed": question.seed,
    }
