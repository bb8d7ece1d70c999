"""Named values and measured paths in expressions: which steps use them, and how they are called by another name."""

from __future__ import annotations

import ast
import copy
import json
import re

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from leadline.core.expressions import RESERVED, as_python, measured_step, measures, names_used, renamed, words
from leadline.core.problems import Problem
from leadline.recipe.build import Memory, build
from leadline.recipe.names import rename_step, rename_value
from leadline.recipe.part_file import part_from
from leadline.recipe.registry import kind_of, references
from tests.support.parts import DEMO, bar, part

DEMOS = sorted(p for p in DEMO.glob("*.json") if "long-way" not in p.stem)
NAMES = ("id", "name", "face", "edge")  # fields of documents whose texts are no expressions
UNUSED = ("a", "wall", "size", "e5", "t", "kind", "mm2", "line")
WORDS = st.sampled_from(["wall", "a", "e5", "x1", "bead", "mm", "deg", "pi", "sqrt", "t", "E3"])
PIECES = st.one_of(
    WORDS,
    st.sampled_from(
        ["2", "1e5", "3.5", ".5", "2E3", "1e-3", "(", ")", " ", "+", "-", "*", "/", "^", " mm", "length(A)"]
    ),
)


def leaves(node, path=()):
    """All places of a document, however deep, with what stands there."""
    if isinstance(node, dict):
        for key, value in node.items():
            yield from leaves(value, (*path, key))
    elif isinstance(node, list):
        for i, value in enumerate(node):
            yield from leaves(value, (*path, i))
    else:
        yield path, node


def at(node, path):
    for key in path:
        node = node[key]
    return node


def put(node, path, value):
    for key in path[:-1]:
        node = node[key]
    node[path[-1]] = value


def built(document):
    """What each step gave in a build that plans alone, by its id, and the memory that has it."""
    products = {}
    build(part_from(document), built.memory, quick=True, products=products)
    return products


def reads_all(step):
    return kind_of(step).reads_bodies(step) or kind_of(step).reads_motions


def after(document, changed):
    """The steps that may differ where some have changed: those that name one of them, or measure it, and those that
    read all that is swept before them.
    """
    found, bodies = set(changed), False
    for step in part_from(document).steps:
        texts = [str(value) for _, value in leaves(step.model_dump(mode="json"))]
        named = {piece for text in texts for piece in re.split("[/&:]", text)}
        measured = {name for text in texts for name in measures(text)}
        titles = {s["name"] for s in document["steps"] if s["id"] in found}
        if named & found or measured & titles or (bodies and reads_all(step)):
            found.add(step.id)
        bodies = bodies or step.id in found
    return found


@pytest.mark.parametrize("file", DEMOS, ids=lambda p: p.stem)
def test_exactly_the_steps_that_use_a_value_are_built_again(file):
    """Each value of a demo part is changed, values that nothing uses, and one that stands in random fields of it."""
    document = json.loads(file.read_bytes())
    own = {v["name"] for v in document.get("values", [])}
    document["values"] = document.get("values", []) + [
        {"name": name, "value": 1, "note": ""} for name in UNUSED if name not in own
    ]
    built.memory = Memory()
    known = built(document)
    moved = copy.deepcopy(document)
    for value in moved["values"]:
        if value["name"] not in own:
            value["value"] = 2
    assert all(product is known[step] for step, product in built(moved).items())
    for name in own:
        users = users_of(document, name)
        moved = copy.deepcopy(document)
        value = next(v for v in moved["values"] if v["name"] == name)
        value["value"] = f"1.0001 * ({value['value']})"
        assert_exactly(document, users, known, built(moved), name)
    name = next(name for name in ("wall", "size", "e5") if name not in own)
    placed, users = with_value_in(document, name, np.random.default_rng(len(file.stem)))
    before = built(placed)
    moved = copy.deepcopy(placed)
    next(v for v in moved["values"] if v["name"] == name)["value"] = 1.0001
    assert_exactly(placed, users, before, built(moved), name)


