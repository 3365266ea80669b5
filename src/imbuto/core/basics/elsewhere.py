"""Calls of large libraries, which a server has made in a process of its own so that their memory is given back.

Without a server, as on the command line and in tests, the call is made right here.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ParamSpec, Protocol, TypeVar

P = ParamSpec("P")
T = TypeVar("T")
Progress = Callable[[float], None]


class Place(Protocol):
    """Where calls are made."""

    def call(self, function: Callable[..., Any], args: tuple[Any, ...], progress: Progress | None) -> Any:
        """Make a call and return or raise what it does; it is told of progress where the function tells it."""


_place: Place | None = None


def take_place(place: Place | None) -> None:
    """From now on have calls made there; None for right here."""
    global _place
    _place = place


def run_elsewhere(function: Callable[P, T], *args: P.args, **named: P.kwargs) -> T:
    """Make a call. function: of a module, with arguments and results that pickle; what it raises too."""
    if _place is None or named:
        return function(*args, **named)
    result: T = _place.call(function, args, None)
    return result


def run_elsewhere_with_progress(function: Callable[..., T], progress: Progress, *args: Any) -> T:
    """Make a call that takes long. progress: what the function is given as its last argument, called with the part
    done, 0 to 1; what it raises stops the function, and is raised here."""
    if _place is None:
        return function(*args, progress)
    result: T = _place.call(function, args, progress)
    return result
