"""The version of the program by what it is made of."""

from __future__ import annotations

import hashlib
import importlib
from functools import lru_cache
from pathlib import Path


@lru_cache(maxsize=1)
def engine() -> str:
    """A hash of the sources that make the results, part of every key: what another version has made is made again."""
    root = Path(__file__).resolve().parents[1]
    rooms = [root / "core", root / "recipe", *map(Path, importlib.import_module("leadline.kinds").__path__)]
    digest = hashlib.sha256()
    for room in rooms:
        for source in sorted(room.rglob("*.py")):
            digest.update(str(source.relative_to(room)).encode() + b"\0" + source.read_bytes())
    return digest.hexdigest()
