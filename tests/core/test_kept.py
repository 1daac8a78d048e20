"""What is kept of what was made: as much as there is room for, the largest first to make room."""

from __future__ import annotations

import gc
import weakref
from threading import Barrier, Thread

import pytest

from ashfell.core.base.kept import Room, kept
from ashfell.core.unit import read_unit
from ashfell.core.unit.make import KEPT, made


def counted(most, weight=lambda made, *_: made, room=None):
    """A function that weighs what it is asked for, and all that it was really asked."""
    asked = []

    @kept(most, weight, room or Room(1e6))
    def answer(number, name=""):
        asked.append(number)
        if number < 0:
            raise ValueError(number)
        return number

    return answer, asked


def test_the_same_is_made_once_until_there_is_no_room():
    answer, asked = counted(10)
    assert [answer(n) for n in (3, 4, 3, 4)] == [3, 4, 3, 4]
    assert asked == [3, 4]
    answer(5)  # 12: what was asked for the longest ago goes, which is 3
    answer(4)
    assert asked == [3, 4, 5]
    answer(3)
    assert asked == [3, 4, 5, 3]


def test_one_that_is_too_large_is_kept_alone():
    answer, asked = counted(10)
    for number in (2, 40, 40, 2, 2):
        assert answer(number) == number
    assert asked == [2, 40, 2]


def test_several_functions_have_one_room():
    """What any of them was asked for the longest ago goes, whosever it is; the very last of all stays."""
    room = Room(12)
    (one, ones), (other, others) = counted(10, room=room), counted(10, room=room)
    one(5), other(6), one(5)
    one(3)  # 14 in all, 8 of its own: 6 of the other goes
    assert (one(5), one(3), ones) == (5, 3, [5, 3])
    other(6)  # 14 again: now 5 goes
    assert (one(3), one(5), ones, others) == (3, 5, [5, 3, 5], [6, 6])
    other(40)
    assert other(40) == 40
    assert others == [6, 6, 40]
    one(5)  # there is nothing else to go for what is too large
    assert (ones, other(40), others) == ([5, 3, 5, 5], 40, [6, 6, 40, 40])


def test_what_is_asked_tells_answers_apart_and_may_weigh():
    answer, asked = counted(10, lambda _, number, name="": len(name))
    answer(1, "seven...")
    answer(1, name="seven...")
    answer(1)
    assert asked == [1, 1, 1]
    answer(1, name="seven...")  # which pushed out the first, of as many letters
    answer(1)
    assert len(asked) == 3
    answer(1, "seven...")
    assert len(asked) == 4


def test_what_it_raises_is_raised_each_time():
    answer, asked = counted(10)
    for _ in range(2):
        with pytest.raises(ValueError, match="-1"):
            answer(-1)
    assert asked == [-1, -1]


def test_two_who_ask_at_once_are_both_answered():
    together = Barrier(2)

    @kept(10, lambda made, *_: 6)
    def answer(number):
        together.wait(5)
        return [number]

    found = []
    threads = [Thread(target=lambda: found.append(answer(1))) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert found == [[1], [1]]
    assert any(answer(1) is one for one in found)


def test_large_units_do_not_pile_up():
    """Each number typed in a large unit makes another one."""
    lights = {"lights": [{}] * 30, "bars": ["40"] * 29}
    units = []
    for face in range(60, 67):
        unit = made(
            read_unit(
                {"width": "4000", "height": "4000", "frame": {"face": str(face)}, "columns": lights, "rows": lights}
            )
        )
        units.append(weakref.ref(unit))
    weighs = unit.weight
    assert 15e6 < weighs < KEPT / 3
    del unit
    gc.collect()
    alive = [one() is not None for one in units]
    assert alive[-1]
    assert 2 <= sum(alive) <= KEPT // weighs
