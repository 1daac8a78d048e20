"""The page of one picture: developed again, looked into, compared, handed over in layers."""

import io
import json

import numpy as np
import OpenEXR
import pytest
from django.urls import reverse
from PIL import Image

from ashfell.core.base.document import dump
from ashfell.pictures.backdrop import standing
from ashfell.pictures.develop import Dimmed, Look, clean, developed, mixed, printed
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sight import rays
from ashfell.studio.pictures import negative
from ashfell.studio.pictures.darkroom import _parts
from ashfell.studio.pictures.models import Picture

pytestmark = pytest.mark.django_db(transaction=True)

LAMP = {"id": "l", "kind": "bulb", "x": "3 m", "y": "-1 m", "z": "2 m", "lumens": 90_000, "group": "yard"}


@pytest.fixture
def picture(project, trace_once):
    camera = {"eye": (3, -7, 1.6), "target": (3, 0, 1.5)}
    settings = PictureSettings(camera=camera, width=64, height=40, noise=100)  # done after its second pass
    site = project.composed_site() | {"lamps": [LAMP]}
    made = Picture.objects.create(project=project, settings=dump(settings), site=site)
    return trace_once("yard", made)


def url(name, picture, *more):
    return reverse(name, args=[picture.project_id, picture.pk, *more])


def shown(client, picture, **look):
    text = {"look": json.dumps(look)} if look else {}
    answer = client.get(url("picture-look", picture), text)
    assert answer.status_code == 200, answer.content
    return np.asarray(Image.open(io.BytesIO(answer.content)), dtype=float)


def test_its_layers_are_kept_and_offered(signed_in, picture):
    assert [*negative.Layers(picture.folder)] == ["sun", "sky", "lamps:yard", "through", "beyond"]
    page = signed_in.get(url("picture", picture)).content.decode()
    for words in ("Strength of Sun", "Strength of Sky", "Strength of yard"):
        assert words in page


def test_light_is_dimmed_and_tinted_without_tracing(signed_in, picture):
    usual = shown(signed_in, picture)
    no_sky = shown(signed_in, picture, layers={"sky": {"strength": 0}})
    assert no_sky[:4].mean() < 0.2 * usual[:4].mean()
    red = shown(signed_in, picture, layers={"sky": {"strength": 1, "colour": "#ff0000"}})
    assert red[:4, :, 2].mean() < 0.2 * usual[:4, :, 2].mean()
    picture.refresh_from_db()
    assert picture.passes_done == 2


def test_what_is_beyond_is_changed_without_tracing(signed_in, picture):
    plain = shown(signed_in, picture, backdrop={"kind": "plain", "colour": "#c04a20"})
    assert np.abs(plain[:2, :20] - (0xC0, 0x4A, 0x20)).mean() <= 6
    page = signed_in.get(url("picture", picture)).content.decode()
    assert 'name="backdrop.kind"' in page
    kept = signed_in.post(url("picture-keep-look", picture), {"backdrop.kind": "none"}, follow=True)
    assert "selected>nothing, transparent" in kept.content.decode()
    image = np.asarray(Image.open(picture.image))
    assert image.shape == (40, 64, 4)
    assert not image[:2, :20, 3].any()
    wrong = signed_in.post(url("picture-keep-look", picture), {"backdrop.kind": "image"}, follow=True)
    assert "No image is brought" in wrong.content.decode()


def test_a_backdrop_is_an_image_that_is_brought(signed_in, picture):
    held = io.BytesIO()
    Image.new("RGB", (32, 16), (20, 90, 160)).save(held, "PNG")
    held.seek(0)
    held.name = "hills.png"
    signed_in.post(url("picture-keep-look", picture), {"backdrop.kind": "image", "backdrop_file": held})
    image = np.asarray(Image.open(picture.image), dtype=int)
    assert np.abs(image[:2, :20] - (20, 90, 160)).max() <= 1
    picture.refresh_from_db()
    key = picture.look["backdrop"]["image"]
    far = {"away": 400, "across": 4000, "foot": -50, "bearing": 10}
    entries = {f"backdrop.{name}": value for name, value in (far | {"kind": "far", "image": key}).items()}
    signed_in.post(url("picture-keep-look", picture), entries)
    picture.refresh_from_db()
    assert {name: picture.look["backdrop"][name] for name in far} == far
    there = standing(picture.developed_as.backdrop, *rays(picture.asked_for, *image.shape[:2]))[1][..., 0]
    seen = np.asarray(Image.open(picture.image), dtype=int)
    assert there[:2, :20].any()
    assert np.abs(seen[:2, :20][there[:2, :20] > 0] - (20, 90, 160)).max() <= 1
    wrong = signed_in.post(url("picture-keep-look", picture), entries | {"backdrop.away": "0"}, follow=True)
    assert "Type more than 0" in wrong.content.decode()
    picture.refresh_from_db()
    assert picture.look["backdrop"]["away"] == 400


