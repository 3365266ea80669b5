"""What was worked out once and is wanted again."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

from cachetools import LRUCache

V = TypeVar("V")


class ContentCache(Generic[V]):
    """Keep what was worked out from documents, by what they say; the least recently used goes first.

    A key names everything the value depends on, so an id that comes back with other documents behind it finds nothing
    of the old ones. Safe to share between threads."""

    def __init__(self, most: int) -> None:
        self._kept: LRUCache[Hashable, V] = LRUCache(most)
        self._lock = Lock()

    def get(self, key: Hashable, make: Callable[[], V]) -> V:
        """The value kept under a key, or made now and kept. What make raises is raised, and nothing is kept."""
        with self._lock:
            if key in self._kept:
                return self._kept[key]
        made = make()  # Not under the lock: others need not wait for it.
        with self._lock:
            return self._kept.setdefault(key, made)

    def clear(self) -> None:
        """Forget everything."""
        with self._lock:
            self._kept.clear()
