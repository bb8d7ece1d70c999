"""Reads from the marks on a step's model which steps it refers to, and what its numbers and texts mean."""

from __future__ import annotations

import inspect
import types
import typing
from collections.abc import Callable, Iterable, Iterator
from dataclasses import asdict
from functools import cache
from typing import Annotated, Any, Literal, TypeVar, Union

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from leadline.core.marks import Kept, Limit, Measure, Newest, Refers, Toleranced, When, Written
from leadline.recipe.given import given, renewed

Mark = TypeVar("Mark")
Own = TypeVar("Own", bound=BaseModel)


def references(model: BaseModel) -> list[tuple[str, str]]:
    """The steps that a step refers to, as (field, step id), each once and in the order of its fields.

    Fields that have no meaning as the others stand are left out.
    """
    return list(dict.fromkeys((name, value) for name, _, value in _under(model, Refers) if isinstance(value, str)))


def expressions(model: BaseModel) -> Iterator[tuple[str, str | None]]:
    """The texts of a model, however deep, that are expressions, each with the variable that it is a formula of; those
    of fields that have no meaning as the others stand are left out.
    """
    for _, mark, value in _under(model, Written):
        if isinstance(value, str):
            yield value, mark.variable


def with_expressions(model: Own, change: Callable[[str, str | None], str]) -> Own:
    """The model with each text in it that is an expression changed, also in fields that have no meaning as the others
    stand; ``change`` is given the text and the variable that it is a formula of. A model without any is left as it is.
    """
    hashable: Any = Written
    changed = {
        name: new
        for name, mark in _bearing(type(model), hashable)
        if (new := _changed(old := getattr(model, name), mark, change)) is not old
    }
    return model.model_copy(update=changed) if changed else model


def _changed(value: Any, mark: Written | None, change: Callable[[str, str | None], str]) -> Any:
    if isinstance(value, BaseModel):
        return with_expressions(value, change)
    if isinstance(value, list | tuple):
        new = [_changed(v, mark, change) for v in value]
        return value if all(a is b for a, b in zip(new, value, strict=True)) else type(value)(new)
    if mark is None or not isinstance(value, str):
        return value
    new_text = change(value, mark.variable)
    return value if new_text == value else renewed(value, new_text)


def bind(step: BaseModel) -> None:
    """Let each quantity of a step, however deep, know its place."""
    step.__dict__.update(_bound_fields(step, None))


def _bound_fields(model: BaseModel, top: str | None) -> dict[str, Any]:
    """The fields of a model in which quantities stand, bound, under the step's field ``top``, or each under its own."""
    measured: Any = Measure
    fields = type(model).model_fields
    return {
        name: _bound(model.__dict__[name], mark, label_of(name, fields[name]), top or name, _limit(type(model), name))
        for name, mark in _bearing(type(model), measured)
    }


def _bound(value: Any, mark: Measure | None, label: str, top: str, limit: Limit | None) -> Any:
    if isinstance(value, BaseModel):
        fields = _bound_fields(value, top)
        return value.model_copy(update=fields) if fields else value
    if isinstance(value, list | tuple):
        return type(value)([_bound(v, mark, label, top, limit) for v in value])
    if mark is None or isinstance(value, bool) or not isinstance(value, str | int | float):
        return value
    return given(value, mark.kind, label, top, limit)


def label_of(name: str, field: FieldInfo) -> str:
    """What a field is called on cards and in messages: its title, or else its name."""
    return field.title or name.replace("_", " ").capitalize()


def quantities(model: BaseModel) -> Iterator[tuple[str, str, Any]]:
    """The numbers of a measure in a model as (top field, kind, value), those too that stand deep in it; those of fields
    that have no meaning as the others stand are left out.
    """
    for name, mark, value in _under(model, Measure):
        if isinstance(value, int | float | str) and not isinstance(value, bool):
            yield name, mark.kind, value


def _under(model: BaseModel, kind: type[Mark], meant: bool = True) -> Iterator[tuple[str, Mark, Any]]:
    """What stands in a model's fields that bear a mark of a kind, however deep, as (top field, mark, value); only where
    the fields have a meaning, if ``meant``.
    """
    hashable: Any = kind
    for name, mark in _bearing(type(model), hashable):
        when = _when(type(model), name) if meant else None
        if when is None or getattr(model, when.field) in when.values:
            yield from ((name, own, value) for own, value in _in_value(getattr(model, name), mark, kind, meant))


def _in_value(value: Any, mark: Mark | None, kind: type[Mark], meant: bool) -> Iterator[tuple[Mark, Any]]:
    if isinstance(value, BaseModel):
        yield from ((own, inner) for _, own, inner in _under(value, kind, meant))
    elif isinstance(value, list | tuple):
        for item in value:
            yield from _in_value(item, mark, kind, meant)
    elif mark is not None:
        yield mark, value


@cache
def _bearing(model: type[BaseModel], kind: Any) -> tuple[tuple[str, Any], ...]:
    """The fields that bear a mark of a kind themselves, each with it, or in models that stand in them, with None: a
    sketch has thousands of others.
    """
    return tuple(
        (name, mark)
        for name, field in model.model_fields.items()
        if (mark := _first(_marks(field), kind)) is not None
        or any(_bearing(inner, kind) for inner in _models(field.annotation))
    )


def _models(annotation: Any) -> Iterator[type[BaseModel]]:
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        yield annotation
    for inner in typing.get_args(annotation):
        yield from _models(inner)


@cache
def _limit(model: type[BaseModel], name: str) -> Limit | None:
    """How small the quantities of a field may be."""
    return _first(_marks(model.model_fields[name]), Limit)


@cache
def _when(model: type[BaseModel], name: str) -> When | None:
    """When a field has a meaning; None if always."""
    return _first(_marks(model.model_fields[name]), When)


