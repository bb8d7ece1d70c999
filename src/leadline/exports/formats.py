"""The formats that a built part is saved in: one module for each beside this one, called as its files end, with a ``FORMAT``."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Callable
from dataclasses import dataclass

from leadline.core.problems import Problem
from leadline.core.solids.mesh_files import NamedMesh
from leadline.core.solids.tessellate import tessellate
from leadline.core.units import LengthUnit
from leadline.recipe.results import BuildResult


@dataclass(frozen=True)
class Format:
    """``title`` and ``about`` are what it is called; ``write`` makes the file of a build that has bodies, for a part in a unit.

    ``exact``: it keeps curves and surfaces as they are.
    """

    title: str
    about: str
    media_type: str
    write: Callable[[BuildResult, LengthUnit], bytes]
    exact: bool = False


def formats() -> dict[str, Format]:
    """All formats by the ending of their files, the exact ones first."""
    exports = importlib.import_module("leadline.exports")
    found = sorted(m.name for m in pkgutil.iter_modules(exports.__path__))
    modules = {name: importlib.import_module(f"leadline.exports.{name}") for name in found}
    known = {name: module.FORMAT for name, module in modules.items() if hasattr(module, "FORMAT")}
    return dict(sorted(known.items(), key=lambda item: not item[1].exact))


def described_formats() -> dict[str, dict[str, str]]:
    """Of each format what it is called, as JSON."""
    return {name: {"title": f.title, "about": f.about, "media_type": f.media_type} for name, f in formats().items()}


def meshes(result: BuildResult) -> list[NamedMesh]:
    """The display meshes of all bodies."""
    return [NamedMesh(b.name, b.mesh or tessellate(b.body), b.places) for b in result.bodies]


def export(result: BuildResult, form: str, unit: LengthUnit = "mm") -> bytes:
    """The bodies of a build as the bytes of a file. Raises Problem when nothing was built, or there is no such format."""
    known = formats().get(form)
    if known is None:
        raise Problem("no-format", f"There is no format “{form}”.", f"Take one of {', '.join(formats())}.")
    if not result.bodies:
        raise Problem("nothing-built", "There is no body to save.", "Build a sweep first, or mend the failed step.")
    return known.write(result, unit)
