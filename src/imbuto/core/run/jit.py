"""Functions that are compiled to machine code the first time they are called, or loaded from where that was kept.

The compiler is imported only then: it takes most of a second, which a server's start need not wait for.
"""

from __future__ import annotations

from collections.abc import Callable
from threading import Lock
from typing import Any

_loading = Lock()


class Compiled:
    """A function over arrays; ``py_func`` is the same lines as plain Python, the reference and the debugger.

    ``NUMBA_DISABLE_JIT=1`` runs those. The annotations of its arguments are the arrays it is called with, always the
    same kinds, so that it is compiled once."""

    def __init__(self, function: Callable[..., None]) -> None:
        self.py_func = function
        self.__doc__ = function.__doc__
        self._fast: Any = None

    @property
    def fast(self) -> Any:
        """The compiled one; made, not yet compiled, the first time it is asked for."""
        with _loading:
            if self._fast is None:
                from numba import njit

                self._fast = njit(cache=True, nogil=True, error_model="numpy")(self.py_func)
        return self._fast

    def __call__(self, *arguments: Any) -> None:
        """Run it compiled."""
        (self._fast or self.fast)(*arguments)