def users_of(document, name):
    """The steps with a text that has the name, and is not the id of a step that is referred to."""
    found = set()
    for step in part_from(document).steps:
        referred = set(references(step))
        texts = [(path[0], v) for path, v in leaves(step.model_dump(mode="json")) if path[-1] not in NAMES]
        if any(name in spoken(text) for field, text in texts if (field, text) not in referred):
            found.add(step.id)
    return found


def spoken(text):
    """The names in a text as Python parses it; none where it cannot."""
    try:
        if not isinstance(text, str):
            return set()
        return {node.id for node in ast.walk(ast.parse(as_python(text), mode="eval")) if isinstance(node, ast.Name)}
    except SyntaxError:
        return set()


def with_value_in(document, name, random):
    """The document with ``name`` times what stood there in a few of its sizes, and the steps that these are of."""
    changed, users = copy.deepcopy(document), set()
    sizes = [(k, path) for k, s in enumerate(document["steps"]) for path, v in leaves(s) if isinstance(v, float)]
    for i in random.permutation(len(sizes))[:8]:
        k, path = sizes[i]
        tried = copy.deepcopy(changed)
        put(tried["steps"][k], path, f"{name} * {at(document['steps'][k], path)!r}")
        try:
            part_from(tried)
        except (Problem, ValueError):  # no expression can stand there
            continue
        changed = tried
        users.add(document["steps"][k]["id"])
    return changed, users


def assert_exactly(document, users, before, now, name):
    """``users`` are the steps whose fields use a value; those that mean nothing as the others stand do not count."""
    told = build(part_from(document), built.memory, quick=True).reports
    again = {step for step in now if now[step] is not before.get(step)}
    assert {step for step in users & now.keys() if name in told[step].values} <= again, name
    assert {step for step in told if name in told[step].values} >= {step for step in users if step in again}, name
    assert again <= after(document, users), name


@given(st.lists(PIECES, min_size=1, max_size=12))
@settings(max_examples=400)
def test_the_words_of_an_expression_are_the_names_that_python_reads(pieces):
    text = "".join(pieces)
    source = as_python(text.replace("length(A)", "0.5"))
    try:
        tree = ast.parse(source, mode="eval")
    except SyntaxError:
        return
    called = {id(node.func) for node in ast.walk(tree) if isinstance(node, ast.Call)}
    read = {node.id for node in ast.walk(tree) if isinstance(node, ast.Name) and id(node) not in called}
    assert names_used(text) == {name for name in read if name not in RESERVED and not name.startswith("_")}


@given(st.lists(PIECES, min_size=1, max_size=12), st.sampled_from(["wall", "a", "e5", "x1"]))
def test_a_new_name_stands_wherever_the_old_one_stood_and_back_again(pieces, old):
    text = "".join(pieces)
    other = called(text, old, "brandnew")
    assert [w.name for w in words(other)] == [
        "brandnew" if w.name == old and w.kind == "value" else w.name for w in words(text)
    ]
    assert called(other, "brandnew", old) == text


def called(text, old, new):
    return renamed(text, "value", lambda name: new if name == old else name)


@pytest.mark.parametrize("file", [p for p in DEMOS if json.loads(p.read_bytes()).get("values")], ids=lambda p: p.stem)
def test_a_part_whose_values_are_renamed_builds_as_before(file):
    """Back by the old name it is the very same document."""
    own = part_from(json.loads(file.read_bytes()))
    for value in own.values:
        other = rename_value(own, value.name, "quite_another")
        plain = build(own, Memory(), quick=True)
        called = build(other, Memory(), quick=True)
        assert {k: r.figure for k, r in plain.reports.items()} == {k: r.figure for k, r in called.reports.items()}
        assert {k: r.state for k, r in plain.reports.items()} == {k: r.state for k, r in called.reports.items()}
        assert value.name not in {n for r in called.reports.values() for n in r.values}
        assert rename_value(other, "quite_another", value.name) == own


def with_values(*values, **fields):
    document = bar()
    document["values"] = [{"name": n, "value": v, "note": ""} for n, v in values]
    document["steps"][-1].update(fields)
    return part(document)


