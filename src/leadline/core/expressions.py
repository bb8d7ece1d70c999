"""The text of an expression: what its words are, and how Python is to read it.

An expression is arithmetic with numbers, units, named values and lengths of paths: ``12 + wall*2``, ``3/8 in``,
``length(Route) / 2``. Python's own parser reads it, once units are put in a form that is Python: see ``as_python``.
"""

from __future__ import annotations

import ast
import keyword
import re
from collections.abc import Callable, Collection, Mapping
from typing import Literal, NamedTuple

from leadline.core.problems import Problem
from leadline.core.quantities import FUNCTIONS
from leadline.core.units import ANGLE_UNITS, LENGTH_UNITS

Expression = float | int | str
MAX_TEXT = 300  # characters of an expression
MAX_NAME = 40  # characters of a value's name
UNIT_NAMES = {name: f"_unit_{i}" for i, name in enumerate([*LENGTH_UNITS, *ANGLE_UNITS])}
_NUMBER = r"(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?"
_FIRST = r"(?<![\w.])"  # a number begins here; it is not the end of a name or of another number
_UNIT = "(" + "|".join(sorted(map(re.escape, UNIT_NAMES), key=len, reverse=True)) + r")(?![\w(])"
_MIXED = r"(\d+)\s+(\d+)\s*/\s*(\d+)"  # 3 1/2
_INCHES = rf"(?:{_MIXED}|(\d+)\s*/\s*(\d+)|({_NUMBER}))\s*(?:\"|”)"
_FEET = re.compile(rf"{_FIRST}({_NUMBER})\s*(?:'|’)\s*(?:-?\s*{_INCHES})?")
_INCH_MARK = re.compile(rf"{_FIRST}{_INCHES}")
_MIXED_UNIT = re.compile(rf"{_FIRST}{_MIXED}\s*{_UNIT}")
_NUMBER_UNIT = re.compile(rf"{_FIRST}({_NUMBER})\s*{_UNIT}")
_OTHER_UNIT = re.compile(rf"(\)|(?<=\w)\s)\s*{_UNIT}")
_BRACKET = re.compile(r"(?<!\w)\(")  # of no function
WHOLE = "_whole"
_NUMBER_THEN_WORD = re.compile(rf"(?:^|[^\w.])({_NUMBER})(?![eE\d.][+-]?\d)\s*([A-Za-z°\"'][\w\"']*)")
_ARITHMETIC = (
    ast.Expression,
    ast.BinOp,
    ast.UnaryOp,
    ast.Call,
    ast.Name,
    ast.Load,
    ast.Constant,
    ast.Add,
    ast.Sub,
    ast.Mult,
    ast.Div,
    ast.MatMult,
    ast.Pow,
    ast.USub,
    ast.UAdd,
)
MEASURED = re.compile(r"\blength\(\s*([^()]+?)\s*\)")
# No value can have such a name.
RESERVED = frozenset({"pi", "length", "floor", "ceil", "round", *FUNCTIONS, *UNIT_NAMES})
NAME = re.compile(r"[A-Za-z][A-Za-z0-9_]*\Z")
_WORDS = re.compile(rf"{MEASURED.pattern}|{_NUMBER}|([^\W\d]\w*)")


class Word(NamedTuple):
    """A name in an expression, of a value or of a path that it measures, with where it stands in the text."""

    kind: Literal["value", "path"]
    name: str
    start: int
    end: int


def words(expression: Expression) -> list[Word]:
    """The names that an expression uses, in their order; those of units, functions and constants are left out."""
    if not isinstance(expression, str):
        return []
    found = []
    for match in _WORDS.finditer(expression):
        path, name = match.groups()
        if path is not None:
            found.append(Word("path", path, *match.span(1)))
        elif name is not None and name not in RESERVED:
            found.append(Word("value", name, *match.span(2)))
    return found


def measures(expression: Expression) -> list[str]:
    """The steps, by name or id, whose paths an expression measures."""
    return [word.name for word in words(expression) if word.kind == "path"]


def measured_step(names: Mapping[str, str], name: str) -> str | None:
    """The id of the step that is meant by a name or an id in ``length(...)``; ``names`` are those of all, by id."""
    return next((step for step, title in names.items() if name in (step, title)), None)


