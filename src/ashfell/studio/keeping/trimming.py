"""What a long request leaves behind is given back to the system when it is answered: a process does not grow with the
largest of its pages."""

from __future__ import annotations

import ctypes
import gc
import time
from math import inf
from threading import local
from typing import Any

from django.core.signals import request_finished, request_started

LONG = 1.0
"""How long a request is worked on that leaves much behind, seconds; how long it waits for others does not count."""
HEAPS, BY_ITSELF = -8, -3
"""What the GNU C library calls M_ARENA_MAX and M_MMAP_THRESHOLD, bytes."""
_at_work = local()


def trim() -> None:
    """Give back what nothing refers to any more: circles that the collector has not come to yet, and what the C library
    holds free. It takes a tenth of the time of what it is done after."""
    gc.collect()
    give_back = getattr(ctypes.CDLL(None), "malloc_trim", None)  # other libraries give back by themselves
    if give_back is not None:
        give_back(0)


def watch_requests() -> None:
    """From now on, in this process. Its threads share two heaps, and what is large is taken from the system by itself:
    what many threads leave free between what they keep is a third of a process otherwise."""
    choose = getattr(ctypes.CDLL(None), "mallopt", None)
    if choose is not None:
        choose(HEAPS, 2)
        choose(BY_ITSELF, 2**20)
    request_started.connect(_begun)
    request_finished.connect(_ended)


def _begun(**_: Any) -> None:
    _at_work.since = time.thread_time()


def _ended(**_: Any) -> None:
    worked, _at_work.since = time.thread_time() - getattr(_at_work, "since", inf), inf
    if worked >= LONG:
        trim()
