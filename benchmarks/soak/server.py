"""A server of the demo in a process of its own, and a visitor who keeps cookies and tokens."""

from __future__ import annotations

import gzip
import http.client
import json
import os
import re
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Mapping
from pathlib import Path
from types import TracebackType
from urllib.parse import urlencode

HOST = "127.0.0.1"
PATIENCE = 300.0
"""How long anything may take before it counts as hung [s]: generous, for a machine that is busy."""

_TOKEN = re.compile(r'<meta name="csrf" content="([^"]+)"')


def free_port() -> int:
    """A port that nobody listens on."""
    with socket.create_server((HOST, 0)) as one:
        return int(one.getsockname()[1])


def alive(process: int) -> bool:
    """Whether a process is there and has not ended."""
    try:
        return Path(f"/proc/{process}/stat").read_text(encoding="ascii").rpartition(")")[2].split()[0] != "Z"
    except OSError:
        return False


class Server:
    """`curve-rank demo` or `serve` over a folder, from a start to a kill."""

    def __init__(
        self,
        folder: Path,
        *,
        command: str = "demo",
        port: int | None = None,
        settings: Mapping[str, str] | None = None,
    ) -> None:
        self.port = port or free_port()
        folder.parent.mkdir(parents=True, exist_ok=True)
        self.errors = (folder.parent / f"{folder.name}-{self.port}.log").open("w+", encoding="utf-8")
        shell = [sys.executable, "-m", "curve_rank.cli.entry", command]
        shell += ["--port", str(self.port), "--data", str(folder)]
        quiet = {"PYTHONDONTWRITEBYTECODE": "", "CURVE_RANK_DATA": "", "CURVE_RANK_LOCAL_VIEWER": "1"}
        quiet |= {"CURVE_RANK_REQUESTS_A_MINUTE": "0"} | (settings or {})
        self.process = subprocess.Popen(
            shell,
            stdout=self.errors,
            stderr=self.errors,
            env=os.environ | quiet,
            start_new_session=True,
        )

    def wait(self) -> bool:
        """Whether it answers before it ends or the time is over."""
        until = time.monotonic() + PATIENCE
        while time.monotonic() < until and self.process.poll() is None:
            try:
                if Visitor(self.port).get("/healthz")[0] == 200:
                    return True
            except OSError:
                time.sleep(0.05)
        return False

    @property
    def said(self) -> str:
        """What it has written so far."""
        self.errors.seek(0)
        return self.errors.read()

    @property
    def children(self) -> list[int]:
        """Processes that it has started."""
        listed = Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children")
        return [int(one) for one in listed.read_text(encoding="ascii").split()]

    @property
    def memory(self) -> float:
        """Resident memory of the server's own process [MB]."""
        status = Path(f"/proc/{self.process.pid}/status").read_text(encoding="ascii")
        return int(re.search(r"VmRSS:\s+(\d+)", status)[1]) / 1024  # type: ignore[index]

    @property
    def cpu(self) -> float:
        """Processor time of the server's own process so far [s]."""
        fields = Path(f"/proc/{self.process.pid}/stat").read_text(encoding="ascii").rpartition(")")[2].split()
        return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")

    def kill(self, number: int = signal.SIGKILL) -> float:
        """End it by a signal; how long that took [s]."""
        begun = time.monotonic()
        self.process.send_signal(number)
        self.process.wait(PATIENCE)
        return time.monotonic() - begun

    def __enter__(self) -> Server:
        if not self.wait():
            self.kill()
            raise RuntimeError(f"the server did not start: {self.said[-400:]}")
        return self

    def __exit__(self, _t: type | None, _e: BaseException | None, _b: TracebackType | None) -> None:
        if self.process.poll() is None:
            self.kill(signal.SIGTERM)
        self.errors.close()


class Visitor:
    """One connection, kept alive, with its cookies and its form token."""

    def __init__(self, port: int, *, always: Mapping[str, str] | None = None) -> None:
        self._line = http.client.HTTPConnection(HOST, port, timeout=PATIENCE)
        self._always = dict(always or {})
        self._cookies: dict[str, str] = {}
        self.headers: Mapping[str, str] = {}
        self.token = ""
        self.wire = 0

    def get(self, address: str, **headers: str) -> tuple[int, str]:
        """Status and text of a page."""
        return self.ask("GET", address, None, headers)

    def post(self, address: str, form: Mapping[str, object]) -> tuple[int, str]:
        """Send a form with a token."""
        if not self.token:
            self.token = _TOKEN.findall(self.get("/guide")[1])[0]
        body = urlencode({"csrf_token": self.token, **form}, doseq=True)
        return self.ask("POST", address, body, {"Content-Type": "application/x-www-form-urlencoded"})

    def sign_in(self, person: int) -> None:
        """As somebody of the demo."""
        status, _ = self.post("/sign-in/as", {"person": person})
        if status != 303:
            raise RuntimeError(f"person {person} was not let in: {status}")
        self.token = ""

    def send(self, address: str, data: object) -> tuple[int, str]:
        """Send data as a script does."""
        if not self.token:
            self.token = _TOKEN.findall(self.get("/guide")[1])[0]
        told = {"Content-Type": "application/json", "X-CSRFToken": self.token, "Accept": "application/json"}
        return self.ask("POST", address, json.dumps(data), told)

    def upload(self, address: str, name: str, files: Mapping[str, bytes]) -> tuple[int, str]:
        """Send pictures, with a name for all of them."""
        if not self.token:
            self.token = _TOKEN.findall(self.get("/guide")[1])[0]
        edge = "edge-of-parts"
        body = b""
        for field, value in (("csrf_token", self.token), ("name", name)):
            head = f'--{edge}\r\nContent-Disposition: form-data; name="{field}"\r\n\r\n'
            body += f"{head}{value}\r\n".encode()
        for file, content in files.items():
            head = f'--{edge}\r\nContent-Disposition: form-data; name="pictures"; filename="{file}"\r\n'
            body += f"{head}Content-Type: image/jpeg\r\n\r\n".encode() + content + b"\r\n"
        body += f"--{edge}--\r\n".encode()
        return self.ask("POST", address, body, {"Content-Type": f"multipart/form-data; boundary={edge}"})

    def ask(
        self, method: str, address: str, body: str | bytes | None, headers: Mapping[str, str]
    ) -> tuple[int, str]:
        """Any request; what the connection lost is asked for anew once."""
        told = {
            "Cookie": "; ".join(f"{k}={v}" for k, v in self._cookies.items()),
            "Accept-Encoding": "gzip",
            **self._always,
            **headers,
        }
        try:
            self._line.request(method, address, body, told)
            answer = self._line.getresponse()
        except (http.client.RemoteDisconnected, BrokenPipeError, ConnectionResetError):
            self._line.close()
            if method != "GET":
                raise
            self._line.request(method, address, body, told)
            answer = self._line.getresponse()
        self.headers = answer.headers
        body_read = answer.read()
        self.wire = len(body_read)
        if answer.headers.get("Content-Encoding") == "gzip":
            body_read = gzip.decompress(body_read)
        text = body_read.decode("utf-8", "replace")
        for cookie in answer.headers.get_all("Set-Cookie", []):
            name, _, rest = cookie.partition("=")
            self._cookies[name] = rest.partition(";")[0]
        return answer.status, text
