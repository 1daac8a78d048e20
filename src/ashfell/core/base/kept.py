"""What is made once of the same, kept as long as there is room for it: large results push out more than small ones."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from functools import wraps
from threading import Lock
from typing import ParamSpec, TypeVar

Asked = ParamSpec("Asked")
Made = TypeVar("Made")


def kept(most: float, weight: Callable[..., float]) -> Callable[[Callable[Asked, Made]], Callable[Asked, Made]]:
    """A function that answers the same for the same, with the answers that were asked for last: as many as weigh
    ``most`` together, and always the very last. What it raises is not kept.

    Parameters
    ----------
    most : float
        What may be kept, in whatever ``weight`` reckons.
    weight : callable
        The weight of an answer and of what keeping it holds, from the answer and all that was asked, in their order.
    """

    def keeping(function: Callable[Asked, Made]) -> Callable[Asked, Made]:
        answers: OrderedDict[Hashable, tuple[Made, float]] = OrderedDict()
        lock, total = Lock(), 0.0

        @wraps(function)
        def answer(*args: Asked.args, **named: Asked.kwargs) -> Made:
            nonlocal total
            key = (args, *named.items())
            with lock:
                if key in answers:
                    answers.move_to_end(key)
                    return answers[key][0]
            made = function(*args, **named)
            weighs = float(weight(made, *args, *named.values()))
            with lock:
                if key not in answers:  # where two ask at once, both make it
                    answers[key] = made, weighs
                    total += weighs
                while total > most and len(answers) > 1:
                    total -= answers.popitem(last=False)[1][1]
            return made

        return answer

    return keeping
