"""What is read in a process of its own is read here, so that no interpreter is started for each test; that a process
has its limits is for tests/formats/test_hostile.py, test_dxf_in.py and test_ifc_in.py."""

import contextlib
import inspect
import io
import sys
from importlib import import_module

import pytest

from ashfell.services import bounded


@pytest.fixture(autouse=True)
def in_this_process(request, monkeypatch):
    """Reads strangers' bytes here, unless a test is marked otherwise."""
    if request.node.get_closest_marker("in_a_process"):
        return

    def run(module, content, *arguments, wanted=lambda: True, **limits):
        held = {name: io.TextIOWrapper(io.BytesIO(content if name == "stdin" else b"")) for name in ("stdin", "stdout")}
        told, main = io.StringIO(), import_module(module).main
        with monkeypatch.context() as there, contextlib.redirect_stderr(told):
            there.setattr(sys, "stdin", held["stdin"])
            there.setattr(sys, "stdout", held["stdout"])
            there.setattr(sys, "argv", [module, *arguments])
            ended = main(arguments) if inspect.signature(main).parameters else main()
        held["stdout"].flush()
        return bounded.answer(ended, held["stdout"].buffer.getvalue(), told.getvalue().encode(), 0)

    monkeypatch.setattr(bounded, "run", run)
