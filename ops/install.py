"""Putting in place what a fresh Debian machine lacks; each part is skipped when it is up to date."""

from __future__ import annotations

import ctypes.util
import hashlib
import os
import shutil
import subprocess
import sys
from collections.abc import Iterable
from pathlib import Path

from ops.shell import ROOT, CannotGoOn, run, task

VENV = ROOT / ".venv"
PYTHON = VENV / "bin" / "python"
WEB = ROOT / "web"
BROWSER = Path("/usr/bin/chromium-headless-shell")  # Chromium without windows: half the work of the one with them


def fingerprint(files: Iterable[Path]) -> str:
    """A hash over the names and contents of files."""
    digest = hashlib.sha256()
    for file in sorted(files):
        digest.update(str(file.relative_to(ROOT)).encode())
        digest.update(file.read_bytes())
    return digest.hexdigest()


def current(stamp: Path, mark: str) -> bool:
    """Whether a stamp, as it was written when something was done last, is the mark of how things are now."""
    return stamp.exists() and stamp.read_text() == mark


def python_packages(dev: bool = False) -> None:
    """The virtual environment in .venv with the locked packages."""
    lock = ROOT / ("requirements-dev.txt" if dev else "requirements.txt")
    stamp, mark = VENV / f".{lock.stem}", fingerprint([lock])
    if current(stamp, mark) and PYTHON.exists():
        return
    if not PYTHON.exists():
        with task("making the Python environment in .venv"):
            run([sys.executable, "-m", "venv", VENV])
    with task(f"installing Python packages ({lock.name})"):
        run([PYTHON, "-m", "pip", "install", "-q", "--disable-pip-version-check", "--require-hashes", "-r", lock])
    site = next((VENV / "lib").glob("python3*/site-packages"))
    (site / "leadline.pth").write_text(f"{ROOT / 'src'}\n")
    stamp.write_text(mark)


def web_packages() -> None:
    """The front end's packages in web/node_modules."""
    if shutil.which("npm") is None:
        raise CannotGoOn("npm is not installed. Install Node.js 20 or newer with npm, then try again.")
    stamp, mark = WEB / "node_modules" / ".leadline", fingerprint([WEB / "package.json", WEB / "package-lock.json"])
    if current(stamp, mark):
        return
    with task("installing front end packages"):
        run(["npm", "ci", "--no-audit", "--no-fund", "--loglevel=error"], cwd=WEB)
    stamp.write_text(mark)


def web_build() -> None:
    """The built front end in web/dist."""
    sources = [f for f in (WEB / "src").rglob("*") if f.is_file()]
    sources += [WEB / n for n in ("index.html", "package-lock.json", "vite.config.ts", "tsconfig.json")]
    stamp, mark = WEB / "dist" / ".leadline", fingerprint(sources)
    if current(stamp, mark):
        return
    with task("building the front end"):
        run(["npx", "--no-install", "vite", "build", "--logLevel", "error"], cwd=WEB)
    stamp.write_text(mark)


def debian_packages(names: list[str], what_for: str) -> None:
    """Install Debian packages; only root can."""
    if os.geteuid() != 0:
        raise CannotGoOn(f"{what_for} is missing. As root: apt-get install {' '.join(names)}")
    if shutil.which("apt-get") is None:
        raise CannotGoOn(f"{what_for} is missing and this is not a Debian machine: install it by hand.")
    env = {"DEBIAN_FRONTEND": "noninteractive"}
    with task(f"installing {what_for} ({' '.join(names)})"):
        subprocess.run(["apt-get", "update", "-qq"], env={**os.environ, **env}, capture_output=True, check=False)
        run(["apt-get", "install", "-y", "-qq", "--no-install-recommends", *names], env=env)


def database_programs() -> Path:
    """The folder with PostgreSQL's programs; installs Debian's when there is none."""
    found = _postgres_bin()
    if found is None:
        no_main = Path("/etc/postgresql-common/createcluster.d/no-main.conf")
        if os.geteuid() == 0:
            no_main.parent.mkdir(parents=True, exist_ok=True)
            no_main.write_text("create_main_cluster = false\n")
        debian_packages(["postgresql"], "PostgreSQL")
        found = _postgres_bin()
    if found is None:
        raise CannotGoOn("PostgreSQL was installed but its programs are not in /usr/lib/postgresql.")
    return found


def _postgres_bin() -> Path | None:
    def version(path: Path) -> float:
        return float(path.parent.name)

    found = sorted((p.parent for p in Path("/usr/lib/postgresql").glob("*/bin/initdb")), key=version)
    return found[-1] if found else None


def reader() -> None:
    """What gmsh is linked to, by which the tests read STEP files back."""
    if any(ctypes.util.find_library(name) is None for name in ("GL", "GLU", "Xcursor", "Xft", "Xinerama", "Xrender")):
        names = ["libgl1", "libglu1-mesa", "libxcursor1", "libxft2", "libxinerama1", "libxrender1"]
        debian_packages(names, "what gmsh needs for the tests")


def browser() -> None:
    """Chromium for the browser tests."""
    if not BROWSER.exists():
        debian_packages(["chromium-headless-shell", "libgl1-mesa-dri", "libegl1"], "Chromium for the browser tests")
