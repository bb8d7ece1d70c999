"""A part built without a server, and saved to a folder in every format."""

from __future__ import annotations

import json
from pathlib import Path

from leadline.core.geometry.mesh import Fineness
from leadline.core.problems import Problem, unexpected
from leadline.exports.formats import Format, Look, export, formats, saved_by
from leadline.recipe.build import build
from leadline.recipe.part import Part
from leadline.recipe.part_file import read_part
from leadline.recipe.results import BuildResult

REPORT = "report.json"


def build_file(file: Path, folder: Path, fineness: Fineness | None = None) -> BuildResult:
    """Build a part file as ``build_to_folder`` does; of one that is no part only the report is written.

    Raises:
        OSError: the file cannot be read, or the folder not be written to.
    """
    data = file.read_bytes()
    folder.mkdir(parents=True, exist_ok=True)
    try:
        part = read_part(data)
    except Exception as error:
        refused = BuildResult({}, [], "mm", [_foreseen(error).message])
        _report(file.stem, refused, folder)
        return refused
    return build_to_folder(part, folder, fineness)


def build_to_folder(part: Part, folder: Path, fineness: Fineness | None = None) -> BuildResult:
    """Write ``report.json``, and ``part.<ending>`` for each format that can save what came out, meshes within a
    ``fineness`` if one is given.

    The report is there whatever happens: what goes wrong with a file is one of its messages, and of the result's.
    Raises OSError when the folder cannot be written to.
    """
    folder.mkdir(parents=True, exist_ok=True)
    try:
        result = build(part)
    except Exception as error:
        result = BuildResult({}, [], part.units, [_foreseen(error).message])
    _report(part.name, result, folder)  # before the files, in case they take more memory than there is
    look = Look.of(part, fineness)
    for name, form in formats().items():
        if saved_by(form, result):
            _save(result, name, form, look, folder)
    _report(part.name, result, folder)
    return result


def _save(result: BuildResult, name: str, form: Format, look: Look, folder: Path) -> None:
    try:
        data = export(result, name, look)
    except Exception as error:
        result.messages.append(_foreseen(error).after(f"{form.title} is not saved: ").message)
    else:
        (folder / f"part.{name}").write_bytes(data)


def _foreseen(error: Exception) -> Problem:
    return error if isinstance(error, Problem) else unexpected(error)


def _report(name: str, result: BuildResult, folder: Path) -> None:
    report = {"part": name, "units": result.units, **result.as_dict()}
    (folder / REPORT).write_text(json.dumps(report, indent=1))
