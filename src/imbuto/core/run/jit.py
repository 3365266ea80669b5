"""Functions that are compiled to machine code the first time they are called, or loaded from where that was kept.

The compiler is imported only then: it takes most of a second, which a server's start need not wait for.
"""

from __future__ import annotations

from collections.abc import Callable
from hashlib import blake2b
from pathlib import Path
from threading import Lock
from types import FunctionType
from typing import Any, TypeVar

import numpy as np

_loading = Lock()
_INLINED = "__imbuto_inlined__"
F = TypeVar("F", bound=Callable[..., Any])
# Nothing compiled allocates, so it need not count who holds an array; counting cost seventeen times the march itself.
OPTIONS: dict[str, Any] = {"error_model": "numpy", "nogil": True, "_nrt": False}


def inlined(function: F) -> F:
    """Mark a part of a compiled function of the same file; compiled, it is put into its callers at no cost.

    A part has to stand in the file of the function that it is part of: what was compiled is kept until that file
    changes, whatever changes elsewhere. ``Compiled.fast`` raises where it does not."""
    setattr(function, _INLINED, True)
    return function


class CompiledFunction:
    """A function over arrays; ``py_func`` is the same lines as plain Python, the reference and the debugger.

    ``NUMBA_DISABLE_JIT=1`` runs those. The arrays it is called with are always of the same kinds, so that it is
    compiled once."""

    def __init__(self, function: Callable[..., None]) -> None:
        self._function = function
        self.__doc__ = function.__doc__
        self._fast: Any = None

    @property
    def py(self) -> Callable[..., None]:
        """Its lines, not compiled."""
        return self._function

    def py_func(self, *arguments: Any) -> None:
        """Run it as plain Python."""
        self._function(*(_with_attributes(x) for x in arguments))

    @property
    def fast(self) -> Any:
        """The compiled one; made, not yet compiled, the first time it is asked for."""
        with _loading:
            if self._fast is None:
                self._fast = self.py_func if _plain() else _compiled(self._function)
        return self._fast

    def __call__(self, *arguments: Any) -> None:
        """Run it compiled."""
        (self._fast or self.fast)(*arguments)


def _plain() -> bool:
    from numba import config

    return bool(getattr(config, "DISABLE_JIT", False))


def _with_attributes(argument: Any) -> Any:
    """Records whose fields are attributes, as the compiler has them; tuples of arrays one by one."""
    if isinstance(argument, tuple):
        return type(argument)(*(_with_attributes(x) for x in argument))
    if isinstance(argument, np.ndarray) and argument.dtype.names is not None:
        return argument.view(np.recarray)
    return argument


def _compiled(function: Any) -> Any:
    """A function with its parts, made for the compiler: they see one another compiled, and the module's own stay
    plain."""
    from numba import njit

    names = dict(function.__globals__)
    for name, part in _parts(function).items():
        if part.__code__.co_filename != function.__code__.co_filename:
            raise ImportError(f"{name} is compiled into {function.__name__}, so it has to be in the same file")
        # Only the march calls a part, so none needs a way in from Python; making those took most of the time.
        options = OPTIONS | {"forceinline": True, "no_cpython_wrapper": True, "no_cfunc_wrapper": True}
        names[name] = njit(**options)(_in(part, names, part.__qualname__))
    return njit(**OPTIONS, cache=True)(_in(function, names, f"{function.__qualname__}-{fingerprint(function)}"))


def _parts(function: Any) -> dict[str, FunctionType]:
    return {
        name: part
        for name, part in function.__globals__.items()
        if isinstance(part, FunctionType) and getattr(part, _INLINED, False)
    }


def fingerprint(function: Any) -> str:
    """A digest of all that what is compiled depends on, under which it is kept.

    The compiler's own cache notices a change of the function's file only after it has read what it kept for the old
    one, which fails where a class was renamed; and a constant from elsewhere, or an option, changes without its being
    seen."""
    said: list[object] = [sorted(OPTIONS.items()), Path(function.__code__.co_filename).read_bytes()]
    for name, value in sorted(function.__globals__.items()):
        if isinstance(value, (bool, int, float, np.dtype)):
            said.append((name, repr(value)))
    for name, part in sorted(_parts(function).items()):
        said.append((name, part.__code__.co_code, repr(part.__code__.co_consts)))
    return blake2b(repr(said).encode(), digest_size=6).hexdigest()


def _in(function: Any, names: dict[str, Any], qualname: str) -> FunctionType:
    """The same function, looking its names up elsewhere."""
    made = FunctionType(function.__code__, names, function.__name__, function.__defaults__)
    made.__qualname__, made.__module__ = qualname, function.__module__
    return made
