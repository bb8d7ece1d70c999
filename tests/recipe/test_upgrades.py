"""Documents of former versions open: step by step to today's form, and nothing of them is lost."""

from __future__ import annotations

from typing import get_args

import pytest

from leadline.core.problems import Problem
from leadline.recipe.part import Part
from leadline.recipe.part_file import part_from
from leadline.recipe.upgrades import VERSION, chain, upgraded
from tests.support.parts import bar
from tests.support.stored import STORED


def second(document):
    """A made-up change of form: the part's name is called its title."""
    rest = {k: v for k, v in document.items() if k != "name"}
    return {**rest, "title": document["name"]}


def third(document):
    """Another: steps that are switched off say that they are not on."""
    return {
        **document,
        "steps": [
            {**{k: v for k, v in s.items() if k != "off"}, "on": not s.get("off", False)} for s in document["steps"]
        ],
    }


STEPS = {1: second, 2: third}


def test_a_document_goes_through_every_version_between_its_own_and_todays():
    old = bar()
    new = upgraded(old, 3, STEPS)
    assert new["version"] == 3
    assert new["title"] == "Bar"
    assert {s["on"] for s in new["steps"]} == {True}
    assert old == bar(), "the stored document is left as it was"
    assert upgraded({**second(old), "version": 2}, 3, STEPS) == new
    assert upgraded(new, 3, STEPS) is new


@pytest.mark.parametrize(
    ("version", "way_out"),
    [
        (4, "newer program"),
        (0, "saved here"),
        (-1, "saved here"),
        ("1", "saved here"),
        (None, "saved here"),
        (True, "saved here"),
        (1.5, "saved here"),
    ],
)
def test_a_version_that_is_not_known_is_refused_with_the_way_out(version, way_out):
    with pytest.raises(Problem) as refused:
        upgraded({**bar(), "version": version}, 3, STEPS)
    assert refused.value.message.code == "version"
    assert way_out in refused.value.message.way_out


def test_there_is_an_upgrade_from_every_former_version_and_stored_parts_of_each():
    assert set(chain()) == set(range(1, VERSION))
    assert get_args(Part.model_fields["version"].annotation) == (VERSION,)
    assert {f"v{n}" for n in range(1, VERSION + 1)} <= {p.name for p in STORED.iterdir() if p.is_dir()}


def test_opening_a_part_looks_at_its_version():
    with pytest.raises(Problem, match=f"reads up to {VERSION}"):
        part_from({**bar(), "version": VERSION + 1})
