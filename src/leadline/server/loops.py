"""Parts that would hold themselves: what a document places, and whether that leads back to its own part."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import cache
from typing import Any

from pydantic import ValidationError

from leadline.core.problems import Problem
from leadline.recipe.fields import followed, follows
from leadline.recipe.registry import kinds

Document = dict[str, Any]


@cache
def kinds_that_follow() -> frozenset[str]:
    """The kinds of steps that may follow parts of the list."""
    return frozenset(name for name, kind in kinds().items() if follows(kind.model))


def placed_in(document: Document) -> set[str]:
    """The ids of the parts that a document follows. A step that cannot be read follows none."""
    found: set[str] = set()
    for step in document.get("steps", []):
        if isinstance(step, dict) and step.get("kind") in kinds_that_follow():
            try:
                found |= {other for _, other in followed(kinds()[step["kind"]].model.model_validate(step))}
            except ValidationError:
                continue
    return found


def refuse_loops(
    title: str, part_id: str, placed: Iterable[str], document_of: Callable[[str], Document | None]
) -> None:
    """Raises Problem when one of the parts that are ``placed`` in a part holds it, directly or through others, each of
    which is looked at once.
    """
    waiting: list[tuple[str, list[str]]] = [(other, [title]) for other in placed]
    seen: set[str] = set()
    while waiting:
        other, names = waiting.pop()
        if other == part_id:
            raise Problem(
                "placed-in-itself",
                f"“{title}” would hold itself: {' holds '.join([*names, title])}.",
                "Place another part.",
                field="part",
            )
        if other in seen:
            continue
        seen.add(other)
        document = document_of(other)
        if document is not None:
            waiting += [(inner, [*names, str(document.get("name", other))]) for inner in sorted(placed_in(document))]
