"""What is handed over: a site, or a storey of it, or one unit, with all that its files need."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

from ashfell.core.base.document import Data
from ashfell.core.base.lengths import Style
from ashfell.core.base.refusal import Refusal
from ashfell.core.finish import LIBRARY, Finish
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.site.plan import Shows, whole
from ashfell.core.site.scene import Scene, part_of
from ashfell.core.unit.make import Unit
from ashfell.formats import model
from ashfell.services.documents import scene_of, unit_of

Images = Callable[[str], bytes | None]


def no_image(key: str) -> bytes | None:
    """Where no images are kept."""
    return None


Pictures = Callable[[], Sequence[tuple[str, bytes]]]


def no_pictures() -> Sequence[tuple[str, bytes]]:
    """Where none are kept."""
    return ()


Revisions = Callable[[], Mapping[str, Sequence[Data]]]


def no_revisions() -> Mapping[str, Sequence[Data]]:
    """Where none are kept."""
    return {}


@dataclass(frozen=True)
class Source:
    """What is handed over. ``only`` are the instances of a storey or a selection; all of them where it is None. What
    lies under documents, and their revisions, are named as in a project's file."""

    name: str
    document: Data
    own: Mapping[str, Finish]
    style: Style = Style()
    site: SiteDocument | None = None
    built: Scene | None = None
    made: Unit | None = None
    only: frozenset[str] | None = None
    storey: str = ""
    images: Images = no_image
    underlays: Mapping[str, Data] = field(default_factory=dict)
    revisions: Revisions = no_revisions
    pictures: Pictures = no_pictures
    """Those that are done, the latest first: what each is called, and its PNG."""

    @property
    def kind(self) -> str:
        """``site``, ``storey`` (or a selection) or ``unit``."""
        return "unit" if self.made is not None else "site" if self.only is None else "storey"

    @property
    def scene(self) -> Scene:
        assert self.built is not None
        return self.built

    @property
    def shown(self) -> Scene:
        """What of the scene is handed over, by itself."""
        return self.scene if self.only is None else part_of(self.scene, self.only)

    def shows(self, key: str) -> bool:
        """Whether what stands under an id is handed over."""
        return self.only is None or key in self.only

    @property
    def planned(self) -> Shows:
        """Whether what stands under an id is drawn on plans: of a storey all that its plan cuts, the walls of the one
        below with it."""
        return whole if self.only is None or self.storey else self.shows

    @property
    def unit(self) -> Unit:
        assert self.made is not None
        return self.made

    @property
    def finishes(self) -> dict[str, Finish]:
        """Those that ship and its own."""
        return {**LIBRARY, **self.own}

    @property
    def names(self) -> dict[str, str]:
        """What finishes are called."""
        return {key: finish.name for key, finish in self.finishes.items()}

    @property
    def model(self) -> model.Model:
        """Its parts and where they stand."""
        if self.made is not None:
            return model.of_unit(self.made, self.own)
        return model.of_scene(self.name, self.scene, self.own, self.only)


def of_site(
    data: Data,
    style: Style = Style(),
    storey: str = "",
    images: Images = no_image,
    selected: Sequence[str] | None = None,
) -> Source:
    """A site with its units, or one storey of it, or what is ``selected`` of it: walls, roof planes and plates by their
    ids, with all that is in them.

    Raises
    ------
    Refusal
        When there is no such storey, nothing is selected or not there, or nothing stands there.
    """
    built = scene_of(data)
    scene, only, name = built.scene, None, built.site.name
    if storey:
        named = {one.id: one.name for one in built.site.storeys}
        if storey not in named:
            raise Refusal(
                "what", "a storey", f"There is no storey “{storey}”.", "Choose one of the site, or all of it."
            )
        hosts = {one.id for one in scene.instances if not one.host and scene.storey_of(one) == storey}
        only = frozenset(one.id for one in scene.instances if (one.host or one.id) in hosts)
        name = f"{name}, {named[storey]}"
    if selected is not None:
        only = _selected(scene, selected)
        name = f"{name}, a selection"
    if not scene.instances or only == frozenset():
        raise Refusal("what", "something that stands", "Nothing stands there yet.", "Add a wall first.")
    return Source(
        name,
        dict(data),
        built.site.finishes,
        style,
        site=built.site,
        built=scene,
        only=only,
        storey=storey,
        images=images,
    )


def _selected(scene: Scene, ids: Sequence[str]) -> frozenset[str]:
    """The instances of walls, roof planes and plates, and of what is in them."""
    standing = {one.id for one in scene.instances if not one.host}
    if unknown := [one for one in ids if one not in standing]:
        message = f"There is no wall, roof plane or plate “{unknown[0]}”."
        raise Refusal("only", "something that stands", message, "Choose one of the site.")
    if not ids:
        raise Refusal("only", "a selection", "Nothing is selected.", "Choose a wall, a roof plane or a plate at least.")
    wanted = {*ids}
    return frozenset(one.id for one in scene.instances if (one.host or one.id) in wanted)


def of_unit(
    data: Data, finishes: Mapping[str, Finish] | None = None, style: Style = Style(), images: Images = no_image
) -> Source:
    """One unit by itself.

    Raises
    ------
    Refusal
        When it cannot be built.
    """
    made = unit_of(data)
    return Source(made.document.name, dict(data), finishes or {}, style, made=made, images=images)
