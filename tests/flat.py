"""Models of nothing, for tests of pages that do not look at the 3D view."""

import struct
from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

NOTHING = b"glTF" + struct.pack("<III", 2, 64, 44) + b"JSON" + b'{"asset":{"version":"2.0"},"scenes":[{}]}'.ljust(44)
state = {"flat": False}
"""Whether models are of nothing now: the software renderer takes most of the time of tests that do not look at them.
Not told to the browser, which would read every script anew for each page if it had to ask."""


def models_of_nothing(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """A middleware that answers for every model while ``state`` says so."""

    def answer(request: HttpRequest) -> HttpResponse:
        if state["flat"] and request.path.endswith(".glb"):
            return HttpResponse(NOTHING, content_type="model/gltf-binary")
        return get_response(request)

    return answer
