"""``docs/architecture.md`` tells the truth: its paths are there, and what it says to do to add something is all there
is to do.
"""

from __future__ import annotations

import ast
import importlib
import re
import typing
from graphlib import CycleError, TopologicalSorter
from pathlib import Path

import pytest

from leadline import exports, sheets
from leadline.core.problems import Offer, Problem, restored
from leadline.core.sketch.model import Constraint
from leadline.exports.formats import export, formats
from leadline.recipe import registry
from leadline.recipe import sheets as found_sheets
from leadline.recipe.build import Memory, build
from tests.support.parts import bar, part

ROOT = Path(__file__).resolve().parents[2]
TEXT = (ROOT / "docs/architecture.md").read_text()
HOW_TO_ADD = TEXT.partition("## How to add")[2].partition("\n## ")[0]
PATHS = re.compile(r"`((?:src|web|tests|docs)/[\w./<>-]+)`")

SHEET = {
    "__init__.py": """
from leadline.recipe.sheets import Sheet
from leadline.sheets.straights.model import StraightsSheet

SHEET = Sheet(StraightsSheet, "Straights", ("path", "drawing"))
""",
    "model.py": """
from pydantic import BaseModel
from leadline.core.marks import Length


class Straight(BaseModel):
    length: Length


class StraightsSheet(BaseModel):
    rows: list[Straight]
    all: Length
""",
    "make.py": """
from leadline.recipe.inputs import PathRef
from leadline.sheets.straights.model import Straight, StraightsSheet


def make(context, step):
    runs = [p.length for p in context.path(PathRef(step=step.id)).pieces if p.kind == "line"]
    return StraightsSheet(rows=[Straight(length=r) for r in runs], all=sum(runs))


def dimensions(context, step):
    return []
""",
}

FORMAT = """
from leadline.exports.formats import Format

FORMAT = Format(
    "Names",
    "The names of the bodies",
    "text/plain",
    lambda result, look: "\\n".join(b.name for b in result.bodies).encode(),
)
"""


def paragraph(beginning: str) -> str:
    """What the section says of adding something."""
    return next(p for p in HOW_TO_ADD.split("\n\n") if p.startswith(f"**{beginning}**"))


@pytest.fixture
def forgets(monkeypatch):
    """What is found by folders is looked for anew, before and after."""
    found_sheets.sheets.cache_clear()
    yield monkeypatch
    found_sheets.sheets.cache_clear()


@pytest.mark.parametrize("document", ["architecture.md", "geometry.md"])
def test_every_path_that_is_named_is_there(document):
    text = (ROOT / "docs" / document).read_text()
    modules = [
        ROOT / p for p in re.findall(r"`((?:core|recipe|kinds|sheets|exports|worker|server)/[\w./]+\.py)`", text)
    ]
    for path in [re.sub(r"<\w+>", "*", p) for p in PATHS.findall(text)]:
        assert list(ROOT.glob(path.rstrip("/"))), path
    for module in modules:
        assert (ROOT / "src/leadline" / module.relative_to(ROOT)).exists(), module


def test_a_kind_is_the_folder_that_it_says():
    told = paragraph("A kind of step")
    assert PATHS.findall(told) == ["src/leadline/kinds/<kind>/", "web/src/kinds/<kind>/"]
    for name in registry.kinds():
        if name == "peg":  # it lives with the tests, see tests/kinds
            continue
        room = ROOT / "src/leadline/kinds" / name
        assert all((room / file).exists() for file in re.findall(r"`(\w+\.py)`", told))
        assert (ROOT / "web/src/kinds" / name / "index.tsx").exists()


def test_a_sheet_that_is_added_as_it_says_is_made_and_listed(tmp_path, forgets):
    told = paragraph("A sheet")
    assert set(SHEET) == set(re.findall(r"`(\w+\.py)`", told))
    room = tmp_path / "straights"
    room.mkdir()
    for file, text in SHEET.items():
        (room / file).write_text(text)
    forgets.setattr(sheets, "__path__", [*sheets.__path__, str(tmp_path)])
    assert "straights" in found_sheets.sheets()
    made = found_sheets.make_sheet(part(bar()), "path", "straights", Memory())
    assert found_sheets.as_json(made)["rows"] == [{"length": pytest.approx(100)}]
    assert found_sheets.as_csv(made, "in").splitlines()[0] == "length (in)"
    assert found_sheets.drawn_sizes(part(bar()), "path", "straights", Memory()) == []


def test_a_format_that_is_added_as_it_says_is_written_and_listed(tmp_path, monkeypatch):
    assert PATHS.findall(paragraph("A file format")) == ["src/leadline/exports/<ending>.py"]
    (tmp_path / "names.py").write_text(FORMAT)
    monkeypatch.setattr(exports, "__path__", [*exports.__path__, str(tmp_path)])
    assert formats()["names"].title == "Names"
    assert export(build(part(bar())), "names") == b"Sweep"
    sources = [
        p
        for p in [*ROOT.glob("src/leadline/**/*.py"), *ROOT.glob("web/src/**/*.ts*")]
        if re.search(r"""["']stl["']""", p.read_text())
    ]
    assert {p.parent.name for p in sources} <= {"exports", "solids"}, "a format is named beside its module"


