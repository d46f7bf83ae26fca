"""Copies the front-end files named in package.json from node_modules into the application, licences beside.

Run by `make assets` after `npm ci`. Everything under static/vendor is written anew.
"""

from __future__ import annotations

import json
import shutil
from pathlib import Path

from scripts.trim_bootstrap import main as trim_bootstrap

HERE = Path(__file__).parent
MODULES = HERE / "node_modules"
VENDOR = HERE.parent / "src" / "curve_rank" / "web" / "static" / "vendor"
MIT = HERE / "mit-terms.txt"

FILES = {
    "@alpinejs/csp": {"dist/module.esm.min.js": "alpine-csp.js"},
    "bootstrap": {
        "dist/css/bootstrap.min.css": "bootstrap.css",
        "dist/css/bootstrap-reboot.min.css": "bootstrap-reboot.css",
    },
    "@fontsource-variable/brygada-1918": {
        "files/brygada-1918-latin-wght-normal.woff2": "brygada.woff2",
        "files/brygada-1918-latin-wght-italic.woff2": "brygada-italic.woff2",
    },
    "@fontsource-variable/atkinson-hyperlegible-next": {
        "files/atkinson-hyperlegible-next-latin-wght-normal.woff2": "atkinson.woff2",
        "files/atkinson-hyperlegible-next-latin-wght-italic.woff2": "atkinson-italic.woff2",
    },
}


def main() -> None:
    shutil.rmtree(VENDOR, ignore_errors=True)
    for package, files in FILES.items():
        source = MODULES / package
        about = json.loads((source / "package.json").read_text())
        target = VENDOR / package.replace("@", "").replace("/", "-")
        target.mkdir(parents=True)
        for origin, name in files.items():
            text = (source / origin).read_bytes()
            if name.endswith((".js", ".css")):
                text = b"\n".join(line for line in text.split(b"\n") if b"sourceMappingURL" not in line)
            (target / name).write_bytes(text)
        (target / "VERSION").write_text(f"{package} {about['version']} ({about['license']})\n")
        licence = next((p for p in source.iterdir() if p.name.upper().startswith("LICENSE")), None)
        if licence:
            shutil.copy(licence, target / "LICENSE")
        else:
            (target / "LICENSE").write_text(f"{package}, by {about['author']}\n\n{MIT.read_text()}")
    trim_bootstrap()


if __name__ == "__main__":
    main()
