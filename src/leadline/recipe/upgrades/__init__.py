"""Documents of former versions, made into ones of today's.

When the form of documents changes so that stored ones would no longer fit (a field has another name, a number another
meaning), ``VERSION`` goes up by one and a module ``from_<former version>.py`` comes into this folder, with a function
``upgrade`` from a document to one of the next version. What was stored is kept as it was until it is saved again. A
field that only comes in, with a default, needs none of this.

The stored parts of each version are in ``tests/stored``.
"""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Callable, Mapping
from functools import cache
from typing import Any, Final

from leadline.core.problems import Problem

VERSION: Final = 1

Document = dict[str, Any]
Upgrade = Callable[[Document], Document]


@cache
def chain() -> Mapping[int, Upgrade]:
    """The upgrades that there are, by the version that each begins from."""
    names = [m.name for m in pkgutil.iter_modules(__path__) if m.name.startswith("from_")]
    return {int(name.removeprefix("from_")): importlib.import_module(f"{__name__}.{name}").upgrade for name in names}


def upgraded(document: Document, version: int = VERSION, steps: Mapping[int, Upgrade] | None = None) -> Document:
    """A document as one of a ``version``, by one of the ``steps`` after the other; itself if it is one.

    Raises:
        Problem: its version is not a number that there was, or newer than this program.
    """
    known = chain() if steps is None else steps
    found = document.get("version")
    if not isinstance(found, int) or isinstance(found, bool) or found < 1:
        raise Problem(
            "version",
            f"The part file has version {found!r}, which there never was.",
            "Open a part file that was saved here.",
            field="version",
        )
    if found > version:
        raise Problem(
            "version",
            f"The part file has version {found}; this program reads up to {version}.",
            "Open it with the newer program that saved it.",
            field="version",
        )
    for former in range(found, version):
        document = {**known[former](document), "version": former + 1}
    return document
