"""Demo parts and sketches with changes that nobody makes on purpose: whatever comes, it is said in words."""

import numpy as np
import pytest
from pydantic import ValidationError

from leadline.core.problems import Problem
from leadline.kinds.sketch.editing import begin_drag, edit_step
from leadline.recipe.build import Memory, build
from leadline.recipe.part_file import part_from
from tests.core.fuzzing import DEMOS, mutated, random_edit


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
                begin_drag(part, step["id"], memory)(point, (float(random.uniform(-300, 300)), float(random.uniform(-300, 300))))
            else:
                edit_step(part, step["id"], random_edit(step["sketch"], random), memory)
        except Problem as problem:
            said = problem.message.code
        except ValidationError:
            continue
        assert said != "unexpected"
