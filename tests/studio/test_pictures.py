"""The queue: passes, cancelling, failing, and a worker that is killed."""

import subprocess
import sys
import time

import numpy as np
import pytest
from django.urls import reverse
from django_tasks import TaskResultStatus
from django_tasks_db.models import DBTaskResult
from PIL import Image

from ashfell.core.base.document import dump
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.trace import Tracer
from ashfell.studio.pictures.management.commands.work import work
from ashfell.studio.pictures.models import Picture
from ashfell.studio.pictures.tasks import trace_pass
from ashfell.studio.pictures.workers import hold, is_alive, put_back
from tests.conftest import ROOT

TAKING = {
    "eye_x": "3",
    "eye_y": "-7",
    "eye_z": "1.6",
    "target_x": "3",
    "target_y": "0",
    "target_z": "1.5",
    "lens": "38.6",
    "upright": "yes",
    "sky": "clear",
    "light": ["sun", "sky"],
    "on": ["sun", "sky"],
    "by": "angle",
    "azimuth": "215",
    "altitude": "38",
    "size": "64 × 40",
    "quality": "draft",
    "exposure": "0",
}

pytestmark = pytest.mark.django_db(transaction=True)


def bare_wall(project):
    """Its first wall alone: what is tested is the worker, and this is soon read."""
    site = project.composed_site()
    return site | {"walls": site["walls"][:1], "placements": [], "units": {}}


@pytest.fixture
def start(signed_in, project):
    def send(**values):
        return signed_in.post(reverse("picture-start", args=[project.pk]), TAKING | values)

    return send


@pytest.fixture
def no_signals(monkeypatch):
    """A worker in this process leaves this process's signals alone."""
    monkeypatch.setattr("django_tasks_db.management.commands.db_worker.Worker.configure_signals", lambda self: None)


def test_a_picture_is_traced_pass_by_pass_and_can_be_fetched(start, signed_in, project, no_signals):
    assert start().status_code == 200
    picture = Picture.objects.get()
    assert (picture.state, picture.passes_done) == ("waiting", 0)
    work(batch=True)
    picture.refresh_from_db()
    assert (picture.state, picture.passes_done) == ("done", picture.passes)
    answer = signed_in.get(reverse("picture-image", args=[project.pk, picture.pk]))
    assert answer["Content-Type"] == "image/png"
    assert Image.open(picture.image).size == (64, 40)
    assert len(set(Image.open(picture.image).get_flattened_data())) > 50
    assert sorted(file.name for file in picture.folder.glob("*.npz")) == ["layers.npz", "seen.npz"]


def test_a_glance_of_it_is_there_before_its_first_pass(start, signed_in, project, no_signals, monkeypatch):
    """As large as it will be; and every pass after that makes it anew."""
    seen = []
    trace = Tracer.trace

    def watched(tracer, number, quota=None):
        picture = Picture.objects.get()
        answer = signed_in.get(reverse("picture-image", args=[project.pk, picture.pk]))
        seen.append((number, picture.passes_done, Image.open(picture.image).size, b"".join(answer.streaming_content)))
        return trace(tracer, number, quota)

    monkeypatch.setattr(Tracer, "trace", watched)
    start()
    work(batch=True)
    assert [one[:3] for one in seen] == [(number, number, (64, 40)) for number in range(4)]
    assert len({content for *_, content in seen}) == 4


def test_sun_by_place_and_wrong_settings(start):
    place = {"by": "place", "latitude": "52", "longitude": "0", "moment": "2026-06-21T12:00", "utc_offset": "1"}
    assert start(**place).status_code == 200
    assert Picture.objects.get().settings["sun"]["by"] == "place"
    for wrong in (
        {"eye_x": "far"},
        {"lens": "5"},
        {"size": "big"},
        {"exposure": "x"},
        {"target_x": "3", "target_y": "-7", "target_z": "1.6"},
    ):
        refused = start(**wrong)
        assert refused.status_code == 422, wrong
        assert 'role="alert"' in refused.content.decode()
    assert Picture.objects.count() == 1


