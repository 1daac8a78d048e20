"""Passes traced by other machines: the same bytes, and nothing is lost with a machine."""

import os
import signal
import threading
import time

import numpy as np
import pytest

from ashfell.core.base.refusal import Refusal
from ashfell.core.site.aside import hung
from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.pictures import many
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.shoot import shoot
from ashfell.pictures.sums import Sums
from ashfell.pictures.trace import Tracer

WALL = {"id": "a", "length": "4 m", "thickness": "300", "height": "3 m"}
PLACED = {"id": "p", "wall": "a", "unit": "w", "offset": "900", "sill": "900"}
SITE = {"walls": [WALL], "units": {"w": {}}, "placements": [PLACED]}
LOOK = {"camera": {"eye": [2, -5, 1.5], "target": [2, 0, 1.5]}, "width": 96, "height": 60}


@pytest.fixture(scope="module")
def cluster():
    """Two machines and their scheduler, each a process of its own, as the documented commands start them."""
    distributed = pytest.importorskip("distributed")
    with distributed.LocalCluster(
        n_workers=2, threads_per_worker=1, processes=True, dashboard_address=None, silence_logs=50
    ) as made:
        yield made
        if many.farm_at.cache_info().currsize:
            many.farm_at(made.scheduler_address).client.close()
        many.farm_at.cache_clear()


@pytest.fixture(scope="module")
def site():
    return read_site(SITE)


@pytest.fixture
def asked():
    return PictureSettings.model_validate(LOOK)


@pytest.fixture
def here(site, asked):
    """Every pass, traced here, and the quota of samples that it had."""
    tracer = Tracer(build_scene(site).parts, asked, site.finishes, hung(site))
    sums, passes = Sums(asked.samples), []
    for number in range(asked.passes):
        passes.append((tracer.trace(number, sums.quota), sums.quota))
        sums = sums.plus(passes[-1][0])
    return passes


def test_a_pass_is_the_same_bytes_wherever_it_is_traced(cluster, site, asked, here):
    farm = many.farm_at(cluster.scheduler_address)
    assert farm.machines() == 2
    for number, (own, quota) in enumerate(here):
        found = farm.pass_of("one", lambda: many.work_of(site, asked), number, asked, quota)
        assert found.keys() == own.keys()
        assert all(np.array_equal(found[name], own[name]) for name in own)
    assert not farm.asked
    assert not farm.sent


def test_a_picture_of_the_command_line_is_the_same_bytes(cluster, site, asked):
    assert np.array_equal(shoot(site, asked), shoot(site, asked, scheduler=cluster.scheduler_address))


def test_a_machine_that_is_killed_costs_its_passes_only(cluster, site, here, asked):
    """kill -9 of one of two while both trace: every pass comes, each once, the same as without."""
    farm = many.farm_at(cluster.scheduler_address)
    larger = asked.model_copy(update={"width": 256, "height": 160})
    work = many.work_of(site, larger)
    first = farm.pass_of("killed", lambda: work, 0, larger, {})
    quota = Sums(larger.samples).plus(first).quota
    (victim, *_) = farm.client.run(os.getpid).values()
    killer = threading.Thread(target=lambda: (time.sleep(0.3), os.kill(victim, signal.SIGKILL)))
    killer.start()
    rest = [farm.pass_of("killed", lambda: work, number, larger, quota) for number in range(1, larger.passes)]
    killer.join()
    tracer = Tracer(build_scene(site).parts, larger, site.finishes, hung(site))
    for number in (0, larger.passes - 1):
        own = tracer.trace(number, quota if number else {})
        assert all(np.array_equal([first, *rest][number][name], own[name]) for name in own), number


def test_a_refusal_comes_back_as_one(cluster, site, asked):
    dark = asked.model_copy(update={"off": ("sun", "sky")})
    with pytest.raises(Refusal, match="Neither sun, sky nor a lamp is on"):
        many.farm_at(cluster.scheduler_address).pass_of("dark", lambda: many.work_of(site, dark), 0, dark, {})


def test_where_nobody_answers_it_is_said(site, asked, monkeypatch):
    monkeypatch.setattr(many, "PATIENCE", 1)
    many.farm_at.cache_clear()
    with pytest.raises(Refusal, match=r"No scheduler answers at tcp://127\.0\.0\.1:9") as told:
        shoot(site, asked, scheduler="tcp://127.0.0.1:9")
    assert told.value.remedy == "Start one, or leave the scheduler out."


@pytest.mark.django_db(transaction=True)
@pytest.mark.parametrize("there", [True, False])
def test_the_queue_has_its_passes_traced_elsewhere_or_here(
    cluster, project, person, settings, monkeypatch, caplog, there
):
    """The layers that are kept are the same bytes; where no scheduler answers that is told, and it is traced here."""
    from ashfell.core.base.document import dump
    from ashfell.studio.pictures import negative
    from ashfell.studio.pictures.models import Picture
    from ashfell.studio.pictures.tasks import trace_pass

    many.farm_at.cache_clear()
    monkeypatch.setattr(many, "PATIENCE", 10 if there else 1)
    made = []
    for address in ("", cluster.scheduler_address if there else "tcp://127.0.0.1:9"):
        settings.SCHEDULER = address
        asked = dump(PictureSettings.model_validate(LOOK | {"width": 64, "height": 40}))
        made.append(Picture.objects.create(project=project, author=person, settings=asked, site=dump(read_site(SITE))))
        for number in range(made[-1].passes):
            assert trace_pass.call(made[-1].pk, number) == f"pass {number + 1} of {made[-1].passes}"
    kept = [negative.read_arrays(one.folder / "layers.npz") for one in made]
    assert kept[0].keys() == kept[1].keys()
    assert all(np.array_equal(kept[0][name], kept[1][name]) for name in kept[0])
    told = [record.getMessage() for record in caplog.records if record.name.endswith("pictures.tasks")]
    assert bool(told) is not there
    assert there or "is traced here: No scheduler answers at tcp://127.0.0.1:9" in told[0]
