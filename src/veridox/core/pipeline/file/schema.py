"""JSON Schema of a pipeline file, for editors: made from the table of keys."""

from typing import Any, Final

from veridox.core.pipeline.file.keys import PARTS, Below, Key, Keys, Plain

DRAFT: Final = "https://json-schema.org/draft/2020-12/schema"
NAME_PATTERN: Final = "^[a-z0-9][a-z0-9-]{0,62}$"
_OWN_NAME: Final = "^[a-z][a-z0-9_]{0,62}$"
_KINDS: Final[dict[str, dict[str, Any]]] = {
    "text": {"type": ["string", "number", "boolean"]},
    "name": {"type": "string", "pattern": f"{NAME_PATTERN}|^=\\s*environment\\."},
    "truth": {"type": "boolean"},
    "number": {"type": ["string", "number"]},
    "condition": {"type": "string"},
    "expression": {"type": "string", "pattern": "^="},
    "template": {"type": "string"},
}
_SAID: Final = {
    "condition": "A condition of the language (docs/reference/expressions.md).",
    "expression": "An expression of the language behind `=`.",
    "template": "A text; names in {{ }} are filled in.",
}


def schema() -> dict[str, Any]:
    """The schema, of draft 2020-12. What is not yet available is not in it."""
    return {
        "$schema": DRAFT,
        "$id": "urn:veridox:pipeline-file",
        "title": "Pipeline file",
        "description": "What is done with the documents that come in.",
        **_mapping(PARTS[""]),
        "$defs": {name: _mapping(keys) for name, keys in PARTS.items() if name},
    }


def _mapping(keys: Keys) -> dict[str, Any]:
    ready = {name: key for name, key in keys.items() if key.ready}
    required = [name for name, key in ready.items() if key.required]
    return {
        "type": "object",
        "properties": {name: _key(key) for name, key in ready.items()},
        **({"required": required} if required else {}),
        "additionalProperties": False,
    }


def _key(key: Key) -> dict[str, Any]:
    about = f"{key.help[0].upper()}{key.help[1:]}."
    if isinstance(key.shape, Plain):
        more = _SAID.get(key.shape.kind, "")
        return {"description": f"{about} {more}".strip(), **_plain(key.shape)}
    return {"description": about, **_below(key.shape)}


def _plain(plain: Plain) -> dict[str, Any]:
    one: dict[str, Any] = {"enum": list(plain.values)} if plain.values else _KINDS[plain.kind]
    return {"anyOf": [one, {"type": "array", "items": one}]} if plain.many else dict(one)


def _below(below: Below) -> dict[str, Any]:
    one: dict[str, Any] = {"$ref": f"#/$defs/{below.part}"}
    if below.how == "list":
        return {"type": "array", "items": one}
    if below.how == "named":
        return {"type": "object", "propertyNames": {"pattern": _OWN_NAME + "|\\."},
                "additionalProperties": one}  # fmt: skip
    return {"anyOf": [one, _plain(below.plain)]} if below.plain else one
