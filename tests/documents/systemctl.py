#!/usr/bin/python3
"""A stand-in for systemctl and journalctl: starts what a unit says, as whom, and keeps what is printed."""

import os
import pwd
import signal
import subprocess
import sys
import time
from pathlib import Path

RUN, LOGS = Path("/run/stand-in"), Path("/var/log/stand-in")
UNITS = (Path("/etc/systemd/system"), Path("/lib/systemd/system"))


def unit(name):
    """Lines of a unit by their keys, several where there are several."""
    file = next(folder / name for folder in UNITS if (folder / name).exists())
    found = {}
    for line in file.read_text().splitlines():
        key, equals, value = line.partition("=")
        if equals:
            found.setdefault(key.strip(), []).append(value.strip())
    return found


def environment(told):
    found = {"PATH": "/usr/local/bin:/usr/bin:/bin", "LANG": "C.UTF-8"}
    for file in told.get("EnvironmentFile", ()):
        for line in Path(file).read_text().splitlines():
            key, equals, value = line.partition("=")
            if equals and not line.startswith("#"):
                found[key] = value
    return found


def as_user(told):
    who = pwd.getpwnam(told.get("User", ["root"])[0])

    def become():
        os.setsid()
        os.umask(int(told.get("UMask", ["0022"])[0], 8))
        os.initgroups(who.pw_name, who.pw_gid)
        os.setgid(who.pw_gid)
        os.setuid(who.pw_uid)

    return become


def start(name):
    if name == "nginx.service":
        return subprocess.run(["nginx"], check=False).returncode
    told, log = unit(name), (LOGS / name).open("a")
    common = {"env": environment(told), "preexec_fn": as_user(told), "cwd": "/", "stdout": log, "stderr": log}
    for command in told.get("ExecStartPre", ()):
        if code := subprocess.run(command.split(), check=False, **common).returncode:
            return code
    process = subprocess.Popen(told["ExecStart"][0].split(), stdin=subprocess.DEVNULL, **common)
    if told.get("Type") == ["oneshot"]:
        if code := process.wait():
            print((LOGS / name).read_text()[-1500:], file=sys.stderr)
        return code
    (RUN / f"{name}.pid").write_text(str(process.pid))
    time.sleep(0.5)
    return process.poll() or 0


def stop(name):
    if name == "nginx.service":
        subprocess.run(["nginx", "-s", "stop"], check=False, capture_output=True)
        return 0
    pid = RUN / f"{name}.pid"
    if pid.exists():
        number = int(pid.read_text())
        pid.unlink()
        try:
            os.kill(number, signal.SIGTERM)
            while Path(f"/proc/{number}/stat").read_text().rpartition(")")[2].split()[0] != "Z":
                time.sleep(0.05)
        except (ProcessLookupError, FileNotFoundError):
            pass
    return 0


def main(arguments):
    for folder in (RUN, LOGS):
        folder.mkdir(parents=True, exist_ok=True)
    words = [one for one in arguments if not one.startswith("-")]
    if Path(sys.argv[0]).name == "journalctl":
        print((LOGS / f"{words[0]}.service").read_text())
        return 0
    verb, name = words[0], [*words, ""][1]
    name = name if "." in name else f"{name}.service"
    if verb in ("daemon-reload", "enable") and (verb == "daemon-reload" or name.endswith(".timer")):
        return 0 if verb == "daemon-reload" else int(not unit(name))
    if verb in ("enable", "start"):
        return start(name)
    if verb == "restart":
        return stop(name) or start(name)
    return stop(name) if verb == "stop" else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
