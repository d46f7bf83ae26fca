"""What differs between two states of a document is all said, and nothing else."""

from __future__ import annotations

from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.exchange.differences import differences

CURL = find_variant("low-cable-bar-curl", built_in())


def test_every_field_that_differs_is_said_once_as_the_bench_names_it() -> None:
    here = CURL.model_dump(mode="json")
    there = CURL.model_dump(mode="json")
    assert differences(here, there, CURL) == ()
    there["lines"][0]["up"] = 1.25
    there["setup"] = [*here["setup"][:1], "Something else."]
    there["guide"]["reps_to"] = 30
    del there["faults"][0]
    found = {one.field: (one.here, one.there) for one in differences(here, there, CURL)}
    assert found["Pulley height"] == ("0.1 m", "1.25 m")
    assert found["Setup"] == (" · ".join(here["setup"][1:]), "Something else.")
    assert found["Guide, reps to"][1] == "30"
    assert any("drifts" in one[0] for field, one in found.items() if field.startswith("Faults"))


def test_an_order_that_differs_and_what_is_missing_are_said_too() -> None:
    (one,) = differences({"cues": ["a", "b"]}, {"cues": ["b", "a"]})
    assert (one.here, one.there) == ("a · b", "b · a")
    (one,) = differences({"weights": {"evenness": 3.5}}, {"weights": {}})
    assert (one.field, one.here, one.there) == ("Weights, evenness", "3.5", "–")
