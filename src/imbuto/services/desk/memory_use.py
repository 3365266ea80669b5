"""How the server's process takes memory from the system, and gives it back."""

from __future__ import annotations

import ctypes
from contextlib import suppress

# glibc's names of its options: M_ARENA_MAX, M_MMAP_THRESHOLD.
MALLOC_ARENAS, MALLOC_OWN_PAGES = -8, -3
OWN_PAGES = 64 * 1024  # bytes from which a block has pages of its own, which go back when it is freed


def share_memory() -> None:
    """Have all threads of this process take memory from one place, so that what one frees another uses, and give
    back what large arrays took. The C library otherwise opens a place for each thread, up to eight a core, and comes
    to keep blocks of up to 32 MB. To be called before there are threads. Only glibc can."""
    with suppress(OSError, AttributeError):
        libc = ctypes.CDLL(None)
        libc.mallopt(MALLOC_ARENAS, 1)
        libc.mallopt(MALLOC_OWN_PAGES, OWN_PAGES)


def give_back() -> None:
    """Give memory that was freed back to the system, which the C library otherwise keeps. Only glibc can."""
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).malloc_trim(0)
