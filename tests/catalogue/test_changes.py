"""Changes by dotted path: made, or refused with the reason."""

from __future__ import annotations

import pytest

from curve_rank.catalogue.changes import changed, parse_setting
from curve_rank.catalogue.library import built_in, find_variant
from curve_rank.errors import CurveRankError


@pytest.mark.parametrize(
    "setting",
    [
        "posture.trunk_pitch", "=3", "posture.trunk_pitch=", "posture.nose=3", "path.9.elbow=4",
        "posture.forearm=nan", "posture.forearm=inf", "posture.forearm=1e400", "lines.0.share=-1",
        "id=other", "target=extensors", "schema_version=3", "path.0.elbow=141", "posture.forearm=up",
        "lines.0.kind=cable", "__class__.x=1", "path.x.elbow=3",
    ],
)  # fmt: skip
def test_a_setting_that_cannot_be_is_refused(setting: str) -> None:
    with pytest.raises(CurveRankError) as caught:
        changed(find_variant("standing-dumbbell-curl", built_in()), (parse_setting(setting),))
    assert caught.value.expected
