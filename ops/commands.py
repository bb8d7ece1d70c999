"""What ./lead can do."""

from __future__ import annotations

import argparse
import os
import shutil
import socket
from pathlib import Path

from ops import checks, described, install
from ops import dev as developing
from ops import new as newly
from ops.postgres import Cluster
from ops.server import ONE_THREAD, Server
from ops.shell import ROOT, CannotGoOn, say, show

PORT = int(os.environ.get("LEADLINE_PORT", "8750"))
PAGE_PORT = 5173  # of Vite, where `./lead dev` serves the page
DB_PORT = int(os.environ.get("LEADLINE_DB_PORT", "54750"))
MOST_AT_ONCE = 4  # processes that run tests, each with its own server, database and browser
ROOMS = {
    "core": ["tests/core", "tests/recipe", "tests/sheets", "tests/exports", "tests/docs", "tests/ops"],
    "kinds": ["tests/kinds"],
    "server": ["tests/server", "tests/worker"],
    "web": [],
    "browser": ["tests/browser"],
}  # of tests
NEEDS_NO_SERVER = frozenset({"core", "kinds", "web"})
DATA = Path(os.environ.get("LEADLINE_DATA", ROOT / "var")).resolve()


def main(words: list[str]) -> int:
    parser = argparse.ArgumentParser(prog="./lead", description="Lead Line: set up, run, test.")
    commands = parser.add_subparsers(dest="command", required=True)
    up_parser = commands.add_parser("up", help="install what is missing, start database and server, print the address")
    up_parser.add_argument("--foreground", action="store_true", help="stay, and show the server's log")
    commands.add_parser("status", help="processes and their memory, open parts, builds")
    commands.add_parser("worker", help="take jobs of the database that LEADLINE_DB_URL names, on this machine")
    commands.add_parser("down", help="stop server and database; the data stays")
    commands.add_parser("reset", help="stop, and delete all parts and built data of this checkout")
    commands.add_parser("dev", help="serve from the sources: server and page anew when a file changes")
    commands.add_parser(
        "test", help=f"run everything that must pass, or only {', '.join(ROOMS)}; more words go to pytest"
    )
    new_parser = commands.add_parser("new", help="lay out the folders of a new kind of step or a new sheet")
    new_parser.add_argument("what", choices=list(newly.PARTS))
    new_parser.add_argument("name")
    build_parser = commands.add_parser("build", help="build a part file without server or database")
    build_parser.add_argument("part")
    build_parser.add_argument("--out", required=True)
    build_parser.add_argument("--chord", metavar="MM", help="how far triangles of mesh files may be from the surface")
    build_parser.add_argument("--angle", metavar="DEGREES", help="and the angle between two of them")
    bench_parser = commands.add_parser("bench", help="print the benchmark tables")
    bench_parser.add_argument(
        "--write", metavar="FILE", help="keep them in a file, too, in place of those that they follow"
    )
    bench_parser.add_argument("--only", metavar="NAMES", help="only these, e.g. helix,springs")
    options, rest = parser.parse_known_args(words)
    if rest and options.command != "test":
        parser.error(f"unknown: {' '.join(rest)}")
    try:
        return _run(options, rest)
    except CannotGoOn as problem:
        say(f"\nCould not go on: {problem}")
        return 1


def _run(options: argparse.Namespace, rest: list[str]) -> int:
    if options.command == "up":
        return up(options.foreground)
    if options.command == "status":
        return status()
    if options.command == "down":
        return down()
    if options.command == "reset":
        return reset()
    if options.command == "test":
        return test(rest)
    if options.command == "dev":
        return dev()
    if options.command == "new":
        return new(options.what, options.name)
    install.python_packages()
    if options.command == "worker":
        return worker()
    if options.command == "build":
        fineness = [f"--{name}={own}" for name in ("chord", "angle") if (own := getattr(options, name)) is not None]
        words = [install.PYTHON, "-m", "leadline", "build", options.part, "--out", options.out, *fineness]
        return show(words, Path.cwd(), ONE_THREAD)
    return bench(options.write, options.only)


def up(foreground: bool) -> int:
    say("Lead Line: getting ready")
    install.python_packages()
    install.web_packages()
    described.for_the_browser()
    install.web_build()
    cluster = Cluster(DATA, DB_PORT)
    cluster.start()
    server = Server(DATA, PORT, DB_PORT, cluster.url())
    if foreground:
        say(f"\nLead Line is at {server.address} (Ctrl-C stops it)")
        return server.foreground()
    server.start()
    say(f"\nLead Line is at {server.address}\nLog: {server.log}   Stop: ./lead down")
    return 0


