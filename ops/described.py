"""What is made from the models of the program: files for the browser's code, and the schema of the part file.

The browser's files are made when the page is built or checked, and are not kept in the repository. The schema is kept,
as people read it.
"""

from __future__ import annotations

import json
import os
import subprocess
from pathlib import Path
from typing import Any

from ops.install import PYTHON, WEB, current, fingerprint
from ops.shell import ROOT, CannotGoOn, run, task

SCHEMA = ROOT / "docs" / "part.schema.json"
API = WEB / "src" / "api"
OPENAPI = API / "openapi.gen.json"
TYPES = API / "schema.gen.ts"
FOR_THE_BROWSER = {"openapi": OPENAPI, "kinds": API / "kinds.gen.json", "formats": API / "formats.gen.json"}
STAMP = API / "stamp.gen.txt"


def for_the_browser() -> None:
    """Make the files for the browser's code that are not up to date. Raises CannotGoOn."""
    sources = [*(ROOT / "src").rglob("*.py"), WEB / "package-lock.json"]
    mark = fingerprint(sources) + os.environ.get("LEADLINE_KINDS", "")
    if current(STAMP, mark) and all(file.exists() for file in (*FOR_THE_BROWSER.values(), TYPES)):
        return
    with task("describing the models to the front end"):
        told = described()
        for name, file in FOR_THE_BROWSER.items():
            _written(file, json.dumps(told[name], indent=1) + "\n")
        run(["npm", "run", "--silent", "api"], cwd=WEB)
    STAMP.write_text(mark)


def described() -> dict[str, Any]:
    """What the program says of itself, by name: see ``python -m leadline describe``. Raises CannotGoOn."""
    done = subprocess.run([PYTHON, "-m", "leadline", "describe"], cwd=ROOT, capture_output=True, text=True)
    if done.returncode:
        raise CannotGoOn(done.stderr)
    return dict(json.loads(done.stdout))


def schema() -> str:
    """The schema of the part file as it is kept in the repository. Raises CannotGoOn."""
    return json.dumps(described()["schema"], indent=1) + "\n"


def write_the_schema() -> None:
    """Write the schema of the part file anew. Raises CannotGoOn."""
    SCHEMA.write_text(schema())


def check_the_schema() -> None:
    """Raises CannotGoOn if the schema in the repository is not that of the models."""
    if not SCHEMA.exists() or SCHEMA.read_text() != schema():
        raise CannotGoOn(f"{SCHEMA.relative_to(ROOT)} is not current. Run: .venv/bin/python -m ops.generate")


def _written(file: Path, text: str) -> None:
    """A file that says the same already stays as it is, so that a server which watches it has nothing to do."""
    if not file.exists() or file.read_text() != text:
        file.write_text(text)
