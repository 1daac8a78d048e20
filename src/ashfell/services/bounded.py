"""Work on strangers' bytes in a process of its own, with limits on time and memory; nothing of it stays when it is
stopped.
"""

from __future__ import annotations

import json
import resource
import runpy
import subprocess
import sys
import time
from collections.abc import Callable
from importlib import import_module
from tempfile import TemporaryFile
from typing import IO

from ashfell.core.base.refusal import Refusal

SECONDS = 5
START = 20
"""What a process may take to load our own libraries, which is not counted as reading, s."""
MEMORY = 700 * 2**20
"""Address space of the process; what it really needs is less."""
REFUSED = 3
"""How a process ends that has told a refusal."""
PATIENCE = 3
"""How many times as long as it may work a process may take, beside its start: others want the machine, too."""
CALM = 0.5
"""How often it is asked whether the work is still wanted, seconds."""


def tell(refusal: Refusal) -> int:
    """Tell a refusal from within the process; returns how it is to end."""
    told = {"entry": refusal.entry, "rule": refusal.rule, "message": refusal.message, "remedy": refusal.remedy}
    sys.stderr.write("\n" + json.dumps(told))
    return REFUSED


def run(
    module: str,
    content: bytes,
    *arguments: str,
    seconds: int = SECONDS,
    memory: int = MEMORY,
    wanted: Callable[[], bool] = lambda: True,
) -> bytes:
    """What a module makes of some bytes: it is run with them on its standard input and answers on its output.

    Raises
    ------
    Refusal
        What the module refuses; or that it took more time or memory than it may, or is not ``wanted`` any more.
    """

    def limits() -> None:
        resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
        resource.setrlimit(resource.RLIMIT_CPU, (START + seconds, START + seconds + 1))

    until = time.monotonic() + PATIENCE * seconds + START
    command = [sys.executable, "-m", __name__, str(seconds), module, *arguments]
    with (
        # A pipe would have to be written to while the process runs.
        TemporaryFile() as given,
        _started(command, given, content, limits) as child,
    ):
        while True:
            try:
                made, told = child.communicate(timeout=CALM)
                break
            except subprocess.TimeoutExpired:
                if time.monotonic() > until:
                    child.kill()
                    raise _too_much(seconds) from None
                if not wanted():
                    child.kill()
                    raise Refusal("file", "a file that is wanted", "The reading was stopped.") from None
    return answer(child.returncode, made, told, seconds)


def answer(ended: int | None, made: bytes, told: bytes, seconds: int) -> bytes:
    """What a process that has ended made.

    Raises
    ------
    Refusal
        When it told one, or was ended.
    """
    if ended == 0:
        return made
    if ended == REFUSED:
        raise Refusal(**json.loads(told.decode(errors="replace").strip().splitlines()[-1]))
    raise _too_much(seconds)


def _started(
    command: list[str], given: IO[bytes], content: bytes, limits: Callable[[], None]
) -> subprocess.Popen[bytes]:
    given.write(content)
    given.seek(0)
    pipe = subprocess.PIPE
    return subprocess.Popen(command, stdin=given, stdout=pipe, stderr=pipe, preexec_fn=limits)


def main(seconds: str, module: str, *arguments: str) -> None:
    """Run a module that is loaded already within some seconds from now; what it takes beyond them ends the process."""
    import_module(module)
    del sys.modules[module]
    used, (_, most) = resource.getrusage(resource.RUSAGE_SELF), resource.getrlimit(resource.RLIMIT_CPU)
    until = min(int(used.ru_utime + used.ru_stime) + 1 + int(seconds), most - 1)
    resource.setrlimit(resource.RLIMIT_CPU, (until, until + 1))
    sys.argv = [module, *arguments]
    runpy.run_module(module, run_name="__main__", alter_sys=True)


def _too_much(seconds: int) -> Refusal:
    return Refusal(
        "file",
        "a file that can be read",
        f"Reading it takes more than {seconds} s or more memory than a file may.",
        "Choose a smaller one.",
    )


if __name__ == "__main__":
    main(*sys.argv[1:])