def worker() -> int:
    """Take jobs of the database that ``LEADLINE_DB_URL`` names, else of that of this checkout, until it is
    interrupted.
    """
    url = os.environ.get("LEADLINE_DB_URL")
    if url is None:
        cluster = Cluster(DATA, DB_PORT)
        cluster.start()
        url = cluster.url()
    say("Taking jobs (Ctrl-C stops it)")
    return show([install.PYTHON, "-m", "leadline", "work"], env={**ONE_THREAD, "LEADLINE_DB_URL": url})


def status() -> int:
    """Print what runs, and what the server says of itself."""
    server = Server(DATA, PORT, DB_PORT, "")
    processes = server.processes()
    if not processes:
        say("The server is not running. Start it with ./lead up.")
        return 1
    for pid, what, memory in processes:
        say(f"{pid:>8}  {what:<18} {memory:7.0f} MB")
    say(f"{'':>8}  {'all together':<18} {sum(m for _, _, m in processes):7.0f} MB")
    told = server.status()
    if told is None:
        say("The server does not answer just now.")
        return 1
    say(
        f"Parts open: {told['open_parts']} in {told['open_editors']} windows. Builds: {told['building']} "
        f"running, {told['waiting']} waiting."
    )
    return 0


def down() -> int:
    cluster = Cluster(DATA, DB_PORT)
    if cluster.folder().exists():
        was = Server(DATA, PORT, DB_PORT, "").stop()
        cluster.stop()
        say("Stopped." if was else "The server was not running; the database is stopped.")
    else:
        say("Nothing was set up here.")
    return 0


def reset() -> int:
    down()
    cluster = Cluster(DATA, DB_PORT)
    if cluster.folder().exists():
        cluster.remove()
    for name in ("server.log", "server.json", "test"):
        path = DATA / name
        shutil.rmtree(path, ignore_errors=True) if path.is_dir() else path.unlink(missing_ok=True)
    say("All parts and built data are deleted. ./lead up begins anew.")
    return 0


def test(rest: list[str]) -> int:
    """Lint, types, contracts, unit tests, then everything against a real database and browser, on as many cores as
    there are; or only the tests of a room, or what ``rest`` says to pytest.
    """
    room = rest[0] if rest and rest[0] in ROOMS else None
    if room == "web":
        install.python_packages()
        install.web_packages()
        described.for_the_browser()
        return show(["npx", "--no-install", "vitest", "run", *rest[1:]], ROOT / "web")
    words = rest if room is None else [*ROOMS[room], *rest[1:]]
    install.python_packages(dev=True)
    if room != "core":
        install.web_packages()
        described.for_the_browser()
    if room not in NEEDS_NO_SERVER:
        install.browser()
        install.reader()
    if not rest:
        checks.run_all()
    at_once = str(max(1, min(MOST_AT_ONCE, os.cpu_count() or 1)))
    together = ["-n", at_once, "--dist", "worksteal"] if room is not None or not rest else []
    command: list[str | Path] = [install.PYTHON, "-m", "pytest", *together, *words]
    if room in NEEDS_NO_SERVER:
        return show(command, env=ONE_THREAD)
    install.web_build()
    cluster = Cluster(DATA / "test", _free_port())
    cluster.start()
    try:
        return show(command, env={**ONE_THREAD, "LEADLINE_TEST_DB_URL": cluster.url()})
    finally:
        cluster.stop()


def dev() -> int:
    """Server and page, each anew as soon as a file of it is changed, until it is interrupted."""
    install.python_packages(dev=True)
    install.web_packages()
    described.for_the_browser()
    cluster = Cluster(DATA, DB_PORT)
    cluster.start()
    say(f"\nThe page is at http://127.0.0.1:{PAGE_PORT}/ (Ctrl-C stops it)")
    return developing.dev(Server(DATA, PORT, DB_PORT, cluster.url()), PAGE_PORT)


def new(what: str, name: str) -> int:
    """Lay out a new kind or sheet, and say what there is to do next."""
    files = newly.laid_out(what, name)
    for file in files:
        say(f"  {file.relative_to(ROOT)}")
    install.python_packages(dev=True)
    install.web_packages()
    checks.formatted(files)
    described.write_the_schema()
    described.for_the_browser()
    say(f"\nAll tests pass as it is. Change what it does, then: ./lead test {'kinds' if what == 'kind' else 'core'}")
    return 0


def bench(write: str | None, only: str | None) -> int:
    install.python_packages(dev=True)
    install.web_packages()
    described.for_the_browser()
    install.browser()
    install.web_build()
    cluster = Cluster(DATA / "test", _free_port())
    cluster.start()
    try:
        words = [*(["--write", write] if write else []), *(["--only", only] if only else [])]
        env = {**ONE_THREAD, "LEADLINE_BENCH_DB_URL": cluster.url()}
        return show([install.PYTHON, "-m", "benchmarks", *words], env=env)
    finally:
        cluster.stop()


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])
