"""Reading and writing part files, with clear refusals."""

from __future__ import annotations

import json

from pydantic import ValidationError

from leadline.core.problems import Problem
from leadline.recipe.part import FORMAT, Part
from leadline.recipe.upgrades import upgraded

MAX_BYTES = 8_000_000


def read_part(data: bytes | str) -> Part:
    """A part from the text of a part file.

    Raises:
        Problem: too large, not JSON, not a part, or a field that does not fit (named by its place).
    """
    if len(data) > MAX_BYTES:
        raise Problem(
            "too-large",
            f"The part file has {len(data) / 1e6:.1f} MB.",
            f"A part file is at most {MAX_BYTES / 1e6:.0f} MB.",
        )
    try:
        document = json.loads(data)
    except (ValueError, RecursionError) as error:
        line = f" (line {error.lineno})" if isinstance(error, json.JSONDecodeError) else ""
        raise Problem(
            "not-json", f"The file is not readable JSON{line}.", "Open a part file that was saved here."
        ) from None
    return part_from(document)


def part_from(document: object) -> Part:
    """A part from parsed JSON, which may be of a former version. Raises Problem naming the first field that does not fit."""
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise Problem("not-a-part", "The file is not a Lead Line part.", "Open a part file that was saved here.")
    try:
        return Part.model_validate(upgraded(document))
    except ValidationError as error:
        raise Problem("bad-field", *describe_invalid(error), field=_place(error)) from None


def describe_invalid(error: ValidationError) -> tuple[str, str]:
    """What is wrong and the way out, for the first of a validation's errors."""
    first = error.errors()[0]
    more = f" ({error.error_count() - 1} more)" if error.error_count() > 1 else ""
    return f"{_place(error) or 'The part'}: {first['msg']}{more}.", "Correct that field in the file."


def _place(error: ValidationError) -> str:
    return ".".join(str(p) for p in error.errors()[0]["loc"])


def write_part(part: Part) -> str:
    """The text of a part file."""
    return json.dumps(part.model_dump(mode="json", exclude_defaults=False), indent=1, ensure_ascii=False) + "\n"
