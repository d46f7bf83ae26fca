"""Tests fill the cores by themselves: linear algebra, which is read in after this, has one thread in each."""

import os

from curve_rank.cli.entry import ONE_THREAD

for name in ONE_THREAD:
    os.environ.setdefault(name, "1")
