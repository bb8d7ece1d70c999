"""Demo parts and sketches with changes that nobody makes on purpose: whatever comes, it is said in words."""

import copy
from functools import partial

import numpy as np
import pytest
from pydantic import ValidationError

from leadline.core.problems import Problem
from leadline.kinds.sketch.editing import begin_drag, edit_step, sketch_svg, solve_step
from leadline.recipe.build import Memory, build
from leadline.recipe.part_file import part_from
from tests.support.fuzzing import DEMOS, mutated, random_edit, with_other_names


@pytest.mark.parametrize("seed", range(4))
def test_mutated_parts_meet_no_unforeseen_error(seed):
    random, memory = np.random.default_rng(seed), Memory()
    for _ in range(60):
        document = mutated(random)
        try:
            part = part_from(document)
        except (Problem, ValidationError):
            continue
        for report in build(part, memory, quick=True).reports.values():
            assert all(m.code != "unexpected" for m in report.messages), (report.id, report.messages)


@pytest.mark.parametrize("seed", range(3))
def test_random_edits_meet_no_unforeseen_error(seed):
    random, memory = np.random.default_rng(seed), Memory()
    sketches = [(d, s) for d in DEMOS for s in d["steps"] if s["kind"] == "sketch"]
    for _ in range(80):
        document, step = sketches[int(random.integers(len(sketches)))]
        part = part_from(document)
        said = ""
        try:
            if random.random() < 0.2 and step["sketch"]["points"]:
                point = str(random.choice([p["id"] for p in step["sketch"]["points"]]))
                begin_drag(part, step["id"], memory)(
                    point, (float(random.uniform(-300, 300)), float(random.uniform(-300, 300)))
                )
            else:
                edit_step(part, step["id"], random_edit(step["sketch"], random), memory)
        except Problem as problem:
            said = problem.message.code
        except ValidationError:
            continue
        assert said != "unexpected"


def _dragged(part, step, memory, item):
    return begin_drag(part, step, memory)(item, (3.0, -4.0))


@pytest.mark.parametrize("seed", range(3))
def test_sketches_that_name_what_is_not_there_are_refused_in_words(seed):
    """Whatever is asked of them: to be solved, edited, dragged, or written as SVG."""
    random, memory = np.random.default_rng(seed), Memory()
    sketches = [
        (d, k) for d in DEMOS for k, s in enumerate(d["steps"]) if s["kind"] == "sketch" and s["sketch"]["points"]
    ]
    asked = 0
    while asked < 60:
        document, k = sketches[int(random.integers(len(sketches)))]
        document = copy.deepcopy(document)
        step = document["steps"][k]
        with_other_names(step["sketch"], random)
        try:
            part = part_from(document)
        except (Problem, ValidationError):
            continue
        edit = random_edit(step["sketch"], random)
        item = str(random.choice([e["id"] for e in step["sketch"]["entities"]] or ["gone"]))
        for ask in (
            partial(solve_step, part, step["id"], memory, added="k1"),
            partial(edit_step, part, step["id"], edit, memory),
            partial(sketch_svg, part, step["id"]),
            partial(_dragged, part, step["id"], memory, item),
        ):
            asked += 1
            said = ""
            try:
                ask()
            except ValidationError:
                continue
            except Problem as problem:
                said = problem.message.code
            assert said != "unexpected", (document["name"], step["id"], edit)
