"""The states that the tables have been in, oldest first, as the migrations tell them."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import as_file, files

from alembic.config import Config
from alembic.script import ScriptDirectory


@contextmanager
def migrations() -> Iterator[tuple[Config, ScriptDirectory]]:
    """The migrations that ship, and what runs them."""
    with as_file(files("curve_rank.store").joinpath("migrations")) as folder:
        config = Config()
        config.set_main_option("script_location", str(folder).replace("%", "%%"))
        yield config, ScriptDirectory.from_config(config)


def known_revisions() -> tuple[str, ...]:
    """Every revision, oldest first."""
    with migrations() as (_, script):
        return tuple(reversed([one.revision for one in script.walk_revisions()]))
