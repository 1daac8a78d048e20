"""What is made once of the same, kept as long as there is room for it: large results push out more than small ones."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from functools import wraps
from threading import Lock
from typing import Any, ParamSpec, TypeVar

Asked = ParamSpec("Asked")
Made = TypeVar("Made")

TOGETHER = 150e6
"""What is kept in one process of all that is made, bytes."""


class Room:
    """Room for what several functions answered, in the order in which it was asked for last.

    Attributes
    ----------
    most : float
        What may be kept, bytes.
    """

    def __init__(self, most: float) -> None:
        self.most, self.lock = most, Lock()
        self._total = 0.0
        self._answers: OrderedDict[tuple[Shelf, Hashable], None] = OrderedDict()

    def asked(self, shelf: Shelf, key: Hashable) -> None:
        """Of all answers this one was asked for last."""
        self._answers.move_to_end((shelf, key))

    def put(self, shelf: Shelf, key: Hashable, made: object, weighs: float) -> None:
        """Keep an answer; what was asked for the longest ago makes room for it, on its shelf and then on any."""
        shelf.answers[key] = made, weighs
        shelf.total += weighs
        self._answers[shelf, key] = None
        self._total += weighs
        while shelf.total > shelf.most and len(shelf.answers) > 1:
            self._drop(shelf, next(iter(shelf.answers)))
        while self._total > self.most and len(self._answers) > 1:
            self._drop(*next(iter(self._answers)))

    def _drop(self, shelf: Shelf, key: Hashable) -> None:
        _, weighed = shelf.answers.pop(key)
        del self._answers[shelf, key]
        shelf.total -= weighed
        self._total -= weighed


class Shelf:
    """What one function answered, of at most so many bytes, and what each answer weighs."""

    def __init__(self, most: float) -> None:
        self.most, self.total = most, 0.0
        self.answers: OrderedDict[Hashable, tuple[Any, float]] = OrderedDict()


_ROOM = Room(TOGETHER)


def kept(
    most: float, weight: Callable[..., float], room: Room = _ROOM
) -> Callable[[Callable[Asked, Made]], Callable[Asked, Made]]:
    """A function that answers the same for the same, with the answers that were asked for last: as many as weigh
    ``most`` together, and always the very last; all such functions of a process have one room between them. What it
    raises is not kept.

    Parameters
    ----------
    most : float
        What may be kept, bytes.
    weight : callable
        The weight of an answer and of what keeping it holds, bytes, from the answer and all that was asked, in their
        order.
    room : Room
        Where it is kept.
    """

    def keeping(function: Callable[Asked, Made]) -> Callable[Asked, Made]:
        shelf = Shelf(most)

        @wraps(function)
        def answer(*args: Asked.args, **named: Asked.kwargs) -> Made:
            key = (args, *named.items())
            with room.lock:
                if key in shelf.answers:
                    shelf.answers.move_to_end(key)
                    room.asked(shelf, key)
                    found: Made = shelf.answers[key][0]
                    return found
            made = function(*args, **named)
            weighs = float(weight(made, *args, *named.values()))
            with room.lock:
                if key not in shelf.answers:  # where two ask at once, both make it
                    room.put(shelf, key, made, weighs)
            return made

        return answer

    return keeping
