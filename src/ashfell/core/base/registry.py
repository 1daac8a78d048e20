"""Registries: every kind of a thing as one record, found in a package of its own or registered for a while."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from importlib import import_module
from pkgutil import iter_modules
from threading import RLock
from typing import Any, Generic, Protocol, TypeVar

from pydantic import BaseModel, GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, PydanticCustomError, core_schema


class Record(Protocol):
    """What every kind says of itself: the key it has in documents, and where it stands among the others in a list."""

    @property
    def key(self) -> str: ...

    @property
    def order(self) -> int: ...


R = TypeVar("R", bound=Record)


SEARCH = RLock()
"""Held while modules of kinds are imported."""
REGISTRIES: list[Registry[Any]] = []
"""Every registry there is."""


def search_all() -> None:
    """Import all kinds there are now, as a server does before its threads begin."""
    for registry in [*REGISTRIES]:
        len(registry)


class Registry(Mapping[str, R], Generic[R]):
    """The kinds of one thing, by key, in their order.

    Parameters
    ----------
    noun : str
        What one of them is called in a refusal: ``"filling"``.
    package : str
        Where their modules are. Each is imported when the registry is first asked; it registers its own records.
    """

    def __init__(self, noun: str, package: str = "") -> None:
        self.noun, self._package = noun, package
        self._records: dict[str, R] = {}
        self._searching = False
        REGISTRIES.append(self)

    def register(self, record: R) -> R:
        """Add a record; the same one is answered, so that a module can keep it by name.

        Raises
        ------
        ValueError
            When there is one of its key already.
        """
        if record.key in self._records:
            raise ValueError(f"There is a {self.noun} “{record.key}” already.")
        self._records[record.key] = record
        self._records = dict(sorted(self._records.items(), key=lambda item: item[1].order))
        return record

    @contextmanager
    def registered(self, record: R) -> Iterator[R]:
        """A record that is there for a while only."""
        self._discover()
        yield self.register(record)
        del self._records[record.key]

    def _discover(self) -> None:
        """Import the modules of its package; whoever asks meanwhile waits until all of them are there."""
        if not self._package:
            return
        with SEARCH:
            if self._package and not self._searching:
                self._searching = True
                package = import_module(self._package)
                for module in iter_modules(package.__path__):
                    import_module(f"{package.__name__}.{module.name}")
                self._package = ""

    def __getitem__(self, key: str) -> R:
        self._discover()
        return self._records[key]

    def __iter__(self) -> Iterator[str]:
        self._discover()
        return iter(self._records)

    def __len__(self) -> int:
        self._discover()
        return len(self._records)


OF = "x-of"
"""Stands in a schema for a reference to the kinds of a registry until :func:`schema_of` puts it there."""


class OneOf:
    """The type of an entry that may be of any registered kind, told apart by its ``kind``; for pydantic's
    ``Annotated``.

    ``usual`` is the kind of an entry that does not say it.
    """

    def __init__(self, registry: Registry[Any], usual: str = "") -> None:
        self.registry, self.usual = registry, usual

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_plain_validator_function(
            self.read,
            serialization=core_schema.plain_serializer_function_ser_schema(lambda entry: entry.model_dump(mode="json")),
        )

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        return {OF: self.registry.noun.capitalize()}

    def read(self, value: object) -> object:
        """An entry of the kind that it says."""
        if isinstance(value, BaseModel):
            return value
        if not isinstance(value, Mapping):
            raise PydanticCustomError(
                "one_of_the_kinds", "A {noun} is an object with its kind.", {"noun": self.registry.noun}
            )
        kind = value.get("kind", self.usual)
        record = self.registry.get(kind) if isinstance(kind, str) else None
        if record is None:
            raise PydanticCustomError(
                "one_of_the_kinds",
                "“{kind}” is no {noun}; choose {kinds}.",
                {"kind": str(kind)[:60], "noun": self.registry.noun, "kinds": ", ".join(self.registry)},
            )
        return record.entry.model_validate(value)


class KeyOf(Generic[R]):
    """The type of an entry that names a registered kind, or one of those that ``fits``; for pydantic's
    ``Annotated``."""

    def __init__(self, registry: Registry[R], fits: Callable[[R], bool] = lambda kind: True) -> None:
        self.registry, self.fits = registry, fits

    @property
    def keys(self) -> list[str]:
        """Those that may be named."""
        return [key for key, kind in self.registry.items() if self.fits(kind)]

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_after_validator_function(self.read, core_schema.str_schema())

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        return {"type": "string", "enum": self.keys}

    def read(self, key: str) -> str:
        """A key that is registered."""
        if key not in self.registry or not self.fits(self.registry[key]):
            raise PydanticCustomError(
                "one_of_the_kinds",
                "“{kind}” is no {noun}; choose {kinds}.",
                {"kind": key[:60], "noun": self.registry.noun, "kinds": ", ".join(self.keys)},
            )
        return key


def schema_of(model: type[BaseModel], *registries: Registry[Any]) -> JsonSchemaValue:
    """The JSON Schema of a document, every registered kind in it.

    Parameters
    ----------
    model : type of BaseModel
    registries : Registry
        Those whose entries the document may hold.
    """
    found = model.model_json_schema()
    defs = found.setdefault("$defs", {})
    for registry in registries:
        entries = dict.fromkeys(record.entry for record in registry.values())
        for entry in entries:
            own = entry.model_json_schema()
            defs |= own.pop("$defs", {})
            defs[entry.__name__] = own
        defs[registry.noun.capitalize()] = {"oneOf": [{"$ref": f"#/$defs/{entry.__name__}"} for entry in entries]}
    whole = _referring(found)
    assert isinstance(whole, dict)
    return whole


def _referring(schema: object) -> object:
    """A schema with references in the place of what stands for them."""
    if isinstance(schema, dict):
        if OF in schema:
            return {"$ref": f"#/$defs/{schema[OF]}"}
        return {key: _referring(value) for key, value in schema.items()}
    return [_referring(one) for one in schema] if isinstance(schema, list) else schema
