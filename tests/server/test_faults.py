"""Nothing that was acknowledged is lost when processes die or are paused, and all works again by itself."""

import os
import signal

import psycopg
import pytest

from ops.postgres import Cluster
from tests.support.faults import FAULTS, edits_under, free_port, house


@pytest.fixture(scope="module")
def own_house(tmp_path_factory):
    with house(tmp_path_factory.mktemp("house"), web_processes=2) as made:
        yield made


@pytest.mark.parametrize("fault", FAULTS, ids=lambda f: f.title.replace(" ", "-"))
def test_edits_survive(own_house, fault):
    edits_under(own_house, fault, edits=12, strikes=1)


def test_a_database_with_paused_processes_can_be_stopped(tmp_path):
    cluster = Cluster(tmp_path, free_port())
    try:
        for everything in (False, True):  # one process alone, as is left when not all are woken yet, and all of them
            cluster.start()
            with psycopg.connect(cluster.url().replace("+psycopg", "")) as line:
                own = line.info.backend_pid
                assert own in cluster.processes()
                for pid in cluster.processes() if everything else [own]:
                    os.kill(pid, signal.SIGSTOP)
                cluster.stop()
                assert cluster.processes() == []
    finally:
        cluster.remove()
