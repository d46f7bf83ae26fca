"""The calendar, read by another parser, across a change to summer time."""

from __future__ import annotations

from datetime import date, timedelta

import vobject

from curve_rank.exchange.calendar import calendar
from curve_rank.practice.block import checked
from curve_rank.practice.profile import ClientProfile
from tests.training.quick import planner

ONE = {"variant": "standing-dumbbell-curl"}


def test_sessions_stand_at_their_own_hour_before_and_after_summer_time() -> None:
    block = checked(
        {
            "name": "Spring; arms, “and more”",
            "targets": ("biceps_long",),
            "weeks": [{"sessions": [{"day": 2, "exercises": [ONE]}, {"day": 6, "exercises": [ONE]}]}] * 2,
            "start": date(2026, 3, 23),  # clocks go forward on Sunday 29 March
        }
    )
    profile = ClientProfile(zone="Europe/London", at="07:30")
    text = calendar(block, planner(profile).context(), {}, key="block-1").decode()
    events = vobject.readOne(text).vevent_list
    assert [str(e.dtstart.value.date()) for e in events] == [
        "2026-03-25",
        "2026-03-29",
        "2026-04-01",
        "2026-04-05",
    ]
    assert {e.dtstart.value.strftime("%H:%M") for e in events} == {"07:30"}
    offsets = [e.dtstart.value.utcoffset() for e in events]
    assert offsets == [timedelta(0), timedelta(hours=1), timedelta(hours=1), timedelta(hours=1)]
    assert len({e.uid.value for e in events}) == 4
    assert "Spring; arms" in events[0].summary.value
    assert "kg ×" in events[0].description.value
    assert all(timedelta(minutes=5) < e.dtend.value - e.dtstart.value < timedelta(hours=1) for e in events)
    assert all(len(line.encode()) <= 75 for line in text.split("\r\n"))
