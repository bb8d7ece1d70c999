"""Lays out a new kind of step or a new sheet: folders of its own, with their tests, copied from the made-up example.

The example ``peg`` in ``ops/example`` has its files where they stand in the repository. The tests build it as it is,
lay out others from it, and run what was laid out.
"""

from __future__ import annotations

import keyword
import re
from pathlib import Path

from ops.shell import ROOT, CannotGoOn

EXAMPLE = ROOT / "ops" / "example"
NAME = "peg"  # of the example
PARTS = {
    "kind": ("src/leadline/kinds", "web/src/kinds", "tests/kinds", "tests/stored"),
    "sheet": ("src/leadline/sheets", "web/src/sheets", "tests/sheets"),
}


def laid_out(what: str, name: str, root: Path = ROOT) -> list[Path]:
    """Write the files of a new ``kind`` or ``sheet`` under a root; returns them.

    Raises:
        CannotGoOn: the name cannot be used, or files of that name are there already.
    """
    if not re.fullmatch(r"[a-z]{2,30}", name) or keyword.iskeyword(name):
        raise CannotGoOn(f"“{name}” cannot be the name of a {what}: give a word of small letters, such as “washer”.")
    files = {root / named(file, name): EXAMPLE / file for file in files_of(what)}
    there = next((file for file in files if file.exists()), None)
    if there is not None:
        raise CannotGoOn(f"{there.relative_to(root)} is there already: give the {what} another name.")
    for file, example in files.items():
        file.parent.mkdir(parents=True, exist_ok=True)
        file.write_text(named(example.read_text(), name))
    return list(files)


def files_of(what: str) -> list[str]:
    """The files of the example's ``kind`` or ``sheet``, as they stand in the repository."""
    found = [file for part in PARTS[what] for file in sorted((EXAMPLE / part).rglob("*")) if file.is_file()]
    return [str(file.relative_to(EXAMPLE)) for file in found if "__pycache__" not in file.parts]


def named(text: str, name: str) -> str:
    """A text of the example with another name in place of its own, as a word and at the beginning of longer ones."""
    return text.replace(NAME.capitalize(), name.capitalize()).replace(NAME, name)
