"""``docs/limits.md`` against the code: each message that it quotes is one that is said, and a test makes it come."""

from __future__ import annotations

import ast
import re
from collections.abc import Iterator
from functools import cache
from pathlib import Path

import pytest

from leadline import limits

ROOT = Path(__file__).resolve().parents[2]
GAP = "…"
ROWS = re.findall(r"^\| (?!what|---)(.+?) \|.*\| *(.*?) *\|$", (ROOT / "docs/limits.md").read_text(), re.M)


@cache
def messages() -> list[tuple[str, str]]:
    """Code and text of each Problem and Message that there is; what is put into a text stands as a gap.

    Where they are put together in a function, each of its codes is taken with each of its texts.
    """
    found: list[tuple[str, str]] = []
    for source in sorted(
        p
        for room in ("core", "recipe", "kinds", "exports", "server")
        for p in (ROOT / "src/leadline" / room).rglob("*.py")
    ):
        for function in ast.walk(ast.parse(source.read_text())):
            if isinstance(function, ast.FunctionDef):
                calls = [
                    c
                    for c in ast.walk(function)
                    if isinstance(c, ast.Call) and isinstance(c.func, ast.Name) and c.func.id in ("Problem", "Message")
                ]
                found += _said_in(function, calls)
    return found


def _said_in(function: ast.FunctionDef, calls: list[ast.Call]) -> Iterator[tuple[str, str]]:
    loose = False
    for call in calls:
        first = 1 if call.func.id == "Message" else 0
        codes, texts = ([t for a in call.args[i : i + 1] for t in _texts(a)] for i in (first, first + 1))
        loose = loose or GAP in codes or any(t.startswith(GAP) or t.count(GAP) == len(t) for t in texts)
        yield from ((code, text) for code in codes for text in texts)
    if loose:
        strings = {
            t
            for node in ast.walk(function)
            if isinstance(node, ast.Constant | ast.JoinedStr | ast.BinOp)
            for t in _texts(node)
        }
        codes = {c for c in strings if re.fullmatch(r"[a-z]+(-[a-z]+)*", c)}
        yield from ((code, text) for code in codes for text in strings - codes)


def _texts(node: ast.expr) -> Iterator[str]:
    """What an expression may read as."""
    if isinstance(node, ast.Constant) and isinstance(node.value, str):
        yield node.value
    elif isinstance(node, ast.JoinedStr):
        yield "".join(v.value if isinstance(v, ast.Constant) else GAP for v in node.values)
    elif isinstance(node, ast.IfExp):
        yield from _texts(node.body)
        yield from _texts(node.orelse)
    elif isinstance(node, ast.BinOp):
        yield from (a + b for a in _texts(node.left) for b in _texts(node.right))
    else:
        yield GAP


def quoted() -> list[tuple[str, str]]:
    """The rows of the table with each message that they quote."""
    return [(what, text) for what, said in ROWS for text in re.findall(r'"([^"]+)"', said)]


TESTS = "".join(p.read_text() for p in (ROOT / "tests").rglob("*.py") if p.name != Path(__file__).name)


def alike(quote: str, text: str) -> bool:
    """Whether a message may read as it is quoted. A gap stands for anything on both sides; either may go on longer."""
    words, own = (re.sub(r"\W+", " ", t.replace(GAP, " ")).split() for t in (quote, text))
    both = _in_order(words, own)
    return (both >= 2 and both >= 0.75 * len(words)) or both == len(own) > 0


def _in_order(words: list[str], own: list[str]) -> int:
    """How many words stand in a text in their order; those that are in a gap of the text do not."""
    at, found = 0, 0
    for word in words:
        if word in own[at:]:
            at = own.index(word, at) + 1
            found += 1
    return found


@pytest.mark.parametrize(("what", "text"), quoted())
def test_each_message_is_the_core_s_and_a_test_makes_it_say_so(what, text):
    codes = {code for code, said in messages() if alike(text, said)}
    assert codes, f"{what}: no message reads “{text}”"
    assert any(f'"{code}"' in TESTS for code in codes), f"{what}: no test expects {sorted(codes)}"


def test_every_row_says_how_it_is_met():
    assert [what for what, said in ROWS if '"' not in said] == [
        "results that are kept",
        "crossings that a sketch shows",
        "pulls in a sketch",
        "display",
        "colours",
    ]


def _as_written(name: str, value: float) -> str:
    """A limit as the document tells it."""
    if name.endswith("_SECONDS"):
        return f"{value:g} s"
    if value >= limits.GB:
        return f"{value / limits.GB:g} GB"
    if name.endswith("_BYTES"):
        return f"{value / (1 << 20 if value % (1 << 20) == 0 else 1e6):g} MB"
    return f"{value:,}"


@pytest.mark.parametrize("name", [n for n in dir(limits) if n.isupper() and n != "GB"])
def test_what_a_question_may_cost_is_told_with_its_number(name):
    assert _as_written(name, getattr(limits, name)) in (ROOT / "docs/limits.md").read_text()
