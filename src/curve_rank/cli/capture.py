"""`curve-rank device` and `capture`: a simulated device, and a profile captured from one."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from typing import Any

import click

from curve_rank.background.captures import TITLES, Capture, calibrated, folded, profile_lists
from curve_rank.cli.options import json_option, listed, print_json, read_text, say_errors, write_file
from curve_rank.errors import UnavailableError
from curve_rank.exchange.simulated_device import (
    FAULTS,
    DeviceServer,
    SimulatedDevice,
    built_in_profile,
    read_profile,
)
from curve_rank.measure.profile import INTERVAL

LONGEST_SECONDS = 1800
STEP_PATIENCE = 15.0
"""How long a zero or a known weight may take [s]."""


@click.command(name="device")
@click.option("--port", type=click.IntRange(0, 65535), default=8310, show_default=True)
@click.option(
    "--profile", type=click.Path(path_type=Path), help="True profile, JSON or CSV; else a pad machine’s."
)
@click.option("--noise", type=float, default=0.5, show_default=True, help="Of the load cell [N·m].")
@click.option("--faults", default="", metavar="LIST", help="Of " + ",".join(FAULTS) + ", or all.")
@click.option(
    "--rate", type=click.IntRange(1, 1000), default=100, show_default=True, help="Samples a second."
)
@click.option("--seed", type=int, default=1, show_default=True)
@say_errors
def device_command(port: int, profile: Path | None, noise: float, faults: str, rate: int, seed: int) -> None:
    """Run a simulated load cell and angle sensor on a machine that is swept to and fro."""
    known = built_in_profile() if profile is None else read_profile(read_text(profile, "--profile"))
    named = FAULTS if faults == "all" else listed(faults)
    server = DeviceServer(port, SimulatedDevice(known, noise=noise, faults=named, rate=rate, seed=seed))
    click.echo(f"A simulated device at 127.0.0.1:{server.port}  (Ctrl-C to stop)")
    with server:
        server.serve_forever(poll_interval=0.2)


@click.command(name="capture")
@click.argument("address", metavar="HOST:PORT")
@click.option(
    "--seconds",
    type=click.FloatRange(1, LONGEST_SECONDS),
    default=20,
    show_default=True,
    help="How long to sweep.",
)
@click.option("--weight", type=float, default=10.0, show_default=True, help="Known weight [kg].")
@click.option("--lever", type=float, default=0.3, show_default=True, help="Its lever [m].")
@click.option("--out", type=click.Path(path_type=Path, dir_okay=False), help="File of the raw samples, CSV.")
@json_option
@say_errors
def capture_command(
    address: str, seconds: float, weight: float, lever: float, out: Path | None, as_json: bool
) -> None:
    """Zero, calibrate with a known weight, sweep, and fold the sweeps into one profile.

    A real device is waited for at each step; a simulated one hangs the weight itself.
    """
    parts: list[str] = [TITLES + "\n"]
    if out is not None:
        _write(out, parts)
    capture = Capture(address, parts.append)
    try:
        _step(capture, "Nothing on the cell", "empty", weight, lever)
        _step(capture, f"{weight:g} kg at {lever:g} m", "weight", weight, lever)
        _hands(capture, f"Sweep to and fro for {seconds:g} s")
        capture.begin("sweep")
        capture.wait(seconds, lambda one: one.state == "ended")
    finally:
        capture.stop()
        if out is not None:
            _write(out, parts)
    rows = capture.rows()
    known = calibrated(rows, weight, lever)
    swept = folded(rows, known)
    lists = profile_lists(swept.profile)
    view: dict[str, Any] = {
        **capture.counts,
        "problem": capture.problem,
        "calibration": asdict(known),
        "interval": INTERVAL,
        "noise_nm": round(swept.profile.noise, 4),
        "drift_nm_per_s": round(swept.profile.drift, 5),
        "lag_s": round(swept.lag, 3),
        "profile": {
            "angle_deg": lists["angle"],
            "torque_nm": lists["torque"],
            "low": lists["low"],
            "high": lists["high"],
            "friction_nm": lists["friction"],
        },
    }
    if as_json:
        print_json(view)
        return
    click.echo(", ".join(f"{count} {name}" for name, count in capture.counts.items()))
    for row in zip(*(lists[name] for name in ("angle", "torque", "low", "high")), strict=True):
        click.echo("{:6.1f}°  {:7.2f} N·m  ({:.2f} to {:.2f})".format(*row))


def _step(capture: Capture, words: str, phase: Any, weight: float, lever: float) -> None:
    _hands(capture, words)
    capture.begin(phase, weight, lever)
    if not capture.wait(STEP_PATIENCE, lambda one: one.phase is None):
        raise UnavailableError("device", capture.problem or "silent", "a device that sends samples")


def _hands(capture: Capture, words: str) -> None:
    """Somebody has to do this, where it is no simulated device."""
    if not capture.simulated:
        click.pause(f"{words}, then press a key …")


def _write(out: Path, parts: list[str]) -> None:
    write_file(out, "".join(parts))
