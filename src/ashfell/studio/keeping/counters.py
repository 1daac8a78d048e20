"""How many requests of each page were answered how, and how long they took, over all processes of the server, in the
text format that monitors read."""

from __future__ import annotations

from django.http import HttpRequest
from prometheus_client import CollectorRegistry, Counter, Gauge, Histogram, generate_latest
from prometheus_client.multiprocess import MultiProcessCollector

REQUESTS = Counter("ashfell_requests", "Requests answered", ["page", "method", "status"])
SECONDS = Histogram(
    "ashfell_request_seconds", "How long requests took", ["page"], buckets=(0.05, 0.1, 0.3, 1, 3, 10, 30)
)
METHODS = {"GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"}


def count(request: HttpRequest, status: int, seconds: float) -> None:
    """One request more. Pages are told by the names of their addresses, of which there are only so many."""
    match = request.resolver_match
    page = match.view_name if match is not None else "none"
    method = request.method if request.method in METHODS else "other"
    REQUESTS.labels(page, method, str(status)).inc()
    SECONDS.labels(page).observe(seconds)


def told(waiting: int) -> bytes:
    """All counters as text, and how many tasks wait for a worker."""
    registry = CollectorRegistry()
    MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
    own = CollectorRegistry()
    Gauge("ashfell_tasks_waiting", "Tasks that wait for a worker", registry=own).set(waiting)
    return generate_latest(registry) + generate_latest(own)
