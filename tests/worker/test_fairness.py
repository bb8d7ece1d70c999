"""Who waits for a process is served in turn, and what is short passes what is long."""

from __future__ import annotations

import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

from leadline.worker.pool import WorkerPool
from tests.support.parts import Shelf

LONG = 0.4


@contextmanager
def pool_of(size: int, **more: object) -> Iterator[WorkerPool]:
    pool = WorkerPool(size, "tests.support.entries:sleep_as_asked", long=LONG, **more)  # type: ignore[arg-type]
    try:
        for name in ("warm", "warmer")[:size]:  # so that starting a process does not count
            pool.run(name, 0.0, Shelf(), 60)
        yield pool
    finally:
        pool.close()


class Askers:
    """Asks from threads of their own, and the order in which they were answered."""

    def __init__(self, pool: WorkerPool) -> None:
        self.pool, self.done, self.threads = pool, [], []

    def ask(self, who: str, seconds: float, name: str = "") -> None:
        def work():
            self.pool.run(who, seconds, Shelf(), 120)
            self.done.append(name or who)

        self.threads.append(threading.Thread(target=work))
        self.threads[-1].start()

    def wait(self) -> list[str]:
        for thread in self.threads:
            thread.join(120)
        return self.done


def until(what) -> None:
    end = time.monotonic() + 60
    while not what():
        assert time.monotonic() < end
        time.sleep(0.01)


def test_windows_are_served_in_turn_however_much_one_asks():
    with pool_of(1) as pool:
        askers = Askers(pool)
        askers.ask("greedy", 0.3, "greedy 0")
        until(lambda: len(pool._leased) == 1)
        for k in range(1, 5):
            askers.ask("greedy", 0.05, f"greedy {k}")
        until(lambda: len(pool._tickets) == 4)
        askers.ask("other", 0.05)
        askers.ask("third", 0.05)
        done = askers.wait()
    assert done[:3] in (["greedy 0", "other", "third"], ["greedy 0", "third", "other"])


def test_who_is_known_to_take_long_waits_for_who_is_not():
    with pool_of(1) as pool:
        pool.run("slow", LONG + 0.2, Shelf(), 60)
        askers = Askers(pool)
        askers.ask("first", 0.3)
        until(lambda: len(pool._leased) == 1)
        askers.ask("slow", 0.0)
        until(lambda: len(pool._tickets) == 1)
        askers.ask("quick", 0.0)
        assert askers.wait() == ["first", "quick", "slow"]


def test_when_all_are_at_work_for_a_while_there_is_one_more_for_what_is_short(monkeypatch):
    monkeypatch.setattr("leadline.worker.pool.IDLE", 0.0)
    with pool_of(2, more=1) as pool:
        askers = Askers(pool)
        askers.ask("a", 6.0)
        askers.ask("b", 6.0)
        until(lambda: len(pool._leased) == 2)
        began = time.monotonic()
        for k in range(5):
            pool.run(f"short {k}", 0.0, Shelf(), 60)
        assert askers.done == []  # they are still at work
        assert time.monotonic() - began < 6.0
        assert len(pool._workers) <= 3
        askers.wait()
        until(lambda: len(pool._workers) == 2)  # the one more is gone when nobody needs it


def test_what_takes_long_on_the_one_more_gives_way_and_is_done_later():
    with pool_of(1, more=1, gives_way=True) as pool:
        askers = Askers(pool)
        askers.ask("long", 5.0)
        until(lambda: len(pool._leased) == 1)
        askers.ask("longer", 3.0)
        until(lambda: len(pool._leased) == 2)
        pool.run("short", 0.0, Shelf(), 60)
        assert askers.done == []
        assert askers.wait() == ["long", "longer"]


def test_who_takes_long_never_has_them_all():
    """Six who take long, again and again, and one who does not: it waits for none of them."""
    with pool_of(2, more=1, gives_way=True) as pool:
        for k in range(6):
            pool._took[f"heavy {k}"] = 60.0
        askers = Askers(pool)
        for k in range(6):
            askers.ask(f"heavy {k}", 1.5)
        until(lambda: len(pool._leased) == 2)
        for k in range(3):
            pool.run(f"easy {k}", 0.0, Shelf(), 60)
            assert len(askers.done) < 2
        assert len(askers.wait()) == 6