def test_cancel_stops_it_within_one_pass_and_keeps_what_was_done(start, signed_in, project, no_signals):
    start(quality="final")
    picture = Picture.objects.get()
    first = DBTaskResult.objects.get()
    first.claim("somebody")
    trace_pass.call(picture.pk, 0)
    first.set_successful("done")
    signed_in.post(reverse("picture-cancel", args=[project.pk, picture.pk]))
    work(batch=True)
    picture.refresh_from_db()
    assert (picture.state, picture.passes_done) == ("cancelled", 1)
    assert picture.has_image
    assert not DBTaskResult.objects.ready().exists()


def test_a_picture_that_was_stopped_goes_on_where_it_was(start, signed_in, project, no_signals):
    start()
    picture = Picture.objects.get()
    first = DBTaskResult.objects.get()
    first.claim("somebody")
    trace_pass.call(picture.pk, 0)
    first.set_successful("done")
    signed_in.post(reverse("picture-cancel", args=[project.pk, picture.pk]))
    work(batch=True)
    again = signed_in.post(reverse("picture-go-on", args=[project.pk, picture.pk]))
    assert "waiting" in again.content.decode()
    signed_in.post(reverse("picture-go-on", args=[project.pk, picture.pk]))
    work(batch=True)
    picture.refresh_from_db()
    assert (picture.state, picture.passes_done) == ("done", picture.passes)
    traced = [one.return_value for one in DBTaskResult.objects.successful() if "pass" in str(one.return_value)]
    assert len(traced) == len(set(traced))


def test_one_goes_before_the_others_that_wait(signed_in, project, start, no_signals):
    """Three of several passes wait; the last of them is let go first, and all of its passes are traced before the next
    of the others; asked for again nothing changes, and none is traced twice."""
    for _ in range(3):
        start()
    one, other, third = Picture.objects.order_by("pk")
    shown = signed_in.post(reverse("picture-first", args=[project.pk, third.pk])).content.decode()
    assert shown.count("goes first") == 1
    assert shown.count(">First<") == 2
    signed_in.post(reverse("picture-first", args=[project.pk, third.pk]))
    work(batch=True)
    told = list(DBTaskResult.objects.successful().order_by("finished_at").values_list("args_kwargs", "return_value"))
    traced = [asked["args"][0] for asked, answer in told if str(answer).startswith("pass")]
    passes = third.passes
    assert passes > 1
    assert traced[:passes] == [third.pk] * passes
    assert sorted(traced) == sorted([one.pk, other.pk, third.pk] * passes)
    assert signed_in.post(reverse("picture-first", args=[project.pk, one.pk])).status_code == 200
    one.refresh_from_db()
    assert not one.first  # it is done


def test_it_is_done_after_its_time_or_at_its_noise(start, no_signals):
    start(quality="final", minutes="0.0001")
    start(quality="final", noise="60")
    start(quality="final", noise="-1")
    by_time, by_noise = Picture.objects.order_by("pk")
    work(batch=True)
    for picture in (by_time, by_noise):
        picture.refresh_from_db()
        assert picture.state == "done"
        assert picture.can_be_developed
    assert by_time.passes_done == 1
    assert 2 <= by_noise.passes_done < by_noise.passes


def test_lines_are_a_picture_without_passes(start, signed_in, project, no_signals):
    start(surfaces="lines")
    work(batch=True)
    picture = Picture.objects.get()
    assert (picture.state, picture.passes_done) == ("done", 1)
    page = signed_in.get(reverse("picture", args=[project.pk, picture.pk])).content.decode()
    address = reverse("picture-lines", args=[project.pk, picture.pk])
    assert address in page
    assert signed_in.get(address).content.startswith(b"<svg")
    assert f"?like={picture.pk}" in page
    like = signed_in.get(reverse("pictures", args=[project.pk]), {"like": picture.pk}).content.decode()
    assert 'value="lines" selected' in like