def test_exposure_white_contrast_and_curve_change_it(signed_in, picture):
    usual = shown(signed_in, picture)
    assert shown(signed_in, picture, exposure=1).mean() > usual.mean() > shown(signed_in, picture, exposure=-1).mean()
    warm = shown(signed_in, picture, white=9000)
    assert warm[..., 0].mean() - warm[..., 2].mean() > usual[..., 0].mean() - usual[..., 2].mean()
    assert shown(signed_in, picture, contrast=0.5).std() > usual.std()
    assert not np.array_equal(shown(signed_in, picture, curve="film"), usual)


def test_a_look_is_kept_and_its_image_written_anew(signed_in, picture):
    before = picture.image.read_bytes()
    typed = {"exposure": "1.5", "white": "6504", "contrast": "0", "curve": "film", "metered": "traced"}
    signed_in.post(url("picture-keep-look", picture), typed | {"strength sky": "0.5", "colour sky": "#FFEEDD"})
    picture.refresh_from_db()
    assert picture.developed_as.exposure == 1.5
    assert picture.developed_as.layers["sky"] == Dimmed(strength=0.5, colour="#ffeedd")
    assert picture.image.read_bytes() != before


@pytest.mark.parametrize(
    "look",
    ["{", "[]", '{"exposure": "bright"}', '{"white": 3}', '{"curve": "s"}', '{"layers": {"sky": {"strength": -1}}}'],
)
def test_a_look_that_is_none_is_refused(signed_in, picture, look):
    assert signed_in.get(url("picture-look", picture), {"look": look}).status_code == 422
    assert signed_in.get(url("picture-look", picture), {"look": "x" * 5000}).status_code == 404


def test_what_is_typed_wrong_is_told_and_not_kept(signed_in, picture):
    page = signed_in.post(url("picture-keep-look", picture), {"exposure": "bright"}, follow=True).content.decode()
    assert "bright" in page
    picture.refresh_from_db()
    assert picture.look == {}


def test_a_click_says_what_is_seen(signed_in, picture):
    walls = [number for number, part in enumerate(_parts(picture.pk), 1) if part.role == "wall"]
    row, column = np.argwhere(np.isin(negative.kept_seen(picture.folder)["marks"], walls))[0]
    there = {"x": (column + 0.5) / 64, "y": (row + 0.5) / 40}
    seen = signed_in.get(url("picture-seen", picture), there).content.decode()
    assert "Wall" in seen
    assert "Lime plaster" in seen or "River brick" in seen
    assert "Ground or sky" in signed_in.get(url("picture-seen", picture), {"x": "0.5", "y": "0.01"}).content.decode()
    for wrong in ({"x": "1", "y": "0"}, {"x": "nan", "y": "0"}, {"x": "", "y": "0"}, {"x": "-1", "y": "inf"}):
        assert signed_in.get(url("picture-seen", picture), wrong).status_code == 404


def test_masks_agree_with_what_is_seen(signed_in, picture):
    content = signed_in.get(url("picture-mask", picture, "role")).content
    mask = np.asarray(Image.open(io.BytesIO(content)))
    marks = negative.kept_seen(picture.folder)["marks"]
    assert mask.shape == (40, 64, 3)
    assert (mask[marks == 0] == 0).all()
    assert len(np.unique(mask.reshape(-1, 3), axis=0)) >= 4
    assert signed_in.get(url("picture-mask", picture, "colour")).status_code == 404


