"""JSON Patch over several documents: each operation names its document; inverses are built as it is applied."""

from __future__ import annotations

import copy
import json
from typing import Any

import jsonpatch
import jsonpointer

from imbuto.core.basics.errors import InvalidValue

Json = dict[str, Any]
Documents = dict[str, Json]
WHOLE = ""  # the path of a whole document: add makes one, remove deletes it


def escape(key: str) -> str:
    """A key as part of a path."""
    return str(jsonpointer.escape(key))


def apply(documents: Documents, ops: list[Json]) -> tuple[Documents, list[Json]]:
    """Apply operations {doc, op, path, value}; op is add, replace or remove.

    Returns the changed documents only (an empty one was deleted), and the operations that undo it all.
    Raises InvalidValue; the given documents are never touched.
    """
    changed: Documents = {}
    inverse: list[Json] = []
    for op in ops:
        doc, path, kind = op["doc"], op["path"], op["op"]
        current = changed[doc] if doc in changed else documents.get(doc)
        if path == WHOLE:
            changed[doc] = _whole(doc, kind, op, current, inverse)
            continue
        if not current:
            raise InvalidValue(doc, path, "this home doesn't have that document")
        if doc not in changed:
            current = json.loads(json.dumps(current))  # a plain document: sooner than a copy object by object
        inverse.insert(0, _inverse(current, op))
        try:
            patch: Json = {k: op[k] for k in ("op", "path", "value") if k in op}
            changed[doc] = jsonpatch.apply_patch(current, [patch], in_place=True)
        except (jsonpatch.JsonPatchException, jsonpointer.JsonPointerException):
            raise InvalidValue(f"{doc}{path}", kind, "there is nothing to change") from None
    return changed, inverse


def _whole(doc: str, kind: str, op: Json, current: Json | None, inverse: list[Json]) -> Json:
    if kind == "remove":
        if not current:
            raise InvalidValue(doc, None, "this home doesn't have that document")
        inverse.insert(0, {"doc": doc, "op": "add", "path": WHOLE, "kind": op.get("kind"), "value": current})
        return {}
    if current:
        raise InvalidValue(doc, doc, "there is a document with that id already")
    inverse.insert(0, {"doc": doc, "op": "remove", "path": WHOLE, "kind": op.get("kind")})
    value = op.get("value")
    if not isinstance(value, dict):
        raise InvalidValue(doc, value, "a document must be an object")
    return copy.deepcopy(value)


def _inverse(document: Json, op: Json) -> Json:
    """The operation that takes one back."""
    path = op["path"]
    try:
        pointer = jsonpointer.JsonPointer(path)
        parent, key = pointer.to_last(document)
        exists = key in parent if isinstance(parent, dict) else isinstance(key, int) and key < len(parent)
        old = copy.deepcopy(parent[key]) if exists else None
    except (jsonpointer.JsonPointerException, KeyError, TypeError):
        raise InvalidValue(f"{op['doc']}{path}", op["op"], "there is nothing to change") from None
    base = {"doc": op["doc"], "path": path}
    if isinstance(parent, list):
        if op["op"] == "replace" and exists:
            return base | {"op": "replace", "value": old}
        if op["op"] == "remove" and exists:
            return base | {"op": "add", "value": old}
        raise InvalidValue(f"{op['doc']}{path}", op["op"], "replace a list as a whole")
    if exists:
        return base | {"op": "add" if op["op"] == "remove" else "replace", "value": old}
    if op["op"] != "add":
        raise InvalidValue(f"{op['doc']}{path}", op["op"], "there is nothing to change")
    return base | {"op": "remove"}


def difference(doc: str, before: Json, after: Json) -> list[Json]:
    """The operations that lead from one document to another; lists are replaced as a whole."""
    return list(_walk(doc, "", before, after))


def _walk(doc: str, path: str, before: Any, after: Any) -> Any:
    if before == after:
        return
    if not (isinstance(before, dict) and isinstance(after, dict)):
        yield {"doc": doc, "op": "replace", "path": path, "value": after}
        return
    for key in sorted(before.keys() | after.keys()):
        inner = f"{path}/{jsonpointer.escape(key)}"
        if key not in after:
            yield {"doc": doc, "op": "remove", "path": inner}
        elif key not in before:
            yield {"doc": doc, "op": "add", "path": inner, "value": after[key]}
        else:
            yield from _walk(doc, inner, before[key], after[key])
