"""The colours that bodies can be shown and saved in."""

from __future__ import annotations

from leadline.recipe.part import Colour, Part
from leadline.recipe.registry import kind_of, references

PALETTE: dict[Colour, str] = {
    "reed": "#9fb07c",
    "sea": "#6ea8a4",
    "brass": "#cfae72",
    "madder": "#c98a90",
    "ink": "#75818e",
    "chalk": "#e9e3d3",
}


def colours_of(part: Part) -> dict[str, str]:
    """The colour of each step's bodies as "#rrggbb", where it has one; copies have that of their source unless they
    have their own.
    """
    found: dict[str, str] = {}
    for step in part.steps:
        own = part.colours.get(step.id)
        source = next((s for _, s in references(step)), "") if kind_of(step).gives == "copies" else ""
        colour = found.get(source) if own is None else PALETTE[own]
        if colour is not None:
            found[step.id] = colour
    return found
