"""Many machines: the passes of a picture, and the tiles of a large one, traced by those that a dask scheduler knows.

A pass is the same bytes wherever it was traced, so passes added up in their order are, too. A machine that is lost
costs the tiles that it was at: others trace them. Without a scheduler nothing of this is needed, nor installed.
"""

from __future__ import annotations

from asyncio import CancelledError
from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import lru_cache
from hashlib import sha256
from math import ceil
from socket import gethostname
from time import monotonic
from typing import TYPE_CHECKING

from ashfell.core.base.document import Data, dump, read
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish.images import Pixels, image
from ashfell.core.site.aside import hung
from ashfell.core.site.document.site import SiteDocument, read_site
from ashfell.core.site.scene import build_scene
from ashfell.core.solid.meshes import mesh, packed
from ashfell.pictures.compiled import COMPILED, runs, variant_of
from ashfell.pictures.develop import Image
from ashfell.pictures.settings import PictureSettings
from ashfell.pictures.sums import Quota
from ashfell.pictures.tiles import joined, tiles_of

if TYPE_CHECKING:
    from distributed import Client, Future

    from ashfell.pictures.trace import Tracer

PATIENCE = 20
"""Seconds after which a scheduler that does not answer, or has no machine left, is given up."""
RETRIES = 3
"""How often a tile is tried again that failed by itself."""
AHEAD = 2
"""How many tiles of passes are asked for at a time, for each machine."""
HELD = 2
"""Of how many pictures passes are asked for ahead."""
LOOK = 2
"""Seconds between two looks whether there is still a machine."""


class NoMachine(Exception):
    """There is no scheduler at an address, or no machine left that it knows."""


@dataclass(frozen=True, eq=False)
class Work:
    """All that a machine needs to trace a picture: its site and settings, and what they show by the hash of its
    content. One is another where their keys are alike."""

    site: Data
    settings: Data
    images: Mapping[str, Pixels]
    meshes: Mapping[str, bytes]
    variant: str
    key: str

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Work) and self.key == other.key

    def __hash__(self) -> int:
        return hash(self.key)


def work_of(site: SiteDocument, settings: PictureSettings) -> Work:
    """What a machine is sent of a picture.

    Raises
    ------
    Refusal
        When an image or a model that it shows is not there.
    """
    maps = (dump(finish.texture.maps).values() for finish in site.finishes.values() if finish.texture)
    shown = dict.fromkeys(key for keys in (*maps, (settings.sky.image,)) for key in keys if key)
    models = dict.fromkeys(one.mesh for one in site.surroundings if one.mesh)
    told = f"{site.model_dump_json()} {settings.model_dump_json()}"
    return Work(
        dump(site),
        dump(settings),
        {key: image(key) for key in shown},
        {key: packed(mesh(key).pieces) for key in models},
        variant_of(settings),
        sha256(told.encode()).hexdigest(),
    )


_images: dict[str, Pixels] = {}
_meshes: dict[str, bytes] = {}


def traced(work: Work, number: int, tile: int, quota: Quota) -> dict[str, Image]:
    """Pass ``number`` of one of the tiles of a picture, with a quota of samples: what a machine does.

    Raises
    ------
    NoMachine
        Where the picture is traced by a variant that does not run here.
    """
    if work.variant == COMPILED and not runs():
        raise NoMachine(f"{gethostname()} has no compiler for it.")
    return _tracer(work).tile(number, tile, quota)


@lru_cache(maxsize=1)
def _tracer(work: Work) -> Tracer:
    from ashfell.pictures.trace import Tracer

    _images.clear()
    _meshes.clear()
    _images.update(work.images)
    _meshes.update(work.meshes)
    image.offer(_images.get)
    mesh.offer(_meshes.get)
    site = read_site(work.site)
    settings = read(PictureSettings, work.settings)
    return Tracer(build_scene(site).coats, settings, site.finishes, hung(site), work.variant)


@dataclass
class Farm:
    """The machines that a scheduler knows, and the passes that they were asked for, by picture and number."""

    client: Client
    asked: OrderedDict[str, dict[int, list[Future]]] = field(default_factory=OrderedDict)
    sent: dict[str, Future] = field(default_factory=dict)

    def machines(self) -> int:
        """How many there are now."""
        return len(self.client.scheduler_info()["workers"])

    def pass_of(
        self, name: str, work: Callable[[], Work], number: int, settings: PictureSettings, quota: Quota
    ) -> dict[str, Image]:
        """Pass ``number`` of a picture, put together of its tiles. Some of those after it are asked for as well, once
        the first has told the ``quota`` of samples that they have.

        Raises
        ------
        NoMachine
            When there is none for a while, or it was lost on every machine that tried it.
        Refusal
            When the picture cannot be traced.
        """
        asked = self.asked.setdefault(name, {})
        self.asked.move_to_end(name)
        while len(self.asked) > HELD:
            gone, _ = self.asked.popitem(last=False)  # nobody waits for those any more
            self.sent.pop(gone, None)
        if name not in self.sent:
            self.sent[name] = self.client.submit(_same, work(), pure=False)  # and not scattered: it can be sent again
        tiles = range(len(tiles_of(settings)))
        more = ceil(AHEAD * max(1, self.machines()) / len(tiles)) if quota else 1
        for ahead in range(number, min(settings.passes, number + more)):
            if ahead not in asked:
                asked[ahead] = [self._asked(self.sent[name], ahead, tile, quota) for tile in tiles]
        found = joined([self._awaited(future) for future in asked.pop(number)])
        if number + 1 >= settings.passes:
            self.asked.pop(name), self.sent.pop(name)
        return found

    def _asked(self, work: Future, number: int, tile: int, quota: Quota) -> Future:
        return self.client.submit(traced, work, number, tile, dict(quota), pure=False, retries=RETRIES)

    def _awaited(self, future: Future) -> dict[str, Image]:
        from distributed import CancelledError as Dropped
        from distributed import KilledWorker
        from distributed import TimeoutError as NotYet

        seen = monotonic()
        while True:
            try:
                found: dict[str, Image] = future.result(timeout=LOOK)
                return found
            except NotYet:
                if self.machines():
                    seen = monotonic()
                elif monotonic() - seen > PATIENCE:
                    raise NoMachine("There is no machine left to trace it.") from None
            except (CancelledError, Dropped, KilledWorker) as error:
                raise NoMachine(f"It was lost: {error}.") from None


def _same(work: Work) -> Work:
    return work


@lru_cache(maxsize=1)
def farm_at(address: str) -> Farm:
    """The machines that the scheduler at an address knows, ``tcp://HOST:8786``.

    Raises
    ------
    Refusal
        When what speaks to schedulers is not installed.
    NoMachine
        When none answers there, or it knows none.
    """
    try:
        from distributed import Client
    except ImportError:
        told = "Tracing by many machines needs a library that is not installed."
        raise Refusal("scheduler", "distributed", told, "Install ashfell[many].") from None
    try:
        farm = Farm(Client(address, timeout=PATIENCE, set_as_default=False))
    except (OSError, ValueError) as error:
        raise NoMachine(f"No scheduler answers at {address}: {error}.") from None
    if not farm.machines():
        farm.client.close()
        raise NoMachine(f"The scheduler at {address} knows no machine.")
    return farm
