"""The colours that bodies can be shown and saved in."""

from __future__ import annotations

from leadline.recipe.part import Colour, Part
from leadline.recipe.registry import kind_of, references

PALETTE: dict[Colour, str] = {
    "reed": "#9fb07c", "sea": "#6ea8a4", "brass": "#cfae72", "madder": "#c98a90", "ink": "#75818e", "chalk": "#e9e3d3",
}  # fmt: skip


def colours_of(part: Part) -> dict[str, str]:
    """The colour of each step's bodies as "#rrggbb", where it has one; copies have that of their source unless they have their own."""
    found: dict[str, str] = {}
    for step in part.steps:
        used = [step.id]
        if kind_of(step).gives == "copies":
            used += [to for _, to in references(step)][:1]
        known = next((PALETTE[part.colours[s]] for s in used if s in part.colours), None)
        known = known or next((found[s] for s in used[1:] if s in found), None)
        if known is not None:
            found[step.id] = known
    return found
