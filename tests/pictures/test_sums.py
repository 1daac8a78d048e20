"""Passes added up, and how many samples each layer of light is given: noise of known width, by numpy's own numbers."""

import numpy as np
import pytest

from ashfell.pictures.develop import cleaned, mixed
from ashfell.pictures.sums import STEPS, Sums, by_noise, drawn, even
from ashfell.studio.pictures import negative

RANDOM = np.random.default_rng(3)


def noisy(level, width, samples=1, size=(64, 96)):
    """A layer of even light, each pixel the mean of so many samples."""
    random = RANDOM.standard_normal((*size, 1)) / np.sqrt(samples)
    return (level + width * random).repeat(3, axis=2).astype(np.float32)


def test_a_layer_that_shows_more_noise_has_more_samples():
    quota = by_noise({"sun": noisy(1, 0.6), "sky": noisy(1, 0.2), "lamps:far": noisy(0, 0)}, 32)
    assert sum(quota.values()) == 32
    assert quota["sun"] / quota["sky"] == pytest.approx(3, rel=0.1)
    assert quota["lamps:far"] == 32 / STEPS


def test_light_without_noise_is_no_reason_for_samples():
    """What is shown changes slowly beside noise: a bright layer of even slopes has fewer than a dim noisy one."""
    slope = np.broadcast_to(np.linspace(2, 3, 96)[None, :, None], (64, 96, 3)).astype(np.float32)
    quota = by_noise({"sun": slope, "sky": noisy(0.3, 0.3)}, 16)
    assert quota["sky"] > 14


def test_a_black_first_pass_tells_nothing():
    black = np.zeros((20, 20, 3), np.float32)
    assert by_noise({"sun": black, "sky": black}, 16) == {"sun": 8, "sky": 8}


def test_a_picture_smaller_than_a_block_has_its_quota():
    quota = by_noise({"sun": noisy(1, 0.5, size=(5, 6)), "sky": noisy(1, 0.01, size=(5, 6))}, 4)
    assert quota["sun"] > quota["sky"]


def test_all_samples_are_given_pass_by_pass():
    quota = {"sun": 19.0, "sky": 9.5, "lamps:a": 3.0, "lamps:b": 0.5}
    given = [drawn(quota, number) for number in range(1, 25)]
    for name, each in quota.items():
        if name != "sun":
            assert sum(one[name] for one in given) <= each * 24
            assert sum(one[name] for one in given) > each * 24 - 4, name
    assert 32 * 24 - 8 < sum(sum(one.values()) for one in given) <= 32 * 24
    # Each count fills a grid, so that the tracer rounds none of them.
    assert {count for one in given for count in one.values()} <= {0, 1, 2, 3, 4, 6, 8, 9, 12, 15, 16, 20, 24, 25}
    assert {one["lamps:b"] for one in given} == {0, 1}


@pytest.mark.parametrize("lights", [1, 2, 5, 9])
@pytest.mark.parametrize("samples", [4, 16, 32])
def test_the_first_pass_has_every_layer(lights, samples):
    quota = even([str(k) for k in range(lights)], samples)
    assert min(drawn(quota, 0).values()) >= 1
    assert len(set(quota.values())) == 1


def test_sums_are_the_mean_of_all_samples():
    """Whatever passes they were in: layers of 1, 9 and 9 samples weigh by those."""
    sums = Sums(10)
    passes = []
    for number in range(3):
        count = drawn(sums.quota, number) if sums.quota else {"sun": 4, "sky": 4}
        traced = {name: noisy(level, 0.5, own) for name, level in (("sun", 2), ("sky", 1)) if (own := count[name])}
        passes.append((traced, count))
        sums = sums.plus(traced | {"through": np.full((64, 96, 3), number, np.float32)})
    for name in ("sun", "sky"):
        total = sum(count[name] for _, count in passes)
        mean = sum(traced[name].astype(float) * count[name] for traced, count in passes if count[name]) / total
        assert sums.samples[name] == total
        assert np.allclose(sums.means()[name], mean, atol=1e-5)
    assert sums.means()["through"].mean() == pytest.approx(1)
    assert sum(count["sun"] + count["sky"] for _, count in passes[1:]) == pytest.approx(20, abs=2)