def names_used(expression: Expression) -> set[str]:
    """The named values that an expression uses."""
    return {word.name for word in words(expression) if word.kind == "value"}


def renamed(text: str, kind: Literal["value", "path"], name_now: Callable[[str], str]) -> str:
    """An expression in which each value, or each path that it measures, has the name that it has now instead."""
    for word in reversed(words(text)):
        if word.kind == kind:
            text = text[: word.start] + name_now(word.name) + text[word.end :]
    return text


def check_name(name: str, taken: Collection[str] = ()) -> None:
    """Raises Problem when a value cannot be called so, or another one is."""
    if not NAME.match(name) or name in RESERVED or keyword.iskeyword(name):
        raise Problem(
            "bad-name", f"“{name}” cannot name a value.", "Use a letter, then letters, digits or _, not a unit."
        )
    if len(name) > MAX_NAME:
        raise Problem("bad-name", f"“{name}” has {len(name)} characters.", f"Keep it under {MAX_NAME + 1}.")
    if name in taken:
        raise Problem("name-twice", f"Two values are called “{name}”.", "Rename one.")


def as_python(text: str) -> str:
    """The expression as Python reads it: powers, and units put behind what is before them by ``@``, which binds as
    products do: weaker than powers (``5 mm^2`` is 5 (mm^2), ``2^0.5 mm`` is (2^0.5) mm), and to all of the product
    before it; ``with_unit`` says to which of its factors the unit belongs.

    What is in brackets is called ``WHOLE``.

    A mixed number is one number (``1 3/8 in``), and ``5' 3 1/2"`` is feet and inches.
    """

    def inches(groups: tuple[str | None, ...]) -> str:
        whole, top, bottom, over, under, plain = groups
        number = f"({whole} + {top} / {bottom})" if whole else f"({over} / {under})" if over else plain or "0"
        return f"{number} * {UNIT_NAMES['in']}"

    text = _FEET.sub(lambda m: f"({m.group(1)} * {UNIT_NAMES['ft']} + {inches(m.groups()[1:])})", text)
    text = _INCH_MARK.sub(lambda m: f"({inches(m.groups())})", text)
    text = _MIXED_UNIT.sub(lambda m: f"(({m.group(1)} + {m.group(2)} / {m.group(3)}) * {UNIT_NAMES[m.group(4)]})", text)
    text = _NUMBER_UNIT.sub(lambda m: f"{m.group(1)} @ {UNIT_NAMES[m.group(2)]}", text)
    text = _OTHER_UNIT.sub(lambda m: f"{m.group(1)} @ {UNIT_NAMES[m.group(2)]}", text)
    return _BRACKET.sub(f"{WHOLE}(", text).replace("^", "**")


def check_arithmetic(source: str, text: str) -> None:
    """Raises Problem unless there are only numbers, names, calls, + - * / and powers, so that no other code is ever
    run.

    Python takes letters such as ``ａ`` for ``a``: names in them would not be found by ``words``, and are refused.
    """
    try:
        if not source.isascii():
            raise SyntaxError(source)
        tree = ast.parse(source, mode="eval")
    except (SyntaxError, ValueError, RecursionError, MemoryError):
        raise Problem("unreadable", f"“{text}” cannot be read.", "For example: 12, 3/8 in, 12 + wall*2.") from None
    for node in ast.walk(tree):
        number = not isinstance(node, ast.Constant) or (
            isinstance(node.value, int | float) and not isinstance(node.value, bool)
        )
        plain = not isinstance(node, ast.Call) or (isinstance(node.func, ast.Name) and not node.keywords)
        if not isinstance(node, _ARITHMETIC) or not number or not plain:
            raise Problem(
                "not-allowed", f"“{text}” is not arithmetic.", "Use numbers, units, named values and + - * / ^ ( )."
            )


def check_units(text: str, values: Collection[str]) -> None:
    """Raises Problem where a word behind a number is no unit and none of the ``values``."""
    for match in _NUMBER_THEN_WORD.finditer(text):
        word = match.group(2)
        if word not in UNIT_NAMES and word not in values and not word.startswith(("_unit_", "_measured_")):
            raise Problem("unknown-unit", f"there is no unit “{word}”.", f"Units: {', '.join(UNIT_NAMES)}.")
