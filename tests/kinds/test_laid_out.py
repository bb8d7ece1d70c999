"""What ``./lead new`` lays out, in a copy of the repository: all tests pass as it is, and a person who follows
``CONTRIBUTING.md`` makes a washer about a plane of it, with cards, a sheet of two figures and tests, and touches no
other file.
"""

from __future__ import annotations

import filecmp
import os
import shutil
import subprocess
from pathlib import Path

import pytest

from ops.new import EXAMPLE, files_of, laid_out
from ops.shell import ROOT, CannotGoOn

WASHER = ROOT / "tests/support/washer"  # the files that the person changes or adds, as they stand in the repository
COPIED = ("src", "ops", "tests", "demo", "docs", "pyproject.toml", "web")
LEFT_OUT = shutil.ignore_patterns("__pycache__", "node_modules", "dist", "screenshots", "*.gen.*")
SCHEMA = Path("docs/part.schema.json")


@pytest.fixture(scope="module")
def copy(tmp_path_factory) -> Path:
    """A copy with a kind and a sheet as they are laid out, and others that a person has gone on with."""
    root = tmp_path_factory.mktemp("copy")
    for name in COPIED:
        if (ROOT / name).is_dir():
            shutil.copytree(ROOT / name, root / name, ignore=LEFT_OUT)
        else:
            shutil.copy(ROOT / name, root / name)
    (root / ".venv").symlink_to(ROOT / ".venv")
    (root / "web/node_modules").symlink_to(ROOT / "web/node_modules")
    for name in ("stud", "washer"):
        laid_out("kind", name, root)
        laid_out("sheet", name, root)
    shutil.copytree(WASHER, root, dirs_exist_ok=True)
    run(root, ".venv/bin/python", "-m", "tests.support.stored", "washer")
    run(root, ".venv/bin/python", "-m", "ops.generate")
    return root


def run(root: Path, *command: str, folder: str = ".") -> None:
    env = {**os.environ, "PYTHONPATH": os.pathsep.join([str(root / "src"), str(root)])}
    done = subprocess.run(command, cwd=root / folder, env=env, capture_output=True, text=True)
    assert done.returncode == 0, done.stdout[-4000:] + done.stderr[-4000:]


def test_its_own_tests_and_those_of_all_rooms_pass(copy):
    own = [f"tests/kinds/{name}" for name in ("stud", "washer")]
    own += [f"tests/sheets/test_{name}.py" for name in ("stud", "washer")]
    run(copy, ".venv/bin/python", "-m", "pytest", "-q", *own, "tests/kinds/test_rooms.py")
    stored = ["tests/recipe/test_stored.py", "-k", "stud or washer or stored_step"]
    run(copy, ".venv/bin/python", "-m", "pytest", "-q", *stored)


def test_its_cards_are_those_of_the_fields(copy):
    run(copy, "npx", "--no-install", "tsc", "--noEmit", folder="web")
    run(copy, "npx", "--no-install", "vitest", "run", "src/kinds", folder="web")


def test_no_other_file_is_touched(copy):
    """All that is new stands in folders and files of its own name; only the schema of the part file is other."""
    here, there = files_below(ROOT), files_below(copy)
    new = {file for file in there - here if ".gen." not in file.name}
    assert new
    assert all("stud" in str(file) or "washer" in str(file) for file in new)
    assert here - there == set()
    other = {file for file in here & there if not filecmp.cmp(ROOT / file, copy / file, shallow=False)}
    assert {file for file in other if ".gen." not in file.name} == {SCHEMA}


def files_below(root: Path) -> set[Path]:
    found = [Path(where) / name for top in COPIED for where, _, names in os.walk(root / top) for name in names]
    left_out = {"__pycache__", "node_modules", "dist", "screenshots"}
    return {file.relative_to(root) for file in found if not left_out & set(file.parts)}


def test_each_file_of_the_example_is_laid_out_in_its_place(tmp_path):
    files = [*laid_out("kind", "stud", tmp_path), *laid_out("sheet", "stud", tmp_path)]
    assert len(files) == len(files_of("kind")) + len(files_of("sheet"))
    assert len(files) == len({*EXAMPLE.rglob("*")} - {p for p in EXAMPLE.rglob("*") if p.is_dir()} - caches())
    assert not any("peg" in file.read_text().lower() for file in files)


def caches() -> set[Path]:
    return {p for p in EXAMPLE.rglob("*") if "__pycache__" in p.parts}


@pytest.mark.parametrize("name", ["", "two words", "Stud", "stud-1", "class", "../stud", "ü", "a" * 40])
def test_what_is_no_name_is_refused(tmp_path, name):
    with pytest.raises(CannotGoOn, match="small letters"):
        laid_out("kind", name, tmp_path)
    assert list(tmp_path.iterdir()) == []


def test_what_is_there_is_not_written_over(tmp_path):
    laid_out("kind", "stud", tmp_path)
    (tmp_path / "src/leadline/kinds/stud/build.py").write_text("mine")
    with pytest.raises(CannotGoOn, match="there already"):
        laid_out("kind", "stud", tmp_path)
    assert (tmp_path / "src/leadline/kinds/stud/build.py").read_text() == "mine"