def test_layers_are_read_back_by_openexrs_own_library(signed_in, picture, tmp_path):
    file = tmp_path / "layers.exr"
    file.write_bytes(signed_in.get(url("picture-layers", picture)).content)
    read = OpenEXR.File(str(file), separate_channels=True)
    channels, header = read.channels(), read.header()
    sky = np.stack([channels[f"light_sky.{letter}"].pixels for letter in "RGB"], axis=-1)
    layers = negative.Layers(picture.folder)
    assert np.allclose(sky, layers["sky"], rtol=2e-3, atol=1e-4)
    whole = np.stack([channels[letter].pixels for letter in "RGB"], axis=-1)
    beyond, through = (
        np.stack([channels[f"{name}.{letter}"].pixels for letter in "RGB"], axis=-1) for name in ("beyond", "through")
    )
    assert np.allclose(whole + through * beyond, mixed(layers), rtol=4e-3, atol=1e-3)
    assert np.allclose(channels["A"].pixels, 1 - through.mean(axis=-1), atol=2e-3)
    assert channels["A"].pixels[0].max() < 1e-3
    seen = negative.kept_seen(picture.folder)
    assert np.array_equal(channels["part.ID"].pixels, seen["marks"])
    assert np.allclose(channels["depth.Z"].pixels, seen["depth"], rtol=2e-3)
    legend = json.loads(header["ashfellLegend"])
    marks, parts = seen["marks"], _parts(picture.pk)
    told = [legend["finish"][number - 1] for number in channels["finish.ID"].pixels[marks > 0].astype(int)]
    assert told == [parts[number - 1].finish for number in marks[marks > 0]]
    assert len(set(told)) >= 4


def test_two_pictures_are_compared(signed_in, picture, project):
    other = Picture.objects.create(
        project=project, settings=picture.settings, site=picture.site, state="done", passes_done=2
    )
    other.folder.mkdir(parents=True, exist_ok=True)
    other.image.write_bytes(picture.image.read_bytes())
    page = signed_in.get(url("picture", picture), {"with": other.pk}).content.decode()
    assert 'id="beside"' in page
    assert 'id="beside"' not in signed_in.get(url("picture", picture), {"with": "nonsense"}).content.decode()
    assert "Its layers are not kept" in signed_in.get(url("picture", other)).content.decode()


# --- developing


def test_a_flat_colour_comes_back_as_it_is():
    """A patch that reflects 18 % under white light, exposed as it is and cut off, is sRGB 118 (IEC 61966-2-1)."""
    patch = np.full((4, 4, 3), 0.18, dtype=np.float32)
    assert (printed(patch, Look(curve="cut")) == 118).all()


@pytest.mark.parametrize("curve", ["soft", "film", "cut"])
def test_curves_keep_black_and_rise_to_white(curve):
    ramp = np.repeat(np.linspace(0, 6, 200, dtype=np.float32)[None, :, None], 3, axis=2)
    seen = printed(ramp, Look(curve=curve))[0, :, 0].astype(int)
    assert seen[0] == 0
    assert seen[-1] == 255
    assert (np.diff(seen) >= 0).all()


@pytest.mark.parametrize("kelvin", [2700, 4000, 9000])
def test_light_of_its_white_looks_white(kelvin):
    from ashfell.core.site.photometry import black_body

    lit = np.broadcast_to(np.array(black_body(kelvin), dtype=np.float32) * 0.3, (2, 2, 3))
    red, green, blue = printed(lit, Look(white=kelvin, curve="cut"))[0, 0].astype(int)
    assert max(red, green, blue) - min(red, green, blue) <= 4


def test_it_is_metered_as_traced_or_as_mixed():
    layers = {"sky": np.full((4, 4, 3), 1.0, dtype=np.float32), "sun": np.full((4, 4, 3), 1.0, dtype=np.float32)}
    dim = {"sky": Dimmed(strength=0.25), "sun": Dimmed(strength=0.25)}
    usual = developed(layers, Look()).mean()
    assert developed(layers, Look(layers=dim)).mean() < usual
    assert developed(layers, Look(layers=dim, metered="mixed")).mean() == pytest.approx(usual)


def test_settings_of_the_first_format_keep_their_angle():
    first = {"format": "ashfell/picture/1", "camera": {"eye": [0, -5, 1], "target": [0, 0, 1], "view": 50}}
    found = PictureSettings.model_validate(first)
    assert found.camera.view == pytest.approx(50)
    assert found.camera.upright is False


def test_where_there_is_hardly_any_light_none_is_made():
    """A few sparks of a lamp behind two walls: the noise removal would make a glow of them."""
    rng = np.random.default_rng(3)
    sparks = np.zeros((60, 96, 3), dtype=np.float32)
    for row, column in zip(rng.integers(0, 60, 6), rng.integers(0, 96, 6), strict=True):
        sparks[row, column] = 3e-6
    guides = rng.uniform(-1, 1, (60, 96, 6)).astype(np.float32)
    quiet = clean(sparks, guides)
    assert quiet.max() <= sparks.max()
    assert 0.8 <= quiet.sum() / sparks.sum() <= 1.25
    even = np.full((60, 96, 3), 0.4, dtype=np.float32) + rng.normal(0, 0.05, (60, 96, 3)).astype(np.float32)
    assert clean(even, np.zeros_like(guides)).std() < 0.6 * even.std()
