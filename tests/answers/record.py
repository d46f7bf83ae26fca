"""Writes the record anew: `python -m tests.answers.record`, after a change meant to change numbers."""

from __future__ import annotations

import gzip
import json
import tempfile
from pathlib import Path

from curve_rank.settings import Settings
from curve_rank.store.demo import fill_demo
from curve_rank.web import create_app
from curve_rank.web.current import desk
from tests.answers import RECORD, answers, run_command


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        app = create_app(Settings(data=Path(folder), local_viewer=True))
        with app.app_context():
            kept = desk()
        fill_demo(kept.store)
        found = answers(app.test_client(), run_command)
        kept.draws.close()
    text = json.dumps(found, ensure_ascii=False)
    RECORD.write_bytes(gzip.compress(text.encode(), 9, mtime=0))


if __name__ == "__main__":
    main()