def test_a_failing_picture_says_why(start, no_signals):
    start()
    picture = Picture.objects.get()
    broken = picture.site | {"walls": [picture.site["walls"][0] | {"outside": "no-such-finish"}]}
    Picture.objects.filter(pk=picture.pk).update(site=broken)
    work(batch=True)
    picture.refresh_from_db()
    assert picture.state == "failed"
    assert "There is no finish “no-such-finish”" in picture.reason


def test_two_pictures_take_turns(start, no_signals):
    start(), start()
    one, other = Picture.objects.order_by("pk")
    order = []
    for _ in range(4):
        result = DBTaskResult.objects.ready().first()
        result.claim("somebody")
        order.append(result.args_kwargs["args"][0])
        result.task.call(*result.args_kwargs["args"])
        result.set_successful(None)
    assert order == [one.pk, other.pk, one.pk, other.pk]


def test_a_dead_workers_task_is_put_back_and_a_living_ones_is_not(start):
    start(), start()
    dead, living = DBTaskResult.objects.all()
    dead.claim("dead-worker")
    living.claim("living-worker")
    with hold("living-worker"):
        assert is_alive("living-worker")
        assert put_back() == 1
    dead.refresh_from_db(), living.refresh_from_db()
    assert (dead.status, living.status) == (TaskResultStatus.READY, TaskResultStatus.RUNNING)


def test_asking_twice_for_one_pass_traces_it_once(start):
    start()
    picture = Picture.objects.get()
    assert trace_pass.call(picture.pk, 0) == f"pass 1 of {picture.passes}"
    assert trace_pass.call(picture.pk, 0) == "nothing to do"
    picture.refresh_from_db()
    assert picture.passes_done == 1


def _until(ready, seconds=120):
    """How often it was looked for something, every twentieth of a second, until it was so: who looks stands still
    together with a machine that does."""
    for looks in range(20 * seconds):
        if ready():
            return looks
        time.sleep(0.05)
    pytest.fail("it took too long")


def test_a_picture_that_is_cancelled_is_let_go_of_in_the_middle_of_a_pass(project, person):
    """The worker is at a pass that takes far longer than anybody waits; another takes its place in a moment."""
    from django.db import connection

    settings = dump(PictureSettings(width=2400, height=1600, quality="final"))
    picture = Picture.objects.create(project=project, author=person, settings=settings, site=bare_wall(project))
    trace_pass.enqueue(picture.pk, 0)
    connection.close()
    command = [sys.executable, str(ROOT / "tests/studio/worker_on.py"), str(connection.settings_dict["NAME"])]
    keeper = subprocess.Popen([*command, "--kept"], cwd=ROOT)
    try:
        _until(lambda: Picture.objects.get(pk=picture.pk).state == "tracing")
        time.sleep(2)
        assert Picture.objects.get(pk=picture.pk).passes_done == 0
        (worker,) = DBTaskResult.objects.running()
        assert picture.settle("cancelled")
        assert _until(lambda: not is_alive(worker.worker_ids[-1])) <= 40  # two seconds
        _until(lambda: not DBTaskResult.objects.running().exists() and not DBTaskResult.objects.ready().exists())
        assert DBTaskResult.objects.get(pk=worker.pk).return_value == "nothing to do"
    finally:
        keeper.terminate()
        keeper.wait()
    picture.refresh_from_db()
    assert (picture.state, picture.passes_done) == ("cancelled", 0)


