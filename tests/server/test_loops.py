"""Parts that place each other: neither two saves at once nor undo and redo store a loop, and one that is stored can be
undone by hand.
"""

from __future__ import annotations

import threading

from tests.support.client import opened, refused, save, travel
from tests.support.placing import block
from tests.support.placing_served import placing


def with_steps(view, *steps):
    return {**view["document"], "steps": [*view["document"]["steps"], *steps]}


def test_of_two_parts_that_place_each_other_at_once_one_is_refused(client, app):
    for _ in range(8):
        one, other = opened(client, block()), opened(client, block())
        bodies = [(one, with_steps(one, placing(client, other))), (other, with_steps(other, placing(client, one)))]
        start, codes = threading.Barrier(2), []

        def write(view, document, start=start, codes=codes):
            mine = app.test_client()
            start.wait()
            codes.append(save(mine, view, document).status_code)

        threads = [threading.Thread(target=write, args=pair) for pair in bodies]
        for t in threads:
            t.start()
        for t in threads:
            t.join()
        assert sorted(codes) == [200, 422]


def test_undo_and_redo_do_not_make_a_loop(client):
    one, other = opened(client, block()), opened(client, block())
    holding = save(client, one, with_steps(one, placing(client, other))).get_json()
    alone = travel(client, "undo", holding).get_json()
    held = save(client, other, with_steps(other, placing(client, one))).get_json()
    assert refused(travel(client, "redo", alone), 422)["code"] == "placed-in-itself"
    assert client.get(f"/api/parts/{one['id']}").get_json()["revision"] == alone["revision"]
    travel(client, "undo", held)
    assert travel(client, "redo", alone).status_code == 200


def test_a_token_that_was_used_is_told_with_another_document(client):
    view = opened(client)
    body = {
        "base": view["revision"],
        "token": "one-change-of-two",
        "label": "Once",
        "document": {**view["document"], "name": "Once"},
    }
    assert client.put(f"/api/parts/{view['id']}/document", json=body).status_code == 200
    body["document"]["name"] = "Another"
    assert refused(client.put(f"/api/parts/{view['id']}/document", json=body), 422)["code"] == "token-used"


def test_addresses_and_origins_that_are_none_are_refused(client):
    assert client.get("/api/parts/a%00b").status_code == 422
    assert client.get("/api/parts", headers={"Origin": "http://[x"}).status_code == 403
    view = opened(client)
    assert (
        client.put(
            f"/api/parts/{view['id']}/document",
            json={"base": view["revision"], "token": "a\0b", "label": "x", "document": view["document"]},
        ).status_code
        == 422
    )


def test_a_shelf_s_table_goes_out_without_formulas_and_comes_in_again(client):
    shelf = next(s for s in client.get("/api/shelves").get_json()["shelves"] if s["sort"] == "boxes")
    made = client.post(f"/api/shelves/{shelf['id']}/copy").get_json()
    table = 'name,material\n"=1+1",steel\n@home,"+x"\n鋼管,-5 mm\n钢管,y\n'
    read = client.post(f"/api/shelves/{made['id']}/csv", json={"version": made["version"], "csv": table})
    assert read.status_code == 200
    names = {r["name"]: r["cells"].get("material") for r in read.get_json()["rows"]}
    assert names["=1+1"] == "steel"
    out = client.get(f"/api/shelves/{made['id']}/csv").get_data(as_text=True)
    assert not any(
        cell.strip('"').startswith(("=", "+", "@", "-")) for line in out.splitlines() for cell in line.split(",")
    )
    again = client.post(f"/api/shelves/{made['id']}/csv", json={"version": made["version"] + 1, "csv": out}).get_json()
    assert {r["name"]: r["cells"].get("material") for r in again["rows"]} == names


def test_a_table_of_many_rows_is_counted_first(client):
    shelf = next(s for s in client.get("/api/shelves").get_json()["shelves"] if s["sort"] == "boxes")
    many = "name\n" + "".join(f"鋼{i}\n" for i in range(16_000))
    answer = client.post(f"/api/shelves/{shelf['id']}/csv", json={"version": shelf["version"], "csv": many})
    assert refused(answer, 422)["code"] == "shelf-full"
