"""What steps share that take bodies of earlier steps and change them."""

from __future__ import annotations

from collections.abc import Sequence

from leadline.core.problems import Problem, Remedy
from leadline.core.solids.body import Body
from leadline.recipe.context import Context
from leadline.recipe.kept_body import KeptBody
from leadline.recipe.registry import kind_of

WHOLE = ("body", "source")  # fields that are one step
MOST_OFFERED = 3  # bodies that are there, where the one that is asked for is not
MOST_SOLIDS = 500  # copies that are solids of their own


def solids_of(context: Context, source: str, field: str, rows: bool = False) -> list[KeptBody]:
    """The solids that an earlier step has in the part as it is; with ``rows`` those too that stand for copies, and what
    stands with these as the first of them.

    Raises Problem.
    """
    steps = _first_of(context, source) if rows else [source]
    own = [
        k
        for step in steps
        for k in context.bodies
        if k.step == step and (rows or k.places is None) and not k.body.sheet
    ]
    if not own:
        name = context.names.get(source, source)
        there = (
            dict.fromkeys(k.step for k in context.bodies if not k.body.sheet and k.step in context.names)
            if field in WHOLE
            else ()
        )
        remedies = [Remedy(f"Take “{context.names.get(s, s)}”", {field: s}) for s in list(there)[-MOST_OFFERED:]]
        raise Problem(
            "no-body",
            f"There is no solid of “{name}” before this step.",
            "Pick another body.",
            field=field,
            source=source,
        ).mended(*remedies)
    return own


def _first_of(context: Context, source: str) -> list[str]:
    """The steps that one of copies stands with, the first one first, and the step itself."""
    found = [source]
    while (
        first := kind_of(context.steps[found[0]]).stands_with(context.steps[found[0]])
    ) is not None and first in context.steps:
        found.insert(0, first)
    return found


def singles(bodies: Sequence[KeptBody], field: str) -> list[Body]:
    """Bodies, each of their copies as one of its own. Raises Problem when these are too many."""
    if any(kept.places is not None for kept in bodies):
        refuse_many(sum(kept.count for kept in bodies), field)
    return [body for kept in bodies for body in kept.each()]


def refuse_many(count: int, field: str) -> None:
    """Raises Problem when so many copies are to be solids of their own."""
    if count > MOST_SOLIDS:
        raise Problem(
            "too-many-copies",
            f"These are {count} copies that are solids of their own.",
            f"Ask for at most {MOST_SOLIDS}, or for rigid separate copies.",
            field=field,
        )
