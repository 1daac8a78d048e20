"""What is kept between runs: made once, and made again where it cannot be kept or read."""

from __future__ import annotations

import numpy as np
import pytest

from ashfell.core.finish import LIBRARY
from ashfell.formats import shelf
from ashfell.pictures import materials


@pytest.fixture(autouse=True)
def own_folder(tmp_path, monkeypatch):
    monkeypatch.setenv("ASHFELL_CACHE", str(tmp_path / "kept"))
    return tmp_path / "kept"


def test_a_name_is_made_once(own_folder):
    made = []

    def make():
        made.append(1)
        return b"content"

    assert [shelf.kept("name", "bin", make) for _ in range(3)] == [b"content"] * 3
    assert shelf.kept("another", "bin", make) == b"content"
    assert len(made) == 2
    assert sorted(file.suffix for file in own_folder.iterdir()) == [".bin", ".bin"]


def test_where_nothing_can_be_kept_it_is_made_each_time(own_folder):
    own_folder.write_text("a file where the folder would be")
    assert [shelf.kept("name", "bin", lambda: b"content") for _ in range(2)] == [b"content"] * 2


@pytest.mark.parametrize("key", ["river-brick", "lime-plaster"])
def test_textures_for_the_tracer_are_the_same_from_the_shelf(key, own_folder):
    finish = LIBRARY[key]

    def pixels():
        return np.array(materials.colour(finish, 1.0)["bitmap"])

    first = pixels()
    (kept,) = own_folder.glob("*.npy")
    assert np.array_equal(pixels(), first)
    kept.write_bytes(b"no image")
    assert np.array_equal(pixels(), first)


def test_what_somebody_makes_is_not_kept(own_folder):
    """It changes with every number that is typed."""
    materials.colour(LIBRARY["river-brick"].model_copy(update={"name": "Own brick", "colour": "#804020"}), 1.0)
    assert not own_folder.exists()
