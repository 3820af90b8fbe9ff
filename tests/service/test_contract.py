"""What the service answers is what its OpenAPI document promises."""

import json
from pathlib import Path

import jsonschema
import pytest

from demo import bills
from tests.service.test_api import Caller

SCHEMA = json.loads(Path("docs/reference/openapi.json").read_text())


def resolved(node):
    """A schema with its references put in place (ours are not recursive)."""
    if isinstance(node, dict):
        if "$ref" in node:
            name = node["$ref"].rsplit("/", 1)[-1]
            return resolved(SCHEMA["components"]["schemas"][name])
        return {key: resolved(value) for key, value in node.items()}
    if isinstance(node, list):
        return [resolved(each) for each in node]
    return node


def promised(path, method="get", status="200"):
    response = SCHEMA["paths"][path][method]["responses"][status]
    return resolved(response["content"]["application/json"]["schema"])


@pytest.fixture
def caller(installation, admin):
    installation.checked(bills.KRILL)
    installation.checked(bills.SALT_SLIP, "band")
    installation.arrive_bytes(b"")
    return Caller(admin, "read", "work", "admin")


LISTS = ["documents", "desk", "files", "messages", "vendors", "orders", "entities", "pipelines",
         "connections", "trail", "tokens"]  # fmt: skip


@pytest.mark.parametrize("name", LISTS)
def test_every_list_has_the_shape_it_promises(caller, name):
    answer = caller.get(f"/{name}").json()
    jsonschema.validate(answer, promised(f"/api/v1/{name}"))
    if name != "messages":
        assert answer["results"]


@pytest.mark.parametrize(("path", "name", "key"), [
    ("documents/{id}", "documents", "id"), ("files/{id}", "files", "id"),
    ("vendors/{code}", "vendors", "code"), ("orders/{number}", "orders", "number"),
])  # fmt: skip
def test_every_single_record_has_the_shape_it_promises(caller, path, name, key):
    for row in caller.get(f"/{name}").json()["results"]:
        answer = caller.get("/" + path.replace("{" + key + "}", str(row[key]))).json()
        jsonschema.validate(answer, promised(f"/api/v1/{path}"))


def test_a_documents_story_has_the_shape_it_promises(caller):
    (document, *_) = caller.get("/documents", search="SG/10442").json()["results"]
    story = caller.get(f"/documents/{document['id']}/history").json()
    jsonschema.validate(story, promised("/api/v1/documents/{id}/history"))
    assert [event["act"] for event in story["events"]][-1] == "document.checked"
    assert story["readings"][0]["number"] == 1


def test_every_operation_promises_a_problem_document_and_describes_itself():
    for path, operations in SCHEMA["paths"].items():
        for method, operation in operations.items():
            if method == "parameters":
                continue
            where = f"{method} {path}"
            assert operation.get("description"), where
            if not path.endswith("/schema"):
                assert "application/problem+json" in operation["responses"]["default"]["content"], (
                    where
                )


def test_money_is_never_a_number_on_the_wire(caller):
    def numbers(node, path=""):
        if isinstance(node, dict):
            for key, value in node.items():
                yield from numbers(value, f"{path}.{key}")
        elif isinstance(node, list):
            for value in node:
                yield from numbers(value, path)
        elif isinstance(node, float):
            yield path.rsplit(".", 1)[-1]

    for row in caller.get("/documents").json()["results"]:
        document = caller.get(f"/documents/{row['id']}").json()
        # What is in points or between 0 and 1 may be; amounts are text.
        shares = {"confidence", "score", "strength"}
        assert set(numbers(document)) <= shares | {"box", "width", "height"}
