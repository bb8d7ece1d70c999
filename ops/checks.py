"""Lint, types, contracts and generated files: all must pass before the tests run."""

from __future__ import annotations

import subprocess
from pathlib import Path

from ops.install import PYTHON, WEB
from ops.shell import ROOT, CannotGoOn, run, task

BIN = PYTHON.parent
GENERATED = {
    "openapi": WEB / "src" / "api" / "openapi.gen.json",
    "kinds": WEB / "src" / "api" / "kinds.gen.json",
    "formats": WEB / "src" / "api" / "formats.gen.json",
    "schema": ROOT / "docs" / "part.schema.json",
}


def run_all() -> None:
    """Run each check; the first that fails stops the rest. Raises CannotGoOn."""
    with task("ruff"):
        run([BIN / "ruff", "check", "src", "tests", "ops", "benchmarks", "lead"])
    with task("mypy --strict on core, recipe, kinds, sheets and exports"):
        run([BIN / "mypy"])
    with task("import contracts"):
        run([BIN / "lint-imports"])
    with task("generated files are current"):
        for command, file in GENERATED.items():
            _same(command, file)
    with task("prettier"):
        run(["npx", "--no-install", "prettier", "--check", ".", "--log-level", "warn"], cwd=WEB)
    with task("eslint"):
        run(["npx", "--no-install", "eslint", ".", "--max-warnings", "0"], cwd=WEB)
    with task("tsc"):
        run(["npx", "--no-install", "tsc", "--noEmit"], cwd=WEB)
    with task("vitest"):
        run(["npx", "--no-install", "vitest", "run"], cwd=WEB)


def generate(command: str) -> str:
    """What ``python -m leadline <command>`` prints."""
    done = subprocess.run([PYTHON, "-m", "leadline", command], cwd=ROOT, capture_output=True, text=True)
    if done.returncode:
        raise CannotGoOn(done.stderr)
    return done.stdout


def _same(command: str, file: Path) -> None:
    if not file.exists() or file.read_text() != generate(command):
        raise CannotGoOn(f"{file.relative_to(ROOT)} is not current. Run: .venv/bin/python -m ops.generate")
