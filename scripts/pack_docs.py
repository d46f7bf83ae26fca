"""The built documentation as one file, the same from the same pages: python -m scripts.pack_docs FROM TO."""

from __future__ import annotations

import sys
import zipfile
from pathlib import Path

WRITTEN = (2026, 1, 1, 0, 0, 0)
"""Every file's date, so that nothing but the pages makes a difference."""
UNNEEDED = (".doctrees", ".buildinfo", "objects.inv")


def pack(folder: Path, into: Path) -> None:
    """All pages of a folder, without what Sphinx keeps for itself."""
    with zipfile.ZipFile(into, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as packed:
        for path in sorted(folder.rglob("*")):
            name = path.relative_to(folder)
            if path.is_file() and name.parts[0] not in UNNEEDED:
                packed.writestr(
                    zipfile.ZipInfo(name.as_posix(), WRITTEN), path.read_bytes(), zipfile.ZIP_DEFLATED
                )


if __name__ == "__main__":
    pack(Path(sys.argv[1]), Path(sys.argv[2]))
