"""Median times of two things done in turn, so that both meet the same machine."""

from __future__ import annotations

from collections.abc import Callable
from statistics import median
from time import perf_counter


def in_turn(*tasks: Callable[[], object], rounds: int = 40) -> list[float]:
    """Median seconds of each task; one round before those that count."""
    times: list[list[float]] = [[] for _ in tasks]
    for number in range(rounds + 1):
        for task, taken in zip(tasks, times, strict=True):
            start = perf_counter()
            task()
            if number:
                taken.append(perf_counter() - start)
    return [median(taken) for taken in times]


def tell(what: str, ours: float, theirs: float, name: str, goal: float) -> None:
    """One line: both times, and how many times as fast ours is."""
    ratio = theirs / ours
    verdict = "reached" if ratio >= goal else "missed"
    print(
        f"{what}: {ours * 1000:.2f} ms, {name} {theirs * 1000:.2f} ms: {ratio:.1f} times as fast (goal {goal:g}, "
        f"{verdict})"
    )