def test_what_is_no_number_is_dark():
    broken = noisy(1, 0)
    broken[3, 4] = np.nan
    assert Sums(4).plus({"sun": broken}).means()["sun"][3, 4].tolist() == [0, 0, 0]


def test_noise_is_told_as_it_is():
    """Of even noise of known width: after n samples it is that width by the root of n, in layers by their own."""
    sums = Sums(16)
    for _ in range(15):
        sums = sums.plus({"sky": noisy(1, 0.2)})
    assert sums.noise_with({"sky": noisy(1, 0.2)}) == pytest.approx(0.2 / 4, rel=0.15)
    two = Sums(16).plus({"sun": noisy(1, 0.4, 8), "sky": noisy(1, 0.1, 8)})
    for number in range(1, 30):
        two = two.plus({name: noisy(1, width, own) for name, width, own in drawn_of(two, number)})
    told = two.noise_with({name: noisy(1, width, own) for name, width, own in drawn_of(two, 30)})
    expected = np.sqrt(0.4**2 / two.samples["sun"] + 0.1**2 / two.samples["sky"]) / 2
    assert told == pytest.approx(expected, rel=0.15)


def drawn_of(sums, number):
    widths = {"sun": 0.4, "sky": 0.1}
    return [(name, widths[name], own) for name, own in drawn(sums.quota, number).items() if own]


def test_sums_are_read_as_they_were_written(tmp_path):
    sums = Sums(10).plus({"sun": noisy(1, 0.5), "lamps:a b": noisy(0.1, 0.1), "beyond": noisy(1, 0)})
    guides = RANDOM.uniform(-1, 1, (64, 96, 6)).astype(np.float32)
    negative.write_sums(tmp_path / "sums.npz", sums, guides)
    again, held = negative.read_sums(tmp_path / "sums.npz", 1, 10)
    assert np.array_equal(held, guides)
    assert (again.passes, again.samples, again.quota) == (1, sums.samples, sums.quota)
    assert all(np.array_equal(again.totals[name], total) for name, total in sums.totals.items())


def test_sums_from_before_there_were_quotas_go_on(tmp_path):
    """Every layer was traced alike, and their passes were added up."""
    layers = {"sun": noisy(3, 0), "sky": noisy(6, 0), "through": noisy(1.5, 0)}
    negative.write_arrays(tmp_path / "old.npz", negative.named(layers))
    sums, guides = negative.read_sums(tmp_path / "old.npz", 3, 16)
    assert guides is None
    assert [round(float(layer.mean()), 5) for layer in sums.means().values()] == [1, 2, 0.5]
    assert sums.plus({"sun": noisy(2, 0), "sky": noisy(2, 0)}).means()["sun"].mean() == pytest.approx(1.25)


def test_layers_without_noise_add_up_to_what_is_seen_together():
    """Two layers whose noise hides an edge of each: together they are as bright as their sum without noise."""
    step = np.zeros((64, 96, 3), np.float32)
    step[:, 48:] = 1
    means = {"sun": step * 2 + noisy(0.5, 0.2), "sky": (1 - step) + noisy(0.5, 0.2)}
    guides = np.concatenate([step, np.zeros_like(step)], axis=2)
    found = cleaned(means, guides)
    seen, real = mixed(found), step * 2 + (1 - step) + 1
    assert np.abs(seen - real).mean() < 0.25 * np.abs(mixed(means) - real).mean()
    assert found["sun"][:, 60:].mean() == pytest.approx(2.5, rel=0.03)
    assert found["sky"][:, :36].mean() == pytest.approx(1.5, rel=0.03)