def test_what_is_compiled_and_ends_its_worker_twice_is_traced_by_what_is_ready(project, person, monkeypatch):
    from ashfell.pictures import trace
    from ashfell.pictures.compiled import COMPILED, READY
    from ashfell.studio.pictures import tasks

    class Killed(BaseException):
        """The process ended: nothing that is written after it is done."""

    class Compiled:
        variant, ends = COMPILED, True

        def trace(self, number, quota):
            if self.ends:
                raise Killed
            return {}

    settings = dump(PictureSettings(width=64, height=40, quality="draft"))
    picture = Picture.objects.create(project=project, author=person, settings=settings, site=bare_wall(project))
    picture.folder.mkdir(parents=True, exist_ok=True)
    tracer, begun = Compiled(), picture.folder / "compiled"
    with monkeypatch.context() as there:
        there.setattr(tasks, "_tracer", lambda number: tracer)
        for times in ("1", "2"):
            with pytest.raises(Killed):
                tasks._traced(picture, 0, {})
            assert begun.read_text() == times
    monkeypatch.setattr(trace, "variant_of", lambda settings: COMPILED)
    tasks._tracer.cache_clear()
    assert tasks._tracer(picture.pk).variant == READY
    begun.write_text("1")
    with monkeypatch.context() as there:
        there.setattr(tasks, "_tracer", lambda number: tracer)
        tracer.ends = False
        tasks._traced(picture, 0, {})
    assert not begun.exists()
    tasks._tracer.cache_clear()


def test_a_pass_that_waited_under_its_earlier_name_is_found_again(project, person):
    from importlib import import_module

    from django.apps import apps

    settings = dump(PictureSettings(width=160, height=100, quality="draft"))
    picture = Picture.objects.create(project=project, author=person, settings=settings, site=project.composed_site())
    trace_pass.enqueue(picture.pk, 0)
    DBTaskResult.objects.update(task_path="ashfell.studio.gallery.tasks.trace_pass")
    migration = import_module("ashfell.studio.pictures.migrations.0002_tasks_are_where_pictures_are")
    migration.carried_over(apps, None)
    (task,) = DBTaskResult.objects.all()
    assert task.task.func is trace_pass.func


@pytest.mark.django_db
def test_a_first_picture_frames_the_building_and_another_a_unit(signed_in, project):
    from ashfell.studio.pictures.models import Picture

    Picture.objects.filter(project=project).delete()
    address = reverse("pictures", args=[project.pk])
    first = signed_in.get(address).context["settings"]
    assert first.ground == "mown-grass"
    assert first.camera.eye[1] < first.camera.target[1]  # from the river
    near = signed_in.get(address, {"frame": "placements.clubroom-window"})
    assert near.context["settings"].camera != first.camera
    assert 'value="placements.clubroom-window" selected' in near.content.decode()
    wrong = signed_in.get(address, {"frame": "walls.nowhere"})
    assert "Nothing stands at" in wrong.content.decode()
    assert wrong.context["settings"].camera == first.camera


def brought_sky(**own):
    import io

    held = io.BytesIO()
    Image.new("RGB", (16, 8), (120, 150, 220)).save(held, "PNG")
    held.seek(0)
    held.name = "sky.png"
    return {"sky": "image", "sky_turn": "90", "sky_klx": "12", "sky_image": held} | own


def test_a_sky_of_an_image_lights_it(start, no_signals):
    assert start(**brought_sky()).status_code == 200
    picture = Picture.objects.get()
    sky = picture.asked_for.sky
    assert (sky.kind, sky.turn, sky.klx, len(sky.image)) == ("image", 90, 12, 64)
    work(batch=True)
    picture.refresh_from_db()
    assert picture.state == "done", picture.reason
    pixels = Image.open(picture.image).getpixel((32, 0))
    assert pixels[2] > pixels[0] + 20
    assert start(sky="image").status_code == 422
    assert start(sky="image", sky_key="ab" * 32).status_code == 200  # of an image that is gone: the picture says so
    work(batch=True)
    assert "is not here" in Picture.objects.first().reason


def test_a_picture_in_clay_is_white(start, no_signals):
    assert start(surfaces="clay").status_code == 200
    assert start(surfaces="mud").status_code == 422
    picture = Picture.objects.get()
    work(batch=True)
    picture.refresh_from_db()
    assert picture.state == "done", picture.reason
    start()
    work(batch=True)

    def colourful(one):
        """How far its colours are from grey, below the sky."""
        seen = np.asarray(Image.open(one.image), dtype=float)[16:]
        return (seen.max(axis=2) - seen.min(axis=2)).mean()

    assert colourful(picture) < 0.6 * colourful(Picture.objects.first())
