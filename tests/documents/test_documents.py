"""Every command of the documents, run from their text: as root and as a second user.

Its root is an overlay over this machine's in a mount namespace of its own: nothing that is installed
or written there is left. `systemctl` is a stand-in that starts what the units say, as whom they say.
"""

from __future__ import annotations

import json
import re
import shlex
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from benchmarks.soak.server import free_port

from curve_rank import __version__
from curve_rank.settings import DATABASE
from curve_rank.store.revisions import known_revisions
from tests.documents.blocks import ROOT, blocks, commands
from tests.documents.machine import Machine, can_be_made

WORDS = "seven quiet owls"
MOST_OPEN = 4.0
"""How exposed the unit may be, as `systemd-analyze security` counts."""


class Reader:
    """Somebody who does what a document says, to the letter, at other ports."""

    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        self.port, self.tls, self.plain, self.scheduler = (free_port() for _ in range(4))
        self.done: list[str] = []

    def here(self, text: str) -> str:
        for written, meant in (
            ("8137", self.port), ("listen 443", f"listen {self.tls}"), ("10.0.0.5", "127.0.0.1"),
            ("listen 80;", f"listen {self.plain};"), ("8786", self.scheduler),
        ):  # fmt: skip
            text = text.replace(str(written), str(meant))
        return text

    def do(self, document: str, *of: str) -> str:
        """Take the next blocks of a document, up to the last of those named by a command of theirs."""
        said, left = "", blocks(document)[sum(one.startswith(document) for one in self.done) :]
        wanted = list(of)
        while wanted:
            block = left.pop(0)
            self.done.append(f"{document} {block.of}")
            if block.language == "sh" and block.of == "cluster":
                for line in commands(self.here(block.text)):
                    self.machine.run(f"nohup setsid {line} >/tmp/dask.log 2>&1 & sleep 3")
            elif block.language == "sh":
                said += self.machine.run(self.here(block.text)).stdout
            else:
                self.machine.write(block.of, self.here(block.text))
            if wanted[0] in block.text:
                wanted.pop(0)
        return said

    def curl(self, path: str, *more: str) -> str:
        at = f"https://arm.example:{self.tls}"
        known = f"--resolve arm.example:{self.tls}:127.0.0.1 -k -s -b /tmp/jar -c /tmp/jar"
        return self.machine.run(f"curl {known} {' '.join(map(shlex.quote, more))} '{at}{path}'").stdout

    def post(self, path: str, **form: str) -> str:
        token = re.findall(r'name="csrf" content="([^"]+)"', self.curl("/guide"))[0]
        sent = [f"{name}={value}" for name, value in {"csrf_token": token, **form}.items()]
        fields = [part for one in sent for part in ("--data-urlencode", one)]
        told = ("-w", "%{http_code}", "-o", "/tmp/answer", "-e", "https://arm.example/")
        return self.curl(path, *told, *fields)

    def wait(self) -> None:
        """Until it is served."""
        asked = f"curl -s -o /dev/null -w '%{{http_code}}' http://127.0.0.1:{self.port}/readyz"
        while self.machine.run(asked, check=False).stdout != "200":
            assert (
                self.machine.run("test -e /run/stand-in/curve-rank.service.pid", check=False).returncode == 0
            )
            time.sleep(0.2)

    def people(self) -> list[tuple[str, str, str]]:
        """Everybody, as a command of the documents lists them."""
        listed = json.loads(self.machine.run("curve-rank people --json").stdout)
        return [(one["name"], one["email"], one["since"]) for one in listed]

    def owners(self) -> set[str]:
        listed = "find /var/lib/curve-rank /srv/backup/curve-rank -printf '%u %m\\n' | sort -u"
        return set(self.machine.run(listed).stdout.splitlines())


@pytest.fixture
def reader(tmp_path: Path) -> Iterator[Reader]:
    machine = Machine(tmp_path, Path(sys.prefix))
    machine.copy_in(ROOT)
    yield Reader(machine)
    machine.close()


def wheel_before(machine: Machine) -> bool:
    """Put the wheel of the commit before into dist/, whose version is whatever it was then."""
    packed = subprocess.run(["git", "archive", "HEAD~1"], cwd=ROOT, capture_output=True, check=False)
    if packed.returncode:
        return False  # a source archive knows no commit before
    machine.run("mkdir -p /before")
    subprocess.run([*machine.place, "tar", "-C", "/before", "-xf", "-"], input=packed.stdout, check=True)
    machine.run("ln -sfn /venv .venv; . ./.venv/bin/activate; make -o setup wheel", within="/before")
    return True


