"""Settings from the environment: typed, checked, and told by the variable's name."""

from __future__ import annotations

from pathlib import Path

import pytest

from curve_rank.errors import BadInputError
from curve_rank.settings import read_settings


def test_what_is_given_wins_over_the_environment_and_that_over_the_users_folder(
    monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "home"))
    monkeypatch.delenv("CURVE_RANK_DATA", raising=False)
    assert read_settings().data == tmp_path / "home" / "curve-rank"
    monkeypatch.setenv("CURVE_RANK_DATA", str(tmp_path / "named"))
    assert read_settings().data == tmp_path / "named"
    assert read_settings(data=tmp_path / "given").data == tmp_path / "given"


def test_switches_and_addresses_are_read(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("CURVE_RANK_HTTPS", "1")
    monkeypatch.setenv("CURVE_RANK_SCHEDULER", "tcp://127.0.0.1:8786")
    found = read_settings()
    assert (found.https, found.patterns, found.scheduler) == (True, False, "tcp://127.0.0.1:8786")


def test_nonsense_is_told_by_the_variables_name(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("CURVE_RANK_HTTPS", "perhaps")
    with pytest.raises(BadInputError, match="CURVE_RANK_HTTPS: 'perhaps'"):
        read_settings()
