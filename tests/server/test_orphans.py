"""What a killed keeper leaves is known by the data folder: it can be told, stopped and replaced."""

import os
import signal
import time

import pytest

from ops.postgres import Cluster
from ops.processes import kept_for
from ops.server import Server
from tests.support.faults import free_port


@pytest.fixture
def server(tmp_path, monkeypatch):
    monkeypatch.setenv("LEADLINE_DEMO", str(tmp_path / "none"))
    (tmp_path / "none").mkdir()
    cluster = Cluster(tmp_path, free_port())
    cluster.start()
    made = Server(tmp_path, free_port(), cluster.port, cluster.url())
    try:
        yield made
    finally:
        made.stop()
        cluster.remove()


def keeper_of(server):
    return next(pid for pid, what, _ in server.processes() if what == "keeper")


@pytest.mark.parametrize("paused", [False, True], ids=["running", "paused"])
def test_what_a_killed_keeper_leaves_is_stopped(server, paused):
    server.start()
    keeper = keeper_of(server)
    os.kill(keeper, signal.SIGKILL)
    while keeper in kept_for(server.data):
        time.sleep(0.05)
    left = {what for _, what, _ in server.processes()}
    assert {"server", "worker for jobs"} <= left
    assert server.healthy()
    if paused:
        for pid, _, _ in server.processes():
            os.kill(pid, signal.SIGSTOP)
    assert server.stop()
    assert kept_for(server.data) == []
    assert not server.healthy()
    assert not server.stop()


def test_a_server_whose_keeper_was_killed_is_replaced_by_the_next_start(server):
    server.start()
    before = {pid for pid, _, _ in server.processes()}
    os.kill(keeper_of(server), signal.SIGKILL)
    server.start()
    after = {pid for pid, _, _ in server.processes()}
    assert server.healthy()
    assert not before & after
    server.start()  # one that is as it should be is let be
    assert {pid for pid, _, _ in server.processes()} >= {keeper_of(server)}
    assert keeper_of(server) in after
