"""Patches over documents, and their inverses."""

import copy
import random

import pytest

from imbuto.core.basics.errors import InvalidValue
from imbuto.formats import patch

DOCS = {"home": {"id": "h", "loads": {"a": {"w": 1}, "b/c": {"w": 2}}, "list": [1, 2]}, "p": {"id": "p", "x": None}}


def both(ops):
    changed, inverse = patch.apply(DOCS, ops)
    after = {k: v for k, v in (DOCS | changed).items() if v}
    back, _ = patch.apply(after, inverse)
    return changed, {k: v for k, v in (after | back).items() if v}


@pytest.mark.parametrize(
    "ops",
    [
        [{"doc": "home", "op": "replace", "path": "/loads/a/w", "value": 5}],
        [{"doc": "home", "op": "remove", "path": "/loads/b~1c"}],
        [{"doc": "home", "op": "add", "path": "/loads/new", "value": {"w": 3}}],
        [{"doc": "home", "op": "add", "path": "/loads/a", "value": {"w": 3}}],
        [
            {"doc": "home", "op": "replace", "path": "/list", "value": []},
            {"doc": "p", "op": "replace", "path": "/x", "value": 1},
        ],
        [{"doc": "q", "op": "add", "path": "", "kind": "plan", "value": {"id": "q"}}],
        [{"doc": "p", "op": "remove", "path": "", "kind": "plan"}],
        [
            {"doc": "home", "op": "replace", "path": "/loads/a/w", "value": 5},
            {"doc": "home", "op": "replace", "path": "/loads/a/w", "value": 6},
            {"doc": "home", "op": "remove", "path": "/loads/a"},
        ],
    ],
)
def test_the_inverse_brings_everything_back(ops):
    before = copy.deepcopy(DOCS)
    changed, again = both(ops)
    assert changed
    assert again == before
    assert before == DOCS  # the given documents were not touched


@pytest.mark.parametrize(
    "op",
    [
        {"doc": "home", "op": "replace", "path": "/loads/zz/w", "value": 5},
        {"doc": "home", "op": "remove", "path": "/loads/zz"},
        {"doc": "home", "op": "add", "path": "/list/0", "value": 5},
        {"doc": "home", "op": "add", "path": "no-slash", "value": 5},
        {"doc": "nowhere", "op": "add", "path": "/x", "value": 5},
        {"doc": "p", "op": "add", "path": "", "value": {}},
        {"doc": "q", "op": "add", "path": "", "value": 3},
        {"doc": "q", "op": "remove", "path": ""},
    ],
)
def test_what_cannot_be_done_is_refused(op):
    with pytest.raises(InvalidValue):
        patch.apply(DOCS, [op])


def random_tree(rng, depth=0):
    if depth > 2 or rng.random() < 0.3:
        return rng.choice([1, 2.5, "x", None, [1], True])
    return {rng.choice("abcd/~"): random_tree(rng, depth + 1) for _ in range(rng.randint(0, 4))}


def test_a_difference_leads_from_one_document_to_the_other():
    rng = random.Random(5)
    for _ in range(300):
        a, b = ({"id": "d", **{k: random_tree(rng) for k in "xyz"}} for _ in range(2))
        changed, _ = patch.apply({"d": a}, patch.difference("d", a, b)) if a != b else ({"d": b}, [])
        assert changed["d"] == b
