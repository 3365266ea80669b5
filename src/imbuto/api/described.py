"""The API's description, made as exact as the answers are.

Python's defaults make a field optional to send. In an answer every field is there, so that a client need not ask
whether it is; and the documents of a home, which are passed on as they are kept, have the shape of a plan file's."""

from __future__ import annotations

from typing import Any

from imbuto.services.desk.quantities import by_field

Json = dict[str, Any]

LEFT_OUT_WHERE_EMPTY = {"ErrorBody"}
# Fields that are passed on as JSON, and what they hold.
DOCUMENTS: dict[tuple[str, str], Json] = {
    (of, field): shape
    for of in ("HomeState", "HomeNews")
    for field, shape in {
        "plans": {"type": "array", "items": {"$ref": "#/components/schemas/Plan"}},
        "outages": {"type": "array", "items": {"$ref": "#/components/schemas/Outage"}},
    }.items()
} | {
    ("HomeState", "home"): {"$ref": "#/components/schemas/Home"},
    ("HomeNews", "home"): {"anyOf": [{"$ref": "#/components/schemas/Home"}, {"type": "null"}]},
}


def in_full(described: Json) -> Json:
    """Return the description with the fields that every answer has as required, documents by their shape, and the
    names of quantities that stand in several places."""
    schemas: Json = described["components"]["schemas"]
    for (of, field), shape in DOCUMENTS.items():
        schemas[of]["properties"][field] = shape
    for at, quantity in by_field().items():
        view, _, field = at.partition(".")
        schemas[view]["properties"][field]["x-quantity"] = quantity.id
    asked: set[str] = set()
    answered: set[str] = set()
    for path in described["paths"].values():
        for operation in path.values():
            asked |= _named(operation.get("requestBody")) | _named(operation.get("parameters"))
            answered |= _named(operation.get("responses"))
    for name in _reached(schemas, answered) - _reached(schemas, asked) - LEFT_OUT_WHERE_EMPTY:
        if "properties" in schemas[name]:
            schemas[name]["required"] = list(schemas[name]["properties"])
    return described


def _named(part: Any) -> set[str]:
    """The schemas that a part of the description refers to."""
    if isinstance(part, dict):
        own = {str(part["$ref"]).rpartition("/")[2]} if "$ref" in part else set()
        return own.union(*(_named(x) for x in part.values()))
    if isinstance(part, list):
        return set().union(*(_named(x) for x in part))
    return set()


def _reached(schemas: Json, start: set[str]) -> set[str]:
    """Those schemas, and all that they refer to."""
    found: set[str] = set()
    todo = set(start)
    while todo:
        name = todo.pop()
        if name in schemas and name not in found:
            found.add(name)
            todo |= _named(schemas[name])
    return found
