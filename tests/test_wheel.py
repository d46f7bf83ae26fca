"""The wheel holds all that is needed: installed alone, it serves the demo from anywhere."""

from __future__ import annotations

import shutil
import subprocess
import sys
import zipfile
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
SERVED = """
import sys
from pathlib import Path
from curve_rank.settings import Settings
from curve_rank.web import create_app
import curve_rank
assert curve_rank.__file__.startswith(sys.argv[1]), curve_rank.__file__
app = create_app(Settings(data=Path(sys.argv[2]), local_viewer=True))
client = app.test_client()
picture = app.static_url_path + "/screenshots/board.png"
for address in ("/bench/chin-up", "/heads/biceps_long", "/guide/educator", "/glossary", "/readyz", picture):
    assert client.get(address).status_code == 200, address
"""


@pytest.fixture(scope="module")
def installed(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """Built in a copy of the tree, as setting up leaves nothing in it; unpacked, as it installs."""
    copy = tmp_path_factory.mktemp("tree")
    for name in ("pyproject.toml", "README.md", "LICENSE"):
        shutil.copy(ROOT / name, copy)
    for name in ("src", "docs"):
        shutil.copytree(ROOT / name, copy / name, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
    build = [
        sys.executable,
        "-m",
        "pip",
        "wheel",
        "-q",
        "--no-deps",
        "--no-build-isolation",
        "-w",
        "out",
        ".",
    ]
    subprocess.run(build, cwd=copy, check=True, capture_output=True, timeout=300)
    (wheel,) = (copy / "out").glob("curve_rank-*.whl")
    place = tmp_path_factory.mktemp("installed")
    with zipfile.ZipFile(wheel) as packed:
        packed.extractall(place)
    return place


def test_everything_that_is_read_at_run_time_is_in_it(installed: Path) -> None:
    def there(folder: Path) -> set[str]:
        files = (one for one in folder.rglob("*") if one.is_file() and "__pycache__" not in one.parts)
        return {one.relative_to(folder).as_posix() for one in files}

    package = ROOT / "src" / "curve_rank"
    pictures = {f"web/static/screenshots/{one.name}" for one in (ROOT / "docs" / "screenshots").glob("*.png")}
    assert (there(package) | pictures) - there(installed / "curve_rank") == set()


def test_it_serves_from_anywhere(installed: Path, tmp_path: Path) -> None:
    run = [sys.executable, "-c", SERVED, str(installed), str(tmp_path / "data")]
    done = subprocess.run(
        run, cwd=tmp_path, env={"PYTHONPATH": str(installed)}, capture_output=True, text=True, timeout=120
    )
    assert done.returncode == 0, done.stderr[-2000:]
