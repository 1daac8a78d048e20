"""What every page must keep: no accessibility violation, no scrolling of the bench, GLB the format's validator
accepts.
"""

import pytest

from ashfell.core.site.document.site import read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.unit import make, read_unit
from ashfell.formats import glb
from ashfell.formats.glb_packed import packed
from tests.browser.conftest import VENDOR

pytestmark = pytest.mark.browser
PAGES = (
    "/",
    "/projects/{}/",
    "/projects/{}/units/clubroom-window/",
    "/projects/{}/units/stair-window/",
    "/projects/{}/finishes/",
    "/projects/{}/pictures/",
)


@pytest.mark.parametrize("address", ["/sign-in/", *PAGES])
def test_axe_finds_no_violation(page, sign_in, project, address):
    """WCAG 2.2 AA as far as axe-core can tell."""
    if address != "/sign-in/":
        sign_in()
    page.goto(address.format(project.pk))
    page.wait_for_load_state("networkidle")
    page.evaluate(VENDOR.joinpath("axe.js").read_text())
    found = page.evaluate(
        "async () => (await axe.run({ runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] })).violations"
    )
    assert [(v["id"], [node["html"][:120] for node in v["nodes"][:3]]) for v in found] == []


@pytest.mark.parametrize("address", [PAGES[1], PAGES[2], PAGES[5]])
def test_the_bench_fits_its_window_without_scrolling(page, sign_in, project, address):
    sign_in()
    page.goto(address.format(project.pk))
    page.wait_for_load_state("networkidle")
    size = page.evaluate("() => [document.documentElement.scrollWidth, document.documentElement.scrollHeight]")
    assert size == [1280, 800]


def test_numbers_on_the_sheet_do_not_overlap(page, sign_in, project):
    sign_in()
    for unit in ("clubroom-window", "stair-window", "changing-room-window"):
        page.goto(f"/projects/{project.pk}/units/{unit}/")
        boxes = page.evaluate(
            "() => [...document.querySelectorAll('#elevation input')].map((i) => "
            "{ const b = i.getBoundingClientRect(); return [b.left, b.top, b.right, b.bottom]; })"
        )
        assert len(boxes) >= 6
        for n, a in enumerate(boxes):
            for b in boxes[:n]:
                apart = a[2] <= b[0] + 1 or b[2] <= a[0] + 1 or a[3] <= b[1] + 1 or b[3] <= a[1] + 1
                assert apart, (unit, a, b)


def test_the_formats_own_validator_finds_nothing(validator, project):
    """Zero errors and zero warnings; texture coordinates that no texture uses are all it may remark on."""
    site = read_site(project.composed_site())
    files = [glb.write_scene("Site", build_scene(site)), glb.write_scene("Empty", build_scene(read_site({})))]
    files += [glb.write_unit(make(unit)) for unit in site.units.values()]
    files.append(glb.write_unit(make(read_unit({"frame": {"edge": {"kind": "square"}}}))))
    for data in files:
        issues = validator(data)["issues"]
        assert [m for m in issues["messages"] if m["severity"] < 2][:3] == []
        assert (issues["numErrors"], issues["numWarnings"]) == (0, 0)
        assert {message["code"] for message in issues["messages"]} <= {"UNUSED_OBJECT"}


def test_the_validator_finds_nothing_in_packed_files(validator, project):
    """It looks at all but what is packed, whose extension it does not know; trimesh reads that: test_glb_packed.py."""
    site = read_site(project.composed_site())
    for level in ("all", "light"):
        issues = validator(packed(glb.write_scene("Site", build_scene(site), level=level)))["issues"]
        assert [message for message in issues["messages"] if message["severity"] < 2] == []
        remarks = {"UNUSED_OBJECT", "UNSUPPORTED_EXTENSION", "IMAGE_NPOT_DIMENSIONS"}  # small images are of any size
        assert {message["code"] for message in issues["messages"]} <= remarks


def test_the_validator_does_find_what_is_wrong(validator):
    data = bytearray(glb.write_unit(make(read_unit({}))))
    place = data.index(b'"componentType":5126')
    data[place : place + 20] = b'"componentType":5125'
    assert validator(data)["issues"]["numErrors"] > 0
