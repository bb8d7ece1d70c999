"""What a client asks of the server."""

import json

from tests.support.parts import bar


def opened(client, document=None):
    answer = client.post("/api/parts/file", data=json.dumps(document or bar()))
    assert answer.status_code == 201, answer.get_json()
    return answer.get_json()


def save(client, view, document, label="Change", base=None):
    body = {"base": view["revision"] if base is None else base, "label": label, "document": document}
    return client.put(f"/api/parts/{view['id']}/document", json=body)


def travel(client, way, view, token=None):
    return client.post(f"/api/parts/{view['id']}/{way}", json={"base": view["revision"], "token": token})


def refused(answer, status):
    assert answer.status_code == status, answer.get_json()
    error = answer.get_json()["error"]
    assert error["text"]
    return error