def _marks(field: FieldInfo) -> Iterator[Any]:
    yield from field.metadata
    yield from _inner_marks(field.annotation)


def _inner_marks(annotation: Any) -> Iterator[Any]:
    """The marks in an annotation, through lists and unions."""
    if typing.get_origin(annotation) is Annotated:
        yield from annotation.__metadata__
    if typing.get_origin(annotation) is not Literal:
        for inner in typing.get_args(annotation):
            yield from _inner_marks(inner)


def _first(marks: Iterable[Any], kind: type[Mark]) -> Mark | None:
    return next((m for m in marks if isinstance(m, kind)), None)


@cache
def _with_mark(model: type[BaseModel], kind: type[Mark]) -> tuple[tuple[str, Mark], ...]:
    """The fields of a model that bear a mark of a kind, each with it."""
    return tuple(
        (name, mark) for name, field in model.model_fields.items() if (mark := _first(_marks(field), kind)) is not None
    )


def kept(model: BaseModel) -> list[tuple[str, str]]:
    """What a step is made from that is kept beside the documents, as (what it is, its digest)."""
    return [(mark.what, str(getattr(model, name))) for name, mark in _with_mark(type(model), Kept)]


def follows(model: type[BaseModel]) -> bool:
    """Whether steps of a model may follow parts of the list."""
    return bool(_with_mark(model, Newest))


def newest_fields(model: BaseModel) -> list[tuple[str, str]]:
    """The fields of a step that name a part of the list, whether the step follows it or not, with the part's id."""
    return [(name, str(getattr(model, name))) for name, _ in _with_mark(type(model), Newest)]


def followed(model: BaseModel) -> list[tuple[str, str]]:
    """The parts of the list whose newest documents a step stands for, as (the field with the digest, the part's id)."""
    marked = _with_mark(type(model), Newest)
    return [
        (mark.kept, str(getattr(model, name)))
        for name, mark in marked
        if getattr(model, mark.when) and getattr(model, name)
    ]


def described(model: type[BaseModel]) -> dict[str, Any]:
    """The fields of a model by name, for whoever walks over documents without the models: JSON.

    A field has ``label``, ``default`` (none where one must be given), ``empty`` (whether it may be null), ``use`` (the
    ids in it are of steps, used as that), ``when`` (field and values with which it has a meaning), ``above`` or
    ``least`` (how small it may be, in mm, rad, turns or as a plain number), and one of

    - ``measure``: "length", "angle", "turns" or "number"; an expression may stand for it; ``toleranced`` beside it
      where it is a size that is made, of an angle the field that tells its shorter leg;
    - ``choice``: the texts that it may be;
    - ``type``: "switch", "count" or "text";
    - ``each``: what stands in it as in a list;
    - ``forms``: the models that may stand in it, each with its own ``fields`` and the ``tags`` that tell it from the
      others;
    - ``any``: several of these.
    """
    return {name: _described(name, field) for name, field in model.model_fields.items()}


def _described(name: str, field: FieldInfo) -> dict[str, Any]:
    marks = list(_marks(field))
    refers, when = _first(field.metadata, Refers) or _first(marks, Refers), _first(marks, When)
    found: dict[str, Any] = {"label": label_of(name, field), **_type(field.annotation, field.metadata)}
    if not field.is_required():
        found["default"] = _plain(field.get_default(call_default_factory=True))
    if refers is not None:
        found["use"] = refers.use
    limit = _first(marks, Limit)
    if limit is not None:
        found |= {name: value for name, value in asdict(limit).items() if value is not None}
    if when is not None:
        found["when"] = [when.field, list(when.values)]
    return found


def _plain(value: Any) -> Any:
    if isinstance(value, BaseModel):
        return value.model_dump(mode="json")
    return list(value) if isinstance(value, tuple) else value


def _type(annotation: Any, marks: Iterable[Any] = ()) -> dict[str, Any]:
    measure = _first(marks, Measure)
    if measure is not None:
        made = _first(marks, Toleranced)
        return {"measure": measure.kind, **({} if made is None else {"toleranced": made.leg or True})}
    origin, args = typing.get_origin(annotation), typing.get_args(annotation)
    if origin is Annotated:
        return _type(args[0], annotation.__metadata__)
    if origin in (Union, types.UnionType):
        return _of_union(args)
    if origin in (list, tuple):
        return {"each": _type(args[0])}
    if origin is Literal:
        return {"choice": list(args)}
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return {"forms": [_form(annotation)]}
    return {"type": {bool: "switch", int: "count", float: "count"}.get(annotation, "text")}


def _of_union(args: tuple[Any, ...]) -> dict[str, Any]:
    kinds = [_type(a) for a in args if a is not type(None)]
    forms = [form for kind in kinds for form in kind.get("forms", ())]
    others = [kind for kind in kinds if "forms" not in kind]
    together = [*others[: 1 if all(k == others[0] for k in others) else None], *([{"forms": forms}] if forms else [])]
    found = together[0] if len(together) == 1 else {"any": together}
    return {**found, "empty": True} if type(None) in args else found


@cache
def _form(model: type[BaseModel]) -> dict[str, Any]:
    literal = {
        n: typing.get_args(f.annotation)
        for n, f in model.model_fields.items()
        if typing.get_origin(f.annotation) is Literal
    }
    tags = {name: values[0] for name, values in literal.items() if len(values) == 1}
    fields = {name: field for name, field in described(model).items() if name not in tags}
    return {"tags": tags, "fields": fields, "title": summary_of(model)}


def summary_of(model: type[BaseModel]) -> str:
    """What a model is: the first paragraph of its docstring, as one line."""
    return " ".join(inspect.cleandoc(model.__doc__ or "").partition("\n\n")[0].split())
