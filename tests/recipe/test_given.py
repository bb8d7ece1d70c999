"""Quantities of steps know their place: measure, label and field, through all that is done with a document."""

import copy
import json
import pickle
import warnings

import pytest

from leadline.core.values import Scope
from leadline.recipe.build import build
from leadline.recipe.context import Context
from leadline.recipe.fields import bind, label_of, quantities, with_expressions
from leadline.recipe.given import Given, Unbound, label
from leadline.recipe.registry import kinds
from tests.support.parts import DEMO, demo, part

STEPS = [(file.stem, step) for file in sorted(DEMO.glob("*.json")) for step in demo(file.stem).steps]


def told(step):
    """Field, measure, label and value of each quantity of a step."""
    return [(value.field, value.measure, value.label, value) for _, _, value in quantities(step)]


def test_every_quantity_of_the_demo_parts_knows_its_place():
    count = 0
    for _, step in STEPS:
        for field, measure, value in quantities(step):
            assert isinstance(value, Given)
            assert (value.field, value.measure) == (field, measure)
            assert value.label
            count += 1
    assert count > 500


def test_a_bound_document_is_written_as_it_was_read():
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        for _, step in STEPS:
            plain = json.loads(step.model_dump_json())
            assert plain == step.model_dump(mode="json") == json.loads(json.dumps(step.model_dump()))
            again = type(step).model_validate(plain)
            assert again == step
            assert told(again) == told(step)


@pytest.mark.parametrize("same", [copy.deepcopy, lambda s: pickle.loads(pickle.dumps(s)), lambda s: s.model_copy()])
def test_what_is_known_of_a_quantity_survives_copies(same):
    for _, step in STEPS:
        assert told(same(step)) == told(step)


def test_a_renamed_expression_keeps_its_place():
    changed = 0
    for _, step in STEPS:
        other = with_expressions(step, lambda text, _: f"({text})")
        for (field, measure, name, value), (*same, text) in zip(told(step), told(other), strict=True):
            assert same == [field, measure, name]
            assert text == (f"({value})" if isinstance(value, str) else value)
            changed += isinstance(value, str)
    assert changed > 20


def test_a_number_that_stands_in_no_field_is_refused():
    context = Context(Scope())
    for unplaced in (5, 5.0, "5 mm"):
        with pytest.raises(Unbound):
            context.value(unplaced)
    assert context.given(None) is context.given("") is None


@pytest.mark.parametrize("kind", kinds().values(), ids=kinds())
def test_no_two_fields_of_a_kind_have_one_label(kind):
    names = [label_of(n, f) for n, f in kind.model.model_fields.items() if n not in ("id", "name", "off", "kind")]
    assert len(set(names)) == len(names)


def first_of_each_kind():
    seen = {}
    for name, step in STEPS:
        for field, _, value in quantities(step):
            if value == getattr(step, field):  # those that stand in the step itself
                seen.setdefault((step.kind, field), (name, step))
    return [pytest.param(*v, field, id=f"{kind}-{field}") for (kind, field), v in seen.items()]


@pytest.mark.parametrize(("name", "step", "field"), first_of_each_kind())
def test_what_is_wrong_with_a_quantity_is_told_with_its_label_at_its_field(name, step, field):
    document = demo(name).model_dump(mode="json")
    (own,) = (s for s in document["steps"] if s["id"] == step.id)
    own[field] = "no_such_value*2"
    built = build(part(document), quick=True, until=step.id)
    (message,) = [m for m in built.reports[step.id].messages if m.level == "error"]
    assert message.place["field"] == field
    assert message.text.startswith(f"{label(getattr(step, field))}: ")


def test_binding_twice_changes_nothing():
    for _, step in STEPS[:50]:
        before = told(step)
        bind(step)
        assert told(step) == before
