"""What developers start: the tests of a room alone, and processes that are anew with each change."""

import subprocess
import sys
import threading
import time
from pathlib import Path

from ops.commands import ROOMS
from ops.dev import ended, restarted, saved_at

TESTS = Path(__file__).resolve().parents[1]


def test_each_test_file_belongs_to_one_room():
    folders = [TESTS.parent / folder for room in ROOMS.values() for folder in room]
    assert all(folder.is_dir() for folder in folders)
    for file in set(TESTS.rglob("test_*.py")) - set((TESTS / "support").rglob("*.py")):
        assert sum(folder in file.parents for folder in folders) == 1, file


def waits() -> subprocess.Popen[bytes]:
    return subprocess.Popen([sys.executable, "-c", "import time; time.sleep(600)"])


def until(true, patience=60.0):
    end = time.monotonic() + patience
    while not true():
        assert time.monotonic() < end
        time.sleep(0.02)


def test_processes_are_started_again_when_a_file_changes_and_ended_at_last(tmp_path):
    file = tmp_path / "deep" / "module.py"
    file.parent.mkdir()
    file.write_text("1")
    (tmp_path / "notes.txt").write_text("1")
    started: list[subprocess.Popen[bytes]] = []
    on = True

    def start():
        started.append(waits())
        return [started[-1]]

    follower = threading.Thread(target=restarted, args=(start, tmp_path, lambda: on))
    follower.start()
    try:
        until(lambda: len(started) == 1)
        (tmp_path / "notes.txt").write_text("2")
        file.write_text("2")
        until(lambda: len(started) == 2)
        assert started[0].poll() is not None
        started[1].kill()  # as one that finds a fault when it starts
        (file.parent / "other.py").write_text("3")
        until(lambda: len(started) == 3)
        assert started[2].poll() is None
    finally:
        on = False
        follower.join()
    assert all(process.poll() is not None for process in started)


def test_only_python_files_are_looked_at(tmp_path):
    (tmp_path / "notes.txt").write_text("1")
    assert saved_at(tmp_path) == {}
    (tmp_path / "module.py").write_text("1")
    assert list(saved_at(tmp_path)) == [str(tmp_path / "module.py")]


def test_what_does_not_listen_is_ended_too(monkeypatch):
    monkeypatch.setattr("ops.dev.PATIENCE", 0.2)
    deaf = subprocess.Popen(
        [
            sys.executable,
            "-c",
            "import signal, time; signal.signal(signal.SIGTERM, signal.SIG_IGN); print(1, flush=True); time.sleep(600)",
        ],
        stdout=subprocess.PIPE,
    )
    assert deaf.stdout is not None
    deaf.stdout.readline()
    ended([deaf])
    assert deaf.poll() is not None