def test_a_constraint_is_said_in_the_files_that_it_names():
    told = PATHS.findall(paragraph("A constraint of sketches"))
    names = typing.get_args(typing.get_type_hints(Constraint)["kind"])
    assert len(names) > 10
    for path in told:
        text = (ROOT / path).read_text()
        assert all(re.search(rf"""["\']{name}["\']""", text) for name in names), path


def test_no_check_of_types_is_left_out_without_its_reason():
    for source in ROOT.glob("src/leadline/**/*.py"):
        for line in source.read_text().splitlines():
            assert "type: ignore" not in line or re.search(r"# type: ignore\[[\w-]+\]  # \w", line), (
                f"{source.name}: {line.strip()}"
            )


def said_of_places(source):
    """The names with which a file says where a problem is, of those that a document alone gives a meaning."""
    for node in ast.walk(ast.parse(source.read_text())):
        if isinstance(node, ast.Call) and getattr(node.func, "id", getattr(node.func, "attr", "")) in SAYING:
            yield from (k.arg for k in node.keywords)
            yield from (k.value for d in ast.walk(node) if isinstance(d, ast.Dict) for k in d.keys if is_text(k))


SAYING = {"Problem", "Message", "after", "Remedy"}


def is_text(node):
    return isinstance(node, ast.Constant) and isinstance(node.value, str)


@pytest.mark.parametrize("source", sorted((ROOT / "src/leadline/core").rglob("*.py")), ids=lambda p: p.stem)
def test_numerics_know_no_document(source):
    """They say which quantity is wrong, and what it might be: never a field, nor what a document is to say instead.
    ``problems`` has the messages themselves.
    """
    if source.stem != "problems":
        assert not {"field", "step"} & set(said_of_places(source))
        assert "Remedy" not in re.findall(r"\w+", source.read_text())


def test_a_quantity_is_told_at_the_field_in_which_it_stands():
    wanted = Problem("c", "Too thick.", "Less.", of="wall", station=2.0).mended(
        Offer("Make it 2", "wall", 2.0, length=True)
    )
    told = wanted.in_fields({"wall": "thickness"}).message.as_dict()
    assert told["place"] == {"field": "thickness", "station": 2.0}
    assert told["remedies"] == [{"title": "Make it 2", "change": {"thickness": "2 mm"}}]
    plain = Problem("c", "None.", of="wall").mended(Offer("Without", "wall", None)).message
    assert plain.as_dict()["place"] == {"field": "wall"}
    assert restored(plain.stored()).as_dict() == plain.as_dict()
    assert plain.as_dict()["remedies"] == [{"title": "Without", "change": {"wall": None}}]
    named = Problem("c", "None.", of="wall").after("", field="own").in_fields({"wall": "thickness"}).message
    assert named.place == {"field": "own"}


def test_each_kind_has_the_fields_that_it_says_quantities_stand_in():
    known = {kind.name: dict(kind.quantities) for kind in registry.kinds().values() if kind.quantities}
    assert len(known) > 5
    for name, quantities in known.items():
        assert set(quantities.values()) <= set(registry.kinds()[name].model.model_fields)
        assert not set(quantities) & set(registry.kinds()[name].model.model_fields), "a field of its own name"


def imported(source, modules):
    """The modules of ours that a file imports, for its types alone as well."""
    found = set()
    for node in ast.walk(ast.parse(source.read_text())):
        if isinstance(node, ast.ImportFrom) and node.module is not None:
            whole = {f"{node.module}.{alias.name}" for alias in node.names}
            found |= (whole & modules) or {node.module} & modules
        elif isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names} & modules
    return found


def circle(root):
    """Files under a folder that import each other in a circle; none when there is no such circle."""
    files = {
        ".".join(path.relative_to(root).with_suffix("").parts).removesuffix(".__init__"): path
        for path in root.rglob("*.py")
    }
    try:
        list(TopologicalSorter({n: imported(p, files.keys()) - {n} for n, p in files.items()}).static_order())
    except CycleError as error:
        return error.args[1]
    return []


def test_no_files_import_each_other_in_a_circle(tmp_path):
    """Not for their types alone either: what is one thing stands in one file, and what builds on another in a layer."""
    assert circle(ROOT / "src") == []
    (tmp_path / "own").mkdir()
    (tmp_path / "own" / "__init__.py").touch()
    (tmp_path / "own" / "a.py").write_text(
        "from typing import TYPE_CHECKING\nif TYPE_CHECKING:\n    from own import b\n"
    )
    (tmp_path / "own" / "b.py").write_text("from own.a import A\n")
    assert set(circle(tmp_path)) == {"own.a", "own.b"}


def test_every_benchmark_finds_what_it_imports():
    assert importlib.import_module("benchmarks.__main__").MODULES
