"""Where to stand, so that one sees something whole: the building, a wall, a unit; and where the sun is then."""

from __future__ import annotations

from math import atan2, cos, degrees, radians, sin, tan

import numpy as np
from numpy.typing import NDArray

from ashfell.core.base.address import Address
from ashfell.core.base.document import Data
from ashfell.core.base.refusal import Refusal
from ashfell.core.parts import box_corners
from ashfell.core.site.aside import eye_and_aim
from ashfell.core.site.document.camera import Camera as KeptCamera
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.instance import Instance
from ashfell.core.site.scene import Scene
from ashfell.pictures.settings import Camera, PictureSettings, Point, SunByAngle, lens_of

Floats = NDArray[np.float64]

EYE = 1.65
"""The height of an eye over the ground, m."""
VIEW = 50.0
"""The horizontal angle of a picture to begin with, degrees."""
LENS = round(lens_of(VIEW), 1)
ASPECT = 1.6
FILLED = 0.88
"""How much of the picture what is framed may fill from edge to edge."""
ASIDE = 30.0
"""How far to the side of a front one stands, degrees, to see two sides of a building."""
SUN_ASIDE = 42.0
"""How far to the other side of the front the sun is, so that reveals throw shadows, degrees."""
ALTITUDE = 34.0
NEAREST, FARTHEST = 0.6, 5000.0
"""From where to where a place to stand is looked for, m."""


def first_look(scene: Scene) -> PictureSettings:
    """A picture to begin with: the whole building at eye level from the side with the most openings, a little aside,
    the sun from the other side of that front, over grass. The usual settings where nothing stands."""
    if not scene.instances:
        return PictureSettings()
    front = front_of(scene)
    box = _box(scene, [*(scene.building or scene.instances)])
    camera = framed(box, _turned(front, ASIDE))
    sun = _turned(front, -SUN_ASIDE)
    azimuth = degrees(atan2(sun[0], sun[1])) % 360
    return PictureSettings(
        camera=camera, sun=SunByAngle(azimuth=round(azimuth, 1), altitude=ALTITUDE), ground="mown-grass"
    )


def through(site: SiteDocument, camera: KeptCamera) -> Camera:
    """A camera of the site as pictures are taken with it."""
    eye, aim = (place / 1000 for place in eye_and_aim(site, camera))
    return Camera(
        eye=_point(eye),
        target=_point(aim),
        lens=camera.lens,
        upright=camera.upright,
        roll=camera.roll,
        clip=float(camera.clip.mm) / 1000,
    )


def kept_as(camera: Camera) -> Data:
    """The entries of a camera of the site that sees what one does."""
    names = ("x", "y", "z", "to_x", "to_y", "to_z")
    places = {name: f"{value * 1000:.10g}" for name, value in zip(names, (*camera.eye, *camera.target), strict=True)}
    own = {"lens": camera.lens, "upright": camera.upright, "roll": camera.roll, "clip": f"{camera.clip * 1000:.10g}"}
    return places | own


def look_at(scene: Scene, entry: str) -> Camera:
    """A camera that sees a wall, a roof or a unit whole, from in front of it.

    Raises
    ------
    Refusal
        When nothing of that address stands.
    """
    if not entry:
        return first_look(scene).camera
    found = [one for one in scene.instances if Address(one.entry) == entry or one.host == Address(entry).last]
    if not found:
        told = f"Nothing stands at “{entry}”."
        raise Refusal("frame", "something that stands", told, "Choose another, or the whole.")
    out = _outwards(scene, found[0])
    own = [one for one in found if Address(one.entry) == entry] or found
    return framed(_box(scene, own), out)


def front_of(scene: Scene) -> Floats:
    """The way out of the side with the most openings, in plan: of the walls' own ways out the one that most of the area
    of openings looks to."""
    ways, areas = [], []
    for one in scene.standing.values():
        if scene.site.wall(one.host.id) is None or not one.host.built:
            continue
        ways.append(_flat(one.host.frame()[:2, 2]))
        bare = float(one.host.length * one.host.height) * 1e-3
        areas.append(bare + sum(opening.area for opening in one.openings))
    if not ways:
        return np.array([0.0, -1.0])
    faced = np.maximum(np.array(ways) @ np.array(ways).T, 0.0) ** 2
    return np.asarray(ways[int(np.argmax(faced @ np.array(areas)))])


def framed(box: Floats, out: Floats) -> Camera:
    """A camera at eye level, looking against ``out`` (x, y), far enough away that all corners of a box (2, 3) in metres
    are in the picture."""
    middle = box.mean(axis=0)
    corners = box_corners(box, np.eye(4))
    eye_level = min(max(float(box[0, 2]), 0.0) + EYE, max(float(box[1, 2]), EYE))

    def eye(far: float) -> Floats:
        return np.array([middle[0] + out[0] * far, middle[1] + out[1] * far, eye_level])

    low, high = NEAREST, FARTHEST
    for _ in range(60):
        far = (low + high) / 2
        low, high = (low, far) if _sees(eye(far), middle, corners) else (far, high)
    place = eye(high)
    return Camera(eye=_point(place), target=_point(middle), lens=LENS)


def _sees(eye: Floats, target: Floats, corners: Floats) -> bool:
    """Whether all of some points are in the picture of a camera that is kept upright."""
    ahead = (target - eye) * (1.0, 1.0, 0.0)
    far = float(np.linalg.norm(ahead))
    ahead = ahead / far
    right = np.array([ahead[1], -ahead[0], 0.0])
    seen = corners - eye
    deep = seen @ ahead
    if deep.min() <= 0.05:
        return False
    half = tan(radians(VIEW) / 2) * FILLED
    shift = (target[2] - eye[2]) / far
    up = seen[:, 2] / deep - shift
    return bool((np.abs(seen @ right / deep) < half).all() and (np.abs(up) < half / ASPECT).all())


def _box(scene: Scene, instances: list[Instance]) -> Floats:
    """What some instances take up, (2, 3) m."""
    found = []
    for one in instances:
        boxes = np.array([part.solid.bounds for part in scene.definitions[one.definition]])
        if not len(boxes):
            continue
        low, high = boxes[:, 0].min(axis=0), boxes[:, 1].max(axis=0)
        corners = np.array([[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])])
        found.append(corners @ one.matrix[:3, :3].T + one.matrix[:3, 3])
    points = np.concatenate(found) if found else np.zeros((1, 3))
    return np.array([points.min(axis=0), points.max(axis=0)]) / 1000


def _outwards(scene: Scene, instance: Instance) -> Floats:
    """The way out of the wall or roof that something is, or stands in."""
    standing = scene.standing.get(instance.host or instance.id)
    if standing is None:
        return front_of(scene)
    return _flat(standing.host.frame()[:2, 2])


def _flat(way: Floats) -> Floats:
    size = float(np.hypot(*way))
    return np.asarray(way / size) if size > 1e-6 else np.array([0.0, -1.0])


def _turned(way: Floats, by: float) -> Floats:
    """A way in plan turned by degrees, counter-clockwise."""
    turn = radians(by)
    return np.array([way[0] * cos(turn) - way[1] * sin(turn), way[0] * sin(turn) + way[1] * cos(turn)])


def _point(place: Floats) -> Point:
    x, y, z = (round(float(value), 2) for value in place)
    return x, y, z
