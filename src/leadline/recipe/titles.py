"""Faces and edges in words, by their names and the names of the steps that made them."""

from __future__ import annotations

from collections.abc import Mapping

KINDS = {
    "cap/start": "start face",
    "cap/end": "end face",
    "side": "side",
    "inside": "inside face",
    "rim": "rim",
    "edge": "rounded edge",
    "corner": "rounded corner",
    "cut": "cut face",
    "top": "raised face",
}


def face_title(name: str, names: Mapping[str, str]) -> str:
    """A face in words, e.g. "end face of “Block”"."""
    owner, _, rest = name.partition("/")
    what = next((words for kind, words in KINDS.items() if rest == kind or rest.startswith(f"{kind}/")), "face")
    return f"{what} of “{names.get(owner, owner)}”"


def edge_title(name: str, names: Mapping[str, str]) -> str:
    """An edge in words, by the two faces that meet there."""
    return " and ".join(f"the {face_title(face, names)}" for face in name.split("&"))
