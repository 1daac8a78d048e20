"""The server itself: slow clients and large bodies of strangers do not keep others waiting."""

import os
import shutil
import socket
import sqlite3
import ssl
import subprocess
import time
import urllib.request
from contextlib import closing, suppress
from threading import Event, Thread

import pytest
from django.db import connection
from django.http import HttpResponse
from django.test import Client, RequestFactory
from django.urls import reverse

from ashfell.studio.keeping import turns
from ashfell.studio.keeping.proxy import Proxy
from ashfell.studio.keeping.turns import Turns
from ashfell.studio.pictures.management.commands.demo import Command
from tests.conftest import ROOT

TOKEN = "abcdefghijklmnopqrstuvwxyzabcdef"
SLOW = 24
"""More than the threads of every process that work."""


@pytest.fixture(scope="module")
def port(tmp_path_factory, django_db_setup, django_db_blocker):
    """Where a server like that of the demo listens; its database is a copy of the one that tests have."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        number = free.getsockname()[1]
    folder = tmp_path_factory.mktemp("server")
    place = os.environ | {"ASHFELL_VAR": str(folder), "DJANGO_SETTINGS_MODULE": "ashfell.studio.settings"}
    with django_db_blocker.unblock(), closing(sqlite3.connect(folder / "ashfell.sqlite3")) as copy:
        connection.ensure_connection()
        connection.connection.backup(copy)
    with pytest.MonkeyPatch.context() as there:
        there.setenv("ASHFELL_WORKERS", "1")
        command = Command.server(number)
    with subprocess.Popen(command, cwd=ROOT, env=place, stderr=subprocess.DEVNULL) as server:
        try:
            for _ in range(150):
                try:
                    asked(number)
                    break
                except OSError:
                    time.sleep(0.2)
            yield number
        finally:
            server.terminate()
            server.wait(20)


def asked(number):
    """How long the page to sign in takes, seconds."""
    begun = time.perf_counter()
    with urllib.request.urlopen(f"http://127.0.0.1:{number}/sign-in/", timeout=5) as answer:
        assert answer.status == 200
        answer.read()
    return time.perf_counter() - begun


@pytest.mark.parametrize("kind", ["head", "body"])
def test_slow_clients_keep_nobody_waiting(port, kind):
    held = []
    for _ in range(SLOW):
        one = socket.create_connection(("127.0.0.1", port))
        if kind == "head":
            one.sendall(b"GET /sign-in/ HTTP/1.1\r\nHost: localhost\r\nX-A: ")
        else:
            head = (
                f"POST /sign-in/ HTTP/1.1\r\nHost: localhost\r\nCookie: csrftoken={TOKEN}\r\nContent-Length: 9999\r\n"
            )
            one.sendall(head.encode() + b"Content-Type: application/x-www-form-urlencoded\r\n\r\na")
        held.append(one)
    time.sleep(0.5)
    try:
        assert max(asked(port) for _ in range(3)) < 4
    finally:
        for one in held:
            one.close()


def test_a_large_body_of_a_stranger_is_cut_off(port):
    with socket.create_connection(("127.0.0.1", port)) as one:
        one.settimeout(20)
        one.sendall(b"POST /sign-in/ HTTP/1.1\r\nHost: localhost\r\nContent-Length: 9000000000\r\n\r\n")
        sent = 0
        with suppress(OSError):
            while sent < 200:
                one.sendall(bytes(2**20))
                sent += 1
        assert sent < 200
    assert asked(port) < 4


@pytest.mark.django_db
@pytest.mark.parametrize(("length", "signed", "status"), [("3000000", 0, 413), ("x", 1, 413), ("999999999", 1, 413)])
def test_what_is_too_large_is_refused_before_it_is_read(client, person, length, signed, status):
    if signed:
        client.force_login(person)
    answer = client.post(reverse("sign-in"), {"username": "x"}, headers={"Content-Length": length})
    assert answer.status_code == status
    assert b"Too large" in answer.content


@pytest.mark.django_db
def test_who_waits_too_long_for_a_turn_is_told(monkeypatch):
    monkeypatch.setattr(turns, "AT_ONCE", 1)
    monkeypatch.setattr(turns, "PATIENCE", 0.05)
    kept = Turns(lambda request: None)
    kept.get_response = lambda request: kept(RequestFactory().get("/inner/"))
    answer = kept(RequestFactory().get("/"))
    assert answer.status_code == 503
    assert answer["Retry-After"] == "0"
    assert b"Busy" in answer.content
    assert Client().get(reverse("sign-in")).status_code == 200


def test_the_next_is_begun_when_one_is_done_or_takes_longer():
    """Of two requests the second waits for a short one; beside a long one it is begun after a while; a third, where two
    are at work, waits for either."""
    lane = turns.Lane(2, 0.2)
    first = lane.enter(0)
    assert lane.enter(0.05) is None
    second = lane.enter(5)
    assert 0.2 <= second - first < 1
    assert lane.enter(0.3) is None
    found = []
    waiting = Thread(target=lambda: found.append(lane.enter(5)))
    waiting.start()
    lane.leave(first)
    waiting.join(5)
    assert found[0] - second >= 0.2
    lane.leave(second)
    lane.leave(found[0])
    begun = time.monotonic()
    assert lane.enter(5) - begun < 0.1


def test_what_took_long_before_waits_for_others_like_it_and_takes_no_turn_of_others(monkeypatch):
    """Two short requests at once, and one long one beside them; another long one waits."""
    monkeypatch.setattr(turns, "PATIENCE", 5.0)
    at_work, may_end = [], Event()

    def answer(request):
        at_work.append(request.path)
        may_end.wait(10)
        return HttpResponse()

    kept = Turns(answer)
    kept.free.most, kept.free.beside = 2, 0.0
    kept.long |= {"/large/": None, "/larger/": None}
    paths = ("/large/", "/larger/", "/a/", "/b/", "/c/")
    threads = [Thread(target=kept, args=(RequestFactory().get(path),)) for path in paths]
    for thread in threads:
        thread.start()
        time.sleep(0.05)
    until = time.monotonic() + 5
    while len(at_work) < 3 and time.monotonic() < until:
        time.sleep(0.01)
    time.sleep(0.2)
    assert sorted(at_work) == ["/a/", "/b/", "/large/"]
    may_end.set()
    for thread in threads:
        thread.join(10)
    assert sorted(at_work) == sorted(paths)


# --- behind a proxy


@pytest.fixture(scope="module")
def proxied(port, tmp_path_factory):
    """Where Debian's nginx listens, with the configuration that ships, before the server."""
    place = tmp_path_factory.mktemp("nginx")
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        number = free.getsockname()[1]
    made = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=ashfell.example"]
    made += ["-keyout", str(place / "key.pem"), "-out", str(place / "certificate.pem")]
    subprocess.run(made, check=True, capture_output=True)
    shipped = (ROOT / "deploy/nginx.conf").read_text()
    changed = {
        "127.0.0.1:8000": f"127.0.0.1:{port}",
        "listen 443 ssl": f"listen 127.0.0.1:{number} ssl",
        "listen 80;": f"listen unix:{place}/plain;",
        "/etc/ssl/ashfell": str(place),
    }
    for old, new in changed.items():
        assert old in shipped
        shipped = shipped.replace(old, new)
    folders = "".join(
        f"{kind}_temp_path {place}/{kind};" for kind in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    (place / "nginx.conf").write_text(
        f"daemon off; error_log stderr; pid {place}/pid; events {{}} http {{ access_log off; {folders} {shipped} }}"
    )
    nginx = shutil.which("nginx", path=f"{os.environ['PATH']}:/usr/sbin")
    with subprocess.Popen(
        [nginx, "-c", str(place / "nginx.conf"), "-p", str(place)], stderr=subprocess.PIPE
    ) as running:
        try:
            for _ in range(50):
                with suppress(OSError), socket.create_connection(("127.0.0.1", number)):
                    break
                time.sleep(0.1)
            assert running.poll() is None, running.stderr.read()
            yield number
        finally:
            running.terminate()


def through(number, **headers):
    """A page through the proxy: its status, headers and seconds."""
    believed = ssl.create_default_context()
    believed.check_hostname, believed.verify_mode = False, ssl.CERT_NONE
    asked_for = urllib.request.Request(f"https://127.0.0.1:{number}/sign-in/", headers=headers)
    begun = time.perf_counter()
    with urllib.request.urlopen(asked_for, timeout=10, context=believed) as answer:
        assert b"Sign in" in answer.read()
        return answer.status, answer.headers, time.perf_counter() - begun


def test_the_configuration_that_ships_serves_the_application(proxied):
    status, headers, _ = through(proxied)
    assert status == 200
    assert "default-src 'none'" in headers["Content-Security-Policy"]


def test_slow_clients_of_the_proxy_keep_nobody_waiting(proxied):
    held = [socket.create_connection(("127.0.0.1", proxied)) for _ in range(3 * SLOW)]
    try:
        assert max(through(proxied)[2] for _ in range(3)) < 4
    finally:
        for one in held:
            one.close()


@pytest.mark.parametrize(
    ("told", "address"),
    [("198.51.100.7", "198.51.100.7"), ("1.2.3.4, 198.51.100.7", "198.51.100.7"), ("", "127.0.0.1")],
)
def test_the_proxys_word_is_believed_and_not_the_clients(told, address):
    seen = []
    asked_for = RequestFactory().get("/", headers={"X-Forwarded-For": told} if told else {})
    Proxy(lambda request: seen.append(request.META["REMOTE_ADDR"]))(asked_for)
    assert seen == [address]
