"""Work on strangers' bytes in a process of its own, with limits on time and memory; nothing of it stays when it is
stopped.
"""

from __future__ import annotations

import resource
import subprocess
import sys

from ashfell.core.base.refusal import Refusal

SECONDS = 5
MEMORY = 700 * 2**20
"""Address space of the process; what it really needs is less."""
REFUSED = 3
"""How a process ends that has written a refusal: message and remedy, a line each."""


def run(module: str, content: bytes, *arguments: str, seconds: int = SECONDS, memory: int = MEMORY) -> bytes:
    """What a module makes of some bytes: it is run with them on its standard input and answers on its output.

    Raises
    ------
    Refusal
        What the module refuses; or that it took more time or memory than it may.
    """

    def limits() -> None:
        resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
        resource.setrlimit(resource.RLIMIT_CPU, (seconds, seconds + 1))

    try:
        done = subprocess.run(
            [sys.executable, "-m", module, *arguments],
            input=content,
            capture_output=True,
            timeout=seconds + 2,
            preexec_fn=limits,
            check=False,
        )
    except subprocess.TimeoutExpired:
        raise _too_much(seconds) from None
    if done.returncode == 0:
        return done.stdout
    if done.returncode == REFUSED:
        message, _, remedy = done.stderr.decode(errors="replace").strip().partition("\n")
        raise Refusal("file", "a file that can be read", message, remedy)
    raise _too_much(seconds)


def _too_much(seconds: int) -> Refusal:
    return Refusal(
        "file",
        "a file that can be read",
        f"Reading it takes more than {seconds} s or more memory than a file may.",
        "Choose a smaller one.",
    )
