"""Lint, types, contracts and the schema of the part file: all must pass before the tests run."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from ops.described import check_the_schema
from ops.install import PYTHON, WEB
from ops.shell import run, say

BIN = PYTHON.parent
KEPT = WEB / "node_modules" / ".cache"  # what the checks of the web found of files that have not changed since
# Each file is formatted by itself, so that one which holds the same as before need not be looked at again.
UNCHANGED = ("--cache", "--cache-strategy", "content", "--cache-location", KEPT / "prettier.json")
HAND_WRITTEN = ("src", "tests", "ops", "benchmarks", "lead")


CHECKS: dict[str, Callable[[], None]] = {
    "eslint": lambda: _web("eslint", ".", "--max-warnings", "0"),  # by types: of all files together
    "vitest": lambda: _web("vitest", "run"),
    "mypy --strict": lambda: run([BIN / "mypy"]),
    "tsc": lambda: _web("tsc", "--noEmit", "--incremental", "--tsBuildInfoFile", KEPT / "tsc.json"),
    "schema of the part file": check_the_schema,
    "import contracts": lambda: run([BIN / "lint-imports"]),
    "prettier": lambda: _web("prettier", "--check", ".", "--log-level", "warn", *UNCHANGED),
    "ruff": lambda: run([BIN / "ruff", "check", *HAND_WRITTEN]),
    "ruff format": lambda: run([BIN / "ruff", "format", "--check", "--quiet", *HAND_WRITTEN]),
}  # the longest first, as two are run at a time


def run_all() -> None:
    """Run all checks, two at a time. Raises CannotGoOn for one that fails."""
    with ThreadPoolExecutor(2) as pool:
        for _ in pool.map(_run, CHECKS.items()):
            pass


def formatted(files: Sequence[Path]) -> None:
    """Have the formatters write files as they are to be. Raises CannotGoOn."""
    run([BIN / "ruff", "format", "--quiet", *(file for file in files if file.suffix == ".py")])
    _web("prettier", "--write", "--log-level", "warn", *(file for file in files if file.suffix in (".ts", ".tsx")))


def _web(*command: str | Path) -> None:
    run(["npx", "--no-install", *command], cwd=WEB)


def _run(check: tuple[str, Callable[[], None]]) -> None:
    title, work = check
    began = time.monotonic()
    work()
    say(f"  {title} ... {time.monotonic() - began:.1f} s")
