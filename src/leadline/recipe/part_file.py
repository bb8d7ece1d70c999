"""Reading and writing part files, with clear refusals."""

from __future__ import annotations

import json
import re

from pydantic import ValidationError

from leadline.core.problems import Problem
from leadline.limits import DOCUMENT_BYTES, DOCUMENT_DEPTH, PART_FILE_BYTES
from leadline.recipe.part import FORMAT, Part
from leadline.recipe.upgrades import upgraded

UNKEPT = re.compile("[\\0\\ud800-\\udfff]")  # characters that no database keeps as text


def read_part(data: bytes | str) -> Part:
    """A part from the text of a part file.

    Raises:
        Problem: too large, not JSON, not a part, or a field that does not fit (named by its place).
    """
    if len(data) > PART_FILE_BYTES:
        raise Problem(
            "too-large",
            f"The part file has {len(data) / 1e6:.1f} MB.",
            f"A part file is at most {PART_FILE_BYTES / 1e6:.0f} MB.",
        )
    refuse_crowded(data)
    try:
        document = json.loads(data)
    except (ValueError, RecursionError) as error:
        line = f" (line {error.lineno})" if isinstance(error, json.JSONDecodeError) else ""
        raise Problem(
            "not-json", f"The file is not readable JSON{line}.", "Open a part file that was saved here."
        ) from None
    _check_texts(document)
    return part_from(document)


def refuse_crowded(data: bytes | str) -> None:
    """Raises Problem at JSON that has more lists, fields and values than a part's document may have bytes: counted,
    before anything is made of it.
    """
    marks = ("[", "{", ",", ":")
    found = sum(data.count(m) for m in marks) if isinstance(data, str) else sum(data.count(m.encode()) for m in marks)
    if found > DOCUMENT_BYTES:
        raise Problem(
            "too-large",
            f"The part has more than {DOCUMENT_BYTES / 1e6:.0f} MB.",
            f"A part is at most {DOCUMENT_BYTES / 1e6:.0f} MB: split it into several.",
        )


def part_from(document: object) -> Part:
    """A part from parsed JSON, which may be of a former version.

    Raises Problem naming the first field that does not fit.
    """
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise Problem("not-a-part", "The file is not a Lead Line part.", "Open a part file that was saved here.")
    try:
        return Part.model_validate(upgraded(document))
    except ValidationError as error:
        raise Problem("bad-field", *describe_invalid(error), field=field_of(error)) from None


def check_document(document: object) -> None:
    """What the models do not look at.

    Raises Problem when it is too large, too deep, or has a text that cannot be kept.
    """
    _check_texts(document)
    size = len(json.dumps(document, ensure_ascii=False).encode())
    if size > DOCUMENT_BYTES:
        raise Problem(
            "too-large",
            f"The part has {size / 1e6:.1f} MB.",
            f"A part is at most {DOCUMENT_BYTES / 1e6:.0f} MB: split it into several.",
        )


def _check_texts(document: object) -> None:
    """Raises Problem at a text with a NUL or half a character in it, or where lists and fields stand too deep in each
    other.
    """
    found = _wrong_in(document, 0)
    if found is None:
        return
    code, steps = found
    place = ".".join(reversed(steps))
    if code == "too-deep":
        raise Problem(
            "too-deep",
            f"{place[:60]}: lists and fields stand more than {DOCUMENT_DEPTH} deep in each other.",
            "Open a part file that was saved here.",
        )
    raise Problem("bad-text", f"{place}: the text has a character that cannot be kept.", "Type it anew.", field=place)


def _wrong_in(value: object, depth: int) -> tuple[str, list[str]] | None:
    """What is wrong in a value, and the way to it from the inside out; the way is only told where something is wrong,
    as there may be millions of places.
    """
    if isinstance(value, str):
        return ("bad-text", []) if UNKEPT.search(value) else None
    if not isinstance(value, dict | list):
        return None
    if depth >= DOCUMENT_DEPTH:
        return "too-deep", []
    for key, inner in value.items() if isinstance(value, dict) else enumerate(value):
        if isinstance(key, str) and UNKEPT.search(key):
            return "bad-text", [repr(key)]
        if isinstance(inner, str | dict | list):
            found = _wrong_in(inner, depth + 1)
            if found is not None:
                found[1].append(str(key))
                return found
    return None


def describe_invalid(error: ValidationError) -> tuple[str, str]:
    """What is wrong and the way out, for the first of a validation's errors."""
    first = error.errors()[0]
    more = f" ({error.error_count() - 1} more)" if error.error_count() > 1 else ""
    return f"{field_of(error) or 'The part'}: {first['msg']}{more}.", "Correct that field in the file."


def field_of(error: ValidationError) -> str:
    """The place of the first of a validation's errors, e.g. ``steps.0.name``."""
    return ".".join(str(p) for p in error.errors()[0]["loc"])


def write_part(part: Part) -> str:
    """The text of a part file."""
    return json.dumps(part.model_dump(mode="json", exclude_defaults=False), indent=1, ensure_ascii=False) + "\n"
