"""A registry is whole for everybody who asks, also while another thread is still importing its kinds."""

import sys
import textwrap
from dataclasses import replace
from threading import Thread

import pytest

from ashfell.core.base.registry import REGISTRIES, Registry
from ashfell.core.kinds.roles import ROLES


def test_whoever_asks_while_kinds_are_imported_waits_for_all_of_them(tmp_path, monkeypatch):
    package = tmp_path / "slow_kinds"
    package.mkdir()
    (package / "__init__.py").write_text("")
    for number in range(3):
        (package / f"kind_{number}.py").write_text(
            textwrap.dedent(f"""
                import time
                from types import SimpleNamespace
                time.sleep(0.1)
                from ashfell.core.base.registry import REGISTRIES
                REGISTRIES[-1].register(SimpleNamespace(key="kind {number}", order={number}))
            """)
        )
    monkeypatch.syspath_prepend(str(tmp_path))
    registry = Registry("slow kind", "slow_kinds")
    seen = []
    threads = [Thread(target=lambda: seen.append([*registry])) for _ in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    REGISTRIES.remove(registry)
    assert seen == [["kind 0", "kind 1", "kind 2"]] * 8
    assert "slow_kinds.kind_2" in sys.modules


def test_a_key_is_taken_once():
    """Another record of a key would stand in the place of the first, and take it along when it goes."""
    with pytest.raises(ValueError, match="“frame” already"), ROLES.registered(replace(ROLES["frame"], label="Other")):
        pass
    assert ROLES["frame"].label == "Frame"
