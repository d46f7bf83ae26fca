"""Timings against named alternatives; `make bench` prints them all."""

import os

from curve_rank.cli.entry import ONE_THREAD

for name in ONE_THREAD:  # as the application runs
    os.environ.setdefault(name, "1")
