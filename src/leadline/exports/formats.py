"""The formats that a built part is saved in: one module for each beside this one, called as its files end, with a
``FORMAT``.
"""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace

from leadline.core.geometry.mesh import Fineness
from leadline.core.problems import Problem
from leadline.core.units import LengthUnit
from leadline.recipe.colours import colours_of
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.part import Part
from leadline.recipe.results import BuildResult


@dataclass(frozen=True)
class Look:
    """What a file has beside the bodies: the part's name and unit, the colours ("#rrggbb") of the bodies of steps, and
    the ``fineness`` of meshes, if not that in which bodies are shown.
    """

    title: str = "Part"
    unit: LengthUnit = "mm"
    colours: Mapping[str, str] = field(default_factory=dict)
    fineness: Fineness | None = None

    @classmethod
    def of(cls, part: Part, fineness: Fineness | None = None) -> Look:
        return cls(part.name, part.units, colours_of(part), fineness)


@dataclass(frozen=True)
class Format:
    """``title`` and ``about`` are what it is called; ``write`` makes the file of a build that has bodies, as it is to
    look.

    Attributes:
        exact: It keeps curves and surfaces as they are.
        triangles: It saves the meshes of bodies, of those that are meshes alone too.
        ending: How its files end, where its module cannot be called so.
    """

    title: str
    about: str
    media_type: str
    write: Callable[[BuildResult, Look], bytes]
    exact: bool = False
    triangles: bool = False
    ending: str = ""


def formats() -> dict[str, Format]:
    """All formats by the ending of their files, the exact ones first."""
    exports = importlib.import_module("leadline.exports")
    found = sorted(m.name for m in pkgutil.iter_modules(exports.__path__))
    modules = {name: importlib.import_module(f"leadline.exports.{name}") for name in found}
    known = {
        module.FORMAT.ending or name: module.FORMAT for name, module in modules.items() if hasattr(module, "FORMAT")
    }
    return dict(sorted(known.items(), key=lambda item: not item[1].exact))


def described_formats() -> dict[str, dict[str, str | bool]]:
    """Of each format what it is called, and whether it saves triangles, as JSON."""
    return {
        name: {"title": f.title, "about": f.about, "media_type": f.media_type, "triangles": f.triangles}
        for name, f in formats().items()
    }


def saved_by(form: Format, result: BuildResult) -> list[KeptBody]:
    """The bodies of a build that a format can save."""
    return [b for b in result.bodies if form.triangles or not b.only_mesh]


def nothing_to_save() -> Problem:
    return Problem("nothing-built", "There is no body to save.", "Build a sweep first, or mend the failed step.")


def export(result: BuildResult, form: str, look: Look | None = None) -> bytes:
    """The bodies of a build as the bytes of a file.

    Raises Problem when there is nothing that it can save, or no such format.
    """
    known = formats().get(form)
    if known is None:
        raise Problem("no-format", f"There is no format “{form}”.", f"Take one of {', '.join(formats())}.")
    bodies = saved_by(known, result)
    if not bodies:
        raise nothing_to_save()
    return known.write(replace(result, bodies=bodies), look or Look())
