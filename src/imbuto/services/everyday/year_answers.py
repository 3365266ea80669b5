"""What is made of ordinary years: worked out in the server's second process, where a year's memory is given back, and
kept here by what the documents say. The answers are small, the years are not."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any, Concatenate, ParamSpec, TypeVar

from imbuto.core.basics.cache import ContentCache
from imbuto.core.basics.elsewhere import run_elsewhere
from imbuto.services.desk.judging import Documents

MOST_ANSWERS = 32
P = ParamSpec("P")
T = TypeVar("T")
_kept: ContentCache[Any] = ContentCache(MOST_ANSWERS)


def year_answer(
    function: Callable[Concatenate[Documents, P], T], documents: Documents, *asked: P.args, **_none: P.kwargs
) -> T:
    """What a function makes of documents.

    function: of a module, depending on nothing but its arguments
    asked: what else it takes; hashable
    """
    key: Hashable = (function.__module__, function.__name__, documents.content, *asked)
    call: Callable[..., T] = function
    found: T = _kept.get(key, lambda: run_elsewhere(call, documents, *asked))
    return found
