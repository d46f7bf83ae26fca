"""The wheel holds all that is needed: installed alone, it serves the demo from anywhere."""

from __future__ import annotations

import hashlib
import re
import shutil
import subprocess
import sys
import zipfile
from email import message_from_string
from pathlib import Path

import pytest

from curve_rank import __version__
from curve_rank.store.revisions import known_revisions
from tests.helpers import LIMIT

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
    for name in ("src", "docs", "shell"):
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
    subprocess.run(build, cwd=copy, check=True, capture_output=True, timeout=LIMIT)
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
    texts = " ".join(one.read_text() for one in (package / "web" / "guide").glob("*.md"))
    shown = {
        f"web/static/screenshots/{name}" for name in re.findall(r"screenshots/([\w-]+\.(?:png|svg))", texts)
    }
    pictures = {name for name in there(package) if name.startswith("web/static/screenshots/")}
    packed = there(installed / "curve_rank")
    assert (there(package) - pictures | shown) - packed == set()
    assert {
        name for name in packed if name.startswith("web/static/screenshots/")
    } == shown  # no more than that


def test_nothing_large_is_in_it_twice(installed: Path) -> None:
    large = [one for one in installed.rglob("*") if one.is_file() and one.stat().st_size > 10_000]
    digests = [hashlib.sha256(one.read_bytes()).digest() for one in large]
    assert len(set(digests)) == len(digests)


def test_it_says_what_it_is(installed: Path) -> None:
    (metadata,) = installed.glob("curve_rank-*.dist-info/METADATA")
    told = message_from_string(metadata.read_text())
    assert told["Version"] == __version__
    assert told["Version"] in (ROOT / "CHANGELOG.md").read_text()
    assert f"tables at {known_revisions()[-1]}" in (ROOT / "CHANGELOG.md").read_text()
    assert (told["License-Expression"], "physics" in told["Summary"]) == ("MIT", True)
    assert told["Keywords"]
    assert len(told.get_all("Classifier", [])) > 8
    assert (installed / "curve_rank" / "py.typed").exists()


def test_it_serves_from_anywhere(installed: Path, tmp_path: Path) -> None:
    run = [sys.executable, "-c", SERVED, str(installed), str(tmp_path / "data")]
    done = subprocess.run(
        run, cwd=tmp_path, env={"PYTHONPATH": str(installed)}, capture_output=True, text=True, timeout=LIMIT
    )
    assert done.returncode == 0, done.stderr[-2000:]


def test_a_shell_finds_its_man_page_and_completions(installed: Path) -> None:
    shared = next(installed.glob("*.data")) / "data" / "share"
    files = {one.relative_to(shared).as_posix() for one in shared.rglob("*") if one.is_file()}
    assert files >= {
        "man/man1/curve-rank.1",
        "bash-completion/completions/curve-rank",
        "zsh/site-functions/_curve-rank",
        "fish/vendor_completions.d/curve-rank.fish",
    }
