"""A machine to throw away: overlays over this one's root and environment, and stand-ins for services."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
from pathlib import Path

SYSTEMCTL = Path(__file__).with_name("systemctl.py")
PATH = "/usr/local/sbin:/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin"
GET = "apt-get install -y -qq --no-install-recommends"
"""What the tests themselves need there, where it is missing."""
HANDED_ON = ("SSL_", "PIP_", "HTTP", "http", "NO_PROXY", "no_proxy", "REQUESTS_")
"""How variables begin that a network needs."""
MOUNTS = """
mount --bind "$0" "$0" && mount --make-private "$0"
mount -t tmpfs -o size=6g none "$0"
mkdir "$0/upper" "$0/work" "$0/root" "$0/upper-venv" "$0/work-venv"
mount -t overlay -o lowerdir=/,upperdir="$0/upper",workdir="$0/work" overlay "$0/root"
mount -t proc proc "$0/root/proc"
mount --rbind /dev "$0/root/dev"
mkdir -p "$0/root/tree" "$0/root/venv"
mount -t overlay -o lowerdir="$1",upperdir="$0/upper-venv",workdir="$0/work-venv" overlay "$0/root/venv"
echo ready
exec sleep 3000
"""


def can_be_made() -> bool:
    """Whether this user may mount: root, where the kernel lets it."""
    tried = ["unshare", "-m", "--propagation", "unchanged", "true"]
    return (
        os.geteuid() == 0
        and bool(shutil.which("unshare"))
        and subprocess.run(tried, check=False).returncode == 0
    )


class Machine:
    """The machine.

    Parameters
    ----------
    folder : Path
        Empty; everything stands in its memory.
    venv : Path
        The environment of the source tree, which builds the wheels.
    """

    def __init__(self, folder: Path, venv: Path) -> None:
        self.root = folder / "root"
        self._holder = subprocess.Popen(
            ["unshare", "-m", "--propagation", "unchanged", "sh", "-e", "-c", MOUNTS, str(folder), str(venv)],
            stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
        )  # fmt: skip
        assert self._holder.stdout
        if self._holder.stdout.readline() != "ready\n":
            raise RuntimeError(self._holder.communicate()[1])
        for name in ("resolv.conf", "hosts"):
            self.write(f"/etc/{name}", Path("/etc", name).read_text(encoding="utf-8"))
        self.write("/usr/sbin/policy-rc.d", "#!/bin/sh\nexit 101\n", mode="755")  # packages start nothing
        for name in ("systemctl", "journalctl"):
            self.write(f"/usr/local/bin/{name}", SYSTEMCTL.read_text(encoding="utf-8"), mode="755")
        needed = f"{GET} curl procps"
        self.run(f"hash curl pkill || {needed} || (apt-get update -qq; {needed})", within="/")

    @property
    def place(self) -> list[str]:
        """What stands before a command that is to run there."""
        # With the holder's root: where this is a chroot, the namespace begins above it.
        within = ["nsenter", f"--target={self._holder.pid}", "--mount", "--root"]
        return [*within, "chroot", str(self.root)]

    def run(
        self, script: str, *, within: str = "/tree", check: bool = True
    ) -> subprocess.CompletedProcess[str]:
        """A shell's script there, as root."""
        kept = [f"{name}={value}" for name, value in os.environ.items() if name.startswith(HANDED_ON)]
        inside = [
            "env",
            "-i",
            f"PATH={PATH}",
            "HOME=/root",
            "LANG=C.UTF-8",
            "DEBIAN_FRONTEND=noninteractive",
            *kept,
        ]
        done = subprocess.run(
            [*self.place, *inside, "bash", "-e", "-c", f"cd {within}\n{script}"],
            capture_output=True, text=True, timeout=600, check=False,
        )  # fmt: skip
        if check and done.returncode:
            raise AssertionError(
                f"{script}\nended with {done.returncode}:\n{done.stdout[-1500:]}{done.stderr[-1500:]}"
            )
        return done

    def write(self, path: str, text: str, *, mode: str = "644") -> None:
        """A file there."""
        script = f"mkdir -p $(dirname {path}); cat > {path}; chmod {mode} {path}"
        subprocess.run([*self.place, "/bin/sh", "-e", "-c", script], input=text, text=True, check=True)

    def copy_in(self, tree: Path) -> None:
        """The source tree, as git has it, with the environment that builds it."""
        listed = subprocess.run(
            ["git", "ls-files", "-z"], cwd=tree, capture_output=True, text=True, check=False
        ).stdout
        names = [name for name in listed.split("\0") if name] or ["."]
        packed = subprocess.Popen(["tar", "-C", str(tree), "-cf", "-", *names], stdout=subprocess.PIPE)
        subprocess.run([*self.place, "tar", "-C", "/tree", "-xf", "-"], stdin=packed.stdout, check=True)
        packed.wait()
        self.run("ln -sfn /venv .venv")

    def close(self) -> None:
        """Stop what runs there, and let go of it."""
        self.run(
            "for one in /run/stand-in/*.pid; do kill -9 -- -$(cat $one) 2>/dev/null; done; true", check=False
        )
        self.run("nginx -s stop 2>/dev/null; pkill -f /opt/curve-rank/bin/dask; true", check=False)
        self._holder.send_signal(signal.SIGKILL)
        self._holder.communicate()
