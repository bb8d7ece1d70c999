"""Lint, types, contracts and generated files: all must pass before the tests run."""

from __future__ import annotations

import json
import subprocess
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from ops.install import PYTHON, WEB
from ops.shell import ROOT, CannotGoOn, run, say

BIN = PYTHON.parent
KEPT = WEB / "node_modules" / ".cache"  # what the checks of the web found of files that have not changed since
GENERATED = {
    "openapi": WEB / "src" / "api" / "openapi.gen.json",
    "kinds": WEB / "src" / "api" / "kinds.gen.json",
    "formats": WEB / "src" / "api" / "formats.gen.json",
    "schema": ROOT / "docs" / "part.schema.json",
}
# Each file is formatted by itself, so that one which holds the same as before need not be looked at again.
UNCHANGED = ("--cache", "--cache-strategy", "content", "--cache-location", KEPT / "prettier.json")
HAND_WRITTEN = ("src", "tests", "ops", "benchmarks", "lead")


CHECKS: dict[str, Callable[[], None]] = {
    "eslint": lambda: _web("eslint", ".", "--max-warnings", "0"),  # by types: of all files together
    "vitest": lambda: _web("vitest", "run"),
    "mypy --strict": lambda: run([BIN / "mypy"]),
    "tsc": lambda: _web("tsc", "--noEmit", "--incremental", "--tsBuildInfoFile", KEPT / "tsc.json"),
    "generated files are current": lambda: _all_the_same(),
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


def _web(*command: str | Path) -> None:
    run(["npx", "--no-install", *command], cwd=WEB)


def _run(check: tuple[str, Callable[[], None]]) -> None:
    title, work = check
    began = time.monotonic()
    work()
    say(f"  {title} ... {time.monotonic() - began:.1f} s")


def generated() -> dict[Path, str]:
    """What each of the generated files has in it. Raises CannotGoOn."""
    done = subprocess.run([PYTHON, "-m", "leadline", "describe"], cwd=ROOT, capture_output=True, text=True)
    if done.returncode:
        raise CannotGoOn(done.stderr)
    found = json.loads(done.stdout)
    return {file: json.dumps(found[name], indent=1) + "\n" for name, file in GENERATED.items()}


def _all_the_same() -> None:
    for file, text in generated().items():
        if not file.exists() or file.read_text() != text:
            raise CannotGoOn(f"{file.relative_to(ROOT)} is not current. Run: .venv/bin/python -m ops.generate")
