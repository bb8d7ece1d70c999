"""Requests of other origins and hosts are refused; answers say what a browser may do with them."""

import subprocess
import sys

import pytest
from hypothesis import given
from hypothesis import strategies as st

from leadline.server.guard import HOSTS, host_of
from tests.support.parts import bar

OWN = {"Host": "127.0.0.1:8750", "Origin": "http://127.0.0.1:8750", "Sec-Fetch-Site": "same-origin"}


@pytest.mark.parametrize(
    "headers",
    [
        {"Host": "lead.example:8750"},
        {"Host": "127.0.0.1.example"},
        {"Host": ""},
        {"Origin": "http://127.0.0.1:9000"},
        {"Origin": "https://127.0.0.1:8750.example"},
        {"Origin": "null"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
    ],
)
def test_another_host_or_origin_is_refused_whatever_it_asks(client, headers):
    for method, path in (
        ("GET", "/api/parts"),
        ("GET", "/api/health"),
        ("POST", "/api/parts"),
        ("GET", "/api/parts/x/part.json"),
        ("DELETE", "/api/parts/x"),
    ):
        answer = client.open(path, method=method, headers={**OWN, **headers}, json={} if method == "POST" else None)
        assert answer.status_code == 403, (method, path)
        assert answer.get_json()["error"]["way_out"]


def test_a_link_from_elsewhere_may_lead_to_a_page_but_to_no_data(client):
    led = {"Host": OWN["Host"], "Sec-Fetch-Site": "cross-site", "Sec-Fetch-Mode": "navigate"}
    assert client.get("/", headers=led).status_code in (
        200,
        404,
    )  # 404: the front end is not built where these tests run alone
    assert client.get("/api/parts", headers=led).status_code == 403


def test_own_pages_and_programs_without_a_browser_may(client):
    assert client.get("/api/parts", headers=OWN).status_code == 200
    assert client.get("/api/parts", headers={"Host": "localhost:1"}).status_code == 200
    assert client.post("/api/parts", json={"name": "Own"}, headers=OWN).status_code == 201


@pytest.mark.parametrize("kind", ["text/plain", "application/x-www-form-urlencoded", "multipart/form-data", ""])
def test_json_is_demanded_where_it_is_meant(client, kind):
    answer = client.post("/api/sketch/solve", data=b'{"document": {}}', content_type=kind)
    assert answer.status_code == 415
    assert answer.get_json()["error"]["code"] == "not-json"


def test_every_answer_says_what_a_browser_may_do_with_it(client):
    for answer in (
        client.get("/api/health"),
        client.get("/api/nothing"),
        client.post("/api/parts", json=bar()),
        client.get("/api/parts", headers={"Host": "x"}),
    ):
        assert "frame-ancestors 'none'" in answer.headers["Content-Security-Policy"]
        assert (
            "script-src" not in answer.headers["Content-Security-Policy"]
        )  # what is not named may come from here alone
        assert answer.headers["X-Content-Type-Options"] == "nosniff"
        assert answer.headers["Referrer-Policy"] == "same-origin"


@given(st.text(st.characters(codec="ascii", exclude_characters=":"), max_size=20), st.integers(0, 65535))
def test_a_host_is_its_name_whatever_the_port(name, port):
    assert host_of(f"{name}:{port}") == name
    assert (host_of(name) in HOSTS) == (name in HOSTS)


def test_the_web_process_loads_neither_numerics_nor_the_kernel():
    look = (
        "import sys, leadline.server.app; print([m for m in ('numpy', 'scipy', 'shapely', 'OCP', 'igl') if m "
        "in sys.modules])"
    )
    done = subprocess.run([sys.executable, "-c", look], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"
