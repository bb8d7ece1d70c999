"""The rooms of the kinds of step: nothing outside names a kind, and what is said of fields is what their models say."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from leadline.recipe.registry import kinds
from leadline.recipe.rooms import builder_of

ROOT = Path(__file__).resolve().parents[2]
OUTSIDE = [
    p
    for part in ("recipe", "exports", "worker", "server", "core")
    for p in sorted((ROOT / "src/leadline" / part).rglob("*.py"))
]


@pytest.mark.parametrize("source", OUTSIDE, ids=lambda p: str(p.relative_to(ROOT / "src/leadline")))
def test_nothing_outside_the_rooms_names_a_kind(source):
    """The core has words of geometry, such as a helix or a curve, but no step's."""
    text = source.read_text()
    assert not re.search(r"(from|import) leadline\.kinds\.\w", text)
    steps = {kind.model.__name__ for kind in kinds().values()}
    assert not steps & set(re.findall(r"\b\w+Step\b", text))
    if "core" not in source.parts:  # there "kind" is that of a piece or an entity
        assert not re.search(rf'\bkind\b\W{{1,12}}"({"|".join(kinds())})"|kinds\(\)\["', text)


WEB = ROOT / "web/src"
SCREEN = [p for p in sorted(WEB.rglob("*.ts*")) if "gen" not in p.name.split(".") and "test" not in p.name.split(".")]
WORDS = {
    "path",
    "plane",
    "edges",
    "curve",
    "crossing",
    "route",
    "sketch",
}  # of kinds that are words of the trade, or of the screen, as well


def own_room(source):
    """The kind whose room a file of the front end is in; none of one that is in no room."""
    place = source.relative_to(WEB).parts
    return place[1] if place[0] == "kinds" and len(place) > 2 else None


@pytest.mark.parametrize("source", SCREEN, ids=lambda p: str(p.relative_to(WEB)))
def test_no_part_of_the_screen_names_a_kind_that_is_not_its_own(source):
    """The files beside the rooms (where several kinds make something together) take from them, but know no kind by name
    either.
    """
    text = source.read_text()
    others = "|".join(sorted(set(kinds()) - {own_room(source)}))
    assert not re.search(rf'\bkind\b[^\n"]{{0,12}}"({others})"|\bStepOf<"({others})">|\broomOf\("', text)
    if "kinds" not in source.relative_to(WEB).parts:
        known = sorted(set(kinds()) - WORDS - {source.parent.name})  # a sheet may have the name of a kind
        assert not re.search(rf'"({"|".join(known)})"', text)
        assert not re.search(rf"\b({'|'.join(k.model.__name__ for k in kinds().values())})\b", text)
        assert not re.search(rf'from "[./]+kinds/({others})/', text)


def test_every_room_holds_a_model_and_a_builder():
    for name, kind in kinds().items():
        room = ROOT / "src/leadline/kinds" / name
        assert kind.name == name
        assert callable(builder_of(kind))
        assert {p.name for p in room.glob("*.py")} >= {"__init__.py", "model.py", "build.py"}
        assert set(kind.carried) | set(kind.rebuilds) <= set(kind.model.model_fields)
