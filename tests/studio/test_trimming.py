"""What a long request leaves behind is given back when it is answered; a short one is not made longer by it."""

import gc
import time
import weakref
from types import SimpleNamespace

import pytest
from django.dispatch import Signal

from ashfell.studio.keeping import trimming


class Circle:
    """Something that refers to itself, so that only the collector lets go of it."""

    def __init__(self):
        self.itself = self


@pytest.fixture
def watched(monkeypatch):
    """Signals of requests that are watched, while the collector comes by itself to nothing."""
    signals = Signal(), Signal()
    monkeypatch.setattr(trimming, "request_started", signals[0])
    monkeypatch.setattr(trimming, "request_finished", signals[1])
    trimming.watch_requests()
    gc.disable()
    yield signals
    gc.enable()


def test_who_only_waited_leaves_nothing_behind(watched, monkeypatch):
    """Where many wait for each other, looking through everything after each would make all of them wait longer."""
    monkeypatch.setattr(trimming, "LONG", 0.02)
    calls = []
    monkeypatch.setattr(trimming, "trim", lambda: calls.append(1))
    started, finished = watched
    started.send(None)
    time.sleep(0.05)
    finished.send(None)
    assert calls == []
    started.send(None)
    until = time.thread_time() + 0.03
    while time.thread_time() < until:
        pass
    finished.send(None)
    assert calls == [1]


@pytest.mark.parametrize(("worked", "left"), [(trimming.LONG + 0.1, False), (trimming.LONG / 2, True)])
def test_what_a_long_request_leaves_behind_is_given_back(watched, monkeypatch, worked, left):
    (started, finished), now = watched, [100.0]
    monkeypatch.setattr(trimming, "time", SimpleNamespace(thread_time=lambda: now[0]))
    started.send(None)
    now[0] += worked
    told = weakref.ref(Circle())
    finished.send(None)
    assert (told() is not None) is left
