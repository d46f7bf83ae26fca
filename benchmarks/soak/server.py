"""A server of the demo in a process of its own, and a visitor who keeps cookies and tokens."""

from __future__ import annotations

import gzip
import http.client
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
START_SECONDS = 60.0
_TOKEN = re.compile(r'name="csrf_token" value="([^"]+)"')


def free_port() -> int:
    """A port that nobody listens on."""
    with socket.create_server((HOST, 0)) as one:
        return int(one.getsockname()[1])


class Server:
    """`curve-rank demo` or `serve` over a folder, from a start to a kill."""

    def __init__(self, folder: Path, *, command: str = "demo", port: int | None = None) -> None:
        self.port = port or free_port()
        folder.parent.mkdir(parents=True, exist_ok=True)
        self.errors = (folder.parent / f"{folder.name}-{self.port}.log").open("w+", encoding="utf-8")
        shell = [sys.executable, "-m", "curve_rank.cli.entry", command]
        shell += ["--port", str(self.port), "--data", str(folder)]
        quiet = {"PYTHONDONTWRITEBYTECODE": "", "CURVE_RANK_DATA": "", "CURVE_RANK_LOCAL_VIEWER": "1"}
        self.process = subprocess.Popen(
            shell,
            stdout=subprocess.DEVNULL,
            stderr=self.errors,
            env=os.environ | quiet,
            start_new_session=True,
        )

    def wait(self) -> bool:
        """Whether it answers before it ends or the time is over."""
        until = time.monotonic() + START_SECONDS
        while time.monotonic() < until and self.process.poll() is None:
            try:
                if Visitor(self.port).get("/healthz")[0] == 200:
                    return True
            except OSError:
                time.sleep(0.05)
        return False

    @property
    def said(self) -> str:
        """What it wrote to standard error."""
        self.errors.seek(0)
        return self.errors.read()

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
        self.process.wait(30)
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

    def __init__(self, port: int, *, seconds: float = 30.0) -> None:
        self._line = http.client.HTTPConnection(HOST, port, timeout=seconds)
        self._cookies: dict[str, str] = {}
        self.token = ""
        self.wire = 0

    def get(self, address: str, **headers: str) -> tuple[int, str]:
        """Status and text of a page."""
        return self.ask("GET", address, None, headers)

    def post(self, address: str, form: Mapping[str, object]) -> tuple[int, str]:
        """Send a form with a token."""
        if not self.token:
            self.token = _TOKEN.findall(self.get("/schools/new")[1])[0]
        body = urlencode({"csrf_token": self.token, **form}, doseq=True)
        return self.ask("POST", address, body, {"Content-Type": "application/x-www-form-urlencoded"})

    def ask(self, method: str, address: str, body: str | None, headers: Mapping[str, str]) -> tuple[int, str]:
        """Any request; what the connection lost is asked for anew once."""
        told = {
            "Cookie": "; ".join(f"{k}={v}" for k, v in self._cookies.items()),
            "Accept-Encoding": "gzip",
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
        body_read = answer.read()
        self.wire = len(body_read)
        if answer.headers.get("Content-Encoding") == "gzip":
            body_read = gzip.decompress(body_read)
        text = body_read.decode("utf-8", "replace")
        for cookie in answer.headers.get_all("Set-Cookie", []):
            name, _, rest = cookie.partition("=")
            self._cookies[name] = rest.partition(";")[0]
        return answer.status, text