@pytest.mark.skipif(not can_be_made(), reason="only root can make a machine to throw away")
def test_deploying_and_operating_do_what_they_say(reader: Reader) -> None:
    machine = reader.machine
    reader.do("docs/deploying.md", "make wheel")
    had_before = wheel_before(machine)
    if had_before:  # first the version before: the upgrade below is from it
        machine.run("mkdir /new; mv dist/* /new/; cp /before/dist/*.whl dist/")
    said = reader.do("docs/deploying.md", "runuser", "grep 'with the code'")
    assert "It cannot start" not in said
    assert re.search(r"with the code [A-Z0-9-]{14}", said)
    reader.wait()
    assert reader.owners() <= {"curve-rank 700", "curve-rank 600"}
    reader.do("docs/deploying.md", "systemctl start curve-rank-backup.service")
    reader.wait()
    code = re.findall(r"with the code ([A-Z0-9-]{14})", machine.run("journalctl -u curve-rank").stdout)[-1]
    backups = machine.run("ls /srv/backup/curve-rank").stdout
    assert re.search(r"curve-rank-\d{8}-\d{6}\.zip", backups)
    reader.do("docs/deploying.md", "systemctl restart nginx")
    assert "Curve Rank" in reader.curl("/guide")

    # Through the proxy: the first account, and a link as it is seen from outside.
    first = {"name": "Maude Ellerby", "email": "maude@x.example", "password": WORDS, "code": code}
    assert reader.post("/first", **first) == "303"
    assert reader.post("/people/invite", name="Corin", email="c@x.example", role="coach") == "200"
    invited = machine.run("cat /tmp/answer").stdout
    assert re.search(r"https://arm\.example/join/\w+", invited)
    reader.do("docs/operating.md", "by-hand.zip")
    before = reader.people()
    reader.do("docs/operating.md", "systemctl start curve-rank")
    reader.wait()
    assert reader.people() == before
    assert reader.owners() <= {"curve-rank 700", "curve-rank 600"}
    assert "Sign in" in reader.curl("/board")  # a restore ends sign-ins
    stranger = "curve-rank restore /srv/backup/curve-rank/by-hand.zip --data /var/lib/curve-rank"
    refused = machine.run(f"runuser -u nobody -- {stranger}", check=False)
    assert refused.returncode == 2

    # The upgrade, with what is newer laid beside.
    if had_before:
        machine.run("rm dist/*; cp /new/* dist/")
    said = reader.do("docs/operating.md", "--force-reinstall")
    reader.wait()
    assert f"version {__version__}, tables at {known_revisions()[-1]}" in said.splitlines()[-1]
    assert reader.people() == before
    assert reader.post("/sign-in", email="maude@x.example", password=WORDS) == "303"

    # Moving: to this same machine, with an empty folder in the place of the old one.
    reader.do("docs/operating.md", "moving.zip")
    machine.run("rm -r /var/lib/curve-rank")
    machine.run("install -d -o curve-rank -g curve-rank -m 700 /var/lib/curve-rank")
    reader.do("docs/operating.md", "--keep-sign-ins")
    reader.wait()
    assert "Maude Ellerby" in reader.curl("/account")  # still signed in
    assert reader.owners() <= {"curve-rank 700", "curve-rank 600"}

    # A cluster takes the work, and its end is no hindrance to a start.
    reader.do("docs/deploying.md", "systemctl restart curve-rank")
    reader.wait()
    assert "CURVE_RANK_SCHEDULER: tcp://127.0.0.1" in machine.run("curve-rank check", check=False).stdout
    machine.run("pkill -f /opt/curve-rank/bin/dask; sleep 1", check=False)
    found = machine.run("curve-rank check", check=False)
    assert (found.returncode, "is being served" in found.stdout) == (1, True)
    machine.run("systemctl restart curve-rank")
    reader.wait()
    assert not blocks("docs/deploying.md")[sum(one.startswith("docs/deploying.md") for one in reader.done) :]

    # An older program over newer tables: refused, with what to do.
    machine.run("systemctl stop curve-rank")
    newer = "UPDATE alembic_version SET version_num = 9999"
    write = f"c = sqlite3.connect('/var/lib/curve-rank/{DATABASE}'); c.execute('{newer}'); c.commit()"
    machine.run(f'/usr/bin/python3 -c "import sqlite3; {write}"')
    refused = machine.run("systemctl start curve-rank", check=False)
    assert refused.returncode == 2
    assert "newer version" in machine.run("journalctl -u curve-rank").stdout

    if machine.run("command -v systemd-analyze", check=False).returncode == 0:
        unit = "systemd-analyze security --offline=true /etc/systemd/system/curve-rank.service"
        told = machine.run(unit, check=False).stdout
        assert float(re.findall(r"exposure level for .*: ([\d.]+)", told)[0]) < MOST_OPEN
        machine.run("systemd-analyze calendar '*-*-* 03:30'")