@pytest.mark.parametrize(
    ("new", "code"),
    [
        ("b", "name-twice"),
        ("mm", "bad-name"),
        ("2x", "bad-name"),
        ("sqrt", "bad-name"),
        ("", "bad-name"),
        ("lambda", "bad-name"),
        ("a" * 41, "bad-name"),
    ],
)
def test_a_value_is_not_called_what_no_value_can_be(new, code):
    with pytest.raises(Problem) as found:
        rename_value(with_values(("a", 1), ("b", 2)), "a", new)
    assert found.value.message.code == code
    assert found.value.message.place["field"] == "to"


def test_a_value_that_is_not_there_or_there_twice_is_not_renamed():
    with pytest.raises(Problem, match="no value"):
        rename_value(with_values(("a", 1)), "b", "c")
    with pytest.raises(Problem, match="no value"):
        rename_value(with_values(("a", 1), ("a", 2)), "a", "c")


def test_an_expression_that_would_get_too_long_is_told():
    long = " + ".join(["a"] * 70)
    with pytest.raises(Problem, match="characters"):
        rename_value(with_values(("a", 1), ("b", long)), "a", "a_name_that_is_long")


def test_a_formula_s_own_variable_is_no_value():
    plane = {"kind": "principal", "plane": "XY"}
    shape = {"by": "formula", "plane": plane, "x": "10*t", "y": "wall*t", "z": 0}
    curve = {"kind": "curve", "id": "c", "name": "Curve", "shape": shape}
    document = {"format": "leadline-part", "version": 1, "name": "P", "steps": [curve]}
    document["values"] = [{"name": "t", "value": 5, "note": ""}, {"name": "wall", "value": 2, "note": ""}]
    own = part(document)
    assert build(own).reports["c"].values == ["wall"]
    other = rename_value(own, "t", "time")
    assert other.steps[0].shape.x == "10*t"
    with pytest.raises(Problem, match="formula of t"):
        rename_value(rename_value(own, "t", "time"), "wall", "t")


def test_letters_that_only_look_like_those_of_a_name_are_refused():
    """Python would read them as that name, which no search for it finds."""
    own = with_values(("wall", 2), ("b", "ｗall * 2"))
    assert [m.code for m in build(own, quick=True).messages] == ["unreadable"]


def measuring():
    document = bar()
    document["steps"][0]["name"] = "Route"
    document["values"] = [{"name": "half", "value": "length(Route) / 2", "note": ""}]
    return document


def test_a_step_that_is_renamed_is_measured_by_its_new_name():
    own = part(measuring())
    other = rename_step(own, own.steps[0].id, "Way")
    assert other.steps[0].name == "Way"
    assert other.values[0].value == "length(Way) / 2"
    assert rename_step(other, own.steps[0].id, "Route") == own


@pytest.mark.parametrize("new", ["Way (old)", "taken"])
def test_a_step_whose_name_would_mean_another_is_measured_by_its_id(new):
    document = measuring()
    document["steps"][1]["name"] = "Way"
    document["steps"].insert(0, {**copy.deepcopy(document["steps"][0]), "id": "first", "name": "taken"})
    own = part(document)
    other = rename_step(own, own.steps[1].id, new)
    assert other.values[0].value == f"length({own.steps[1].id}) / 2"


@pytest.mark.parametrize("moved", [0, 1])
def test_steps_that_are_measured_together_are_not_taken_for_each_other(moved):
    """One gets the name that the other has: both go on being measured, whichever comes first."""
    document = bar()
    document["steps"][0]["name"] = "A"
    document["steps"].insert(1, {**copy.deepcopy(document["steps"][0]), "id": "second", "name": "B"})
    document["values"] = [{"name": "both", "value": "length(A) - 2*length(B)", "note": ""}]
    own = part(document)
    ids = [own.steps[0].id, own.steps[1].id]
    other = rename_step(own, ids[moved], "BA"[moved])
    names = {s.id: s.name for s in other.steps}
    assert [measured_step(names, n) for n in measures(other.values[0].value)] == ids


def test_the_longest_name_that_a_document_takes_is_one_that_a_value_can_be_given():
    own = rename_value(with_values(("a", 1), ("b", "2*a")), "a", "a" * 40)
    assert part(own.model_dump(mode="json")) == own
