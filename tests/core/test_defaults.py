"""What is left out of a document is what its entry takes: defaults are not checked each time one is read."""

from typing import Annotated

import pytest
from pydantic import TypeAdapter

from ashfell.core.base.document import Document, dump
from ashfell.core.finish import Finish
from ashfell.core.site.document.site import SiteDocument
from ashfell.core.unit.document.unit import UnitDocument


def below(owner):
    for one in owner.__subclasses__():
        yield one
        yield from below(one)


@pytest.mark.parametrize("model", [Finish, SiteDocument, UnitDocument])
def test_a_document_that_is_written_is_whole(model):
    """Read again and written again it is the same."""
    said = {"name": "Sage"} | ({"kind": "paint", "colour": "#778899"} if model is Finish else {})
    whole = dump(model.model_validate(said))
    assert dump(model.model_validate(whole)) == whole


def test_what_is_left_out_could_be_typed():
    owners = {*below(Document)}
    assert {Finish, SiteDocument, UnitDocument} <= owners
    tried = 0
    for owner in owners:
        for name, field in owner.model_fields.items():
            if not field.is_required():
                default = field.get_default(call_default_factory=True)
                taken = Annotated[field.annotation, *field.metadata] if field.metadata else field.annotation
                assert TypeAdapter(taken).validate_python(default) == default, (owner, name)
                tried += 1
    assert tried > 200
