"""A real server: what is heard of it, and what holds for its process and its address."""

import ipaddress
import json
import logging
import os
import socket
import subprocess
import sys
import urllib.parse
import urllib.request
from asyncio import CancelledError

import pytest
from websockets.sync.client import connect

from tests.conftest import THREE_STEPS
from tests.rendering import kill_all
from tests.ui.serving import start_server
from yearning.cli import serving
from yearning.cli.serving import is_error, machine_mb, own_address

LOOK = {"format": "yearning-look/3", "name": "Test", "steps": THREE_STEPS}


def ask(address, path, body=None, data=None):
    sent = json.dumps(body).encode() if body is not None else data
    headers = {"Content-Type": "application/json"}
    request = urllib.request.Request(address + path, sent, headers)
    return json.loads(urllib.request.urlopen(request, timeout=120).read())


def events(address):
    """The server's events about renders, as they come."""
    with urllib.request.urlopen(f"{address}/api/v1/renders/events", timeout=500) as stream:
        for line in stream:
            if line.startswith(b"data:"):
                yield json.loads(line[5:])


def test_a_render_is_heard_of_while_it_goes_on(make_clip, tmp_path):
    source = make_clip("short.mp4", "libx264", frames=48, tone=True)
    process, address = start_server(tmp_path / "work")
    try:
        clip = ask(address, "/api/v1/clips?name=short.mp4", data=source.read_bytes())["id"]
        made = ask(address, "/api/v1/renders", {"clip": clip, "look": LOOK})
        heard = []
        for render in events(address):
            heard.append(render)
            if render["state"] == "done":
                break
        assert {render["id"] for render in heard} == {made["id"]}
        assert "running" in [render["state"] for render in heard]
        with connect(address.replace("http", "ws") + "/api/v1/play") as socket:
            assert socket.protocol.extensions == []  # JPEGs are not packed again
    finally:
        process.terminate()
        process.wait(timeout=120)


def test_a_project_has_one_server_and_a_killed_one_gives_it_back(tmp_path):
    project = tmp_path / "work"
    process, address = start_server(project)
    arriving = project / "incoming" / "half.mp4"
    arriving.write_bytes(b"half of an upload")
    words = [sys.executable, "-m", "yearning.cli", "serve", "--project", str(project)]
    taken = str(urllib.parse.urlsplit(address).port)
    second = subprocess.run([*words, "--port", taken], capture_output=True, text=True, timeout=60)
    assert second.returncode == 2
    assert "choose another with --host or --port" in second.stderr
    second = subprocess.run([*words, "--port", "0"], capture_output=True, text=True, timeout=60)
    assert second.returncode == 2
    assert second.stderr.count("\n") == 1
    assert f"process {process.pid} serves it at {address}" in second.stderr
    assert arriving.read_bytes() == b"half of an upload"
    process.kill()
    process.wait(timeout=60)
    again, address = start_server(project)
    try:
        assert ask(address, "/api/v1/clips") == []
        assert not arriving.exists()
    finally:
        kill_all(again)


@pytest.mark.parametrize("host", ["0.0.0.0", "::", "::1", "127.0.0.1", "localhost", "a.example"])
def test_an_address_that_is_printed_can_be_opened(host):
    said = own_address(host)
    if host in ("0.0.0.0", "::"):
        assert not ipaddress.ip_address(said).is_unspecified
    else:
        assert said == host


@pytest.mark.skipif(not socket.has_ipv6, reason="without IPv6 there is no such address")
def test_a_server_listens_on_an_address_of_version_six(tmp_path):
    with socket.socket(socket.AF_INET6) as probe:
        try:
            probe.bind(("::1", 0))
        except OSError:
            pytest.skip("this machine has IPv6 switched off")
    process, address = start_server(tmp_path / "work", "--host", "::1")
    try:
        assert address.startswith("http://[::1]:")
        assert ask(address, "/api/v1/project")["name"] == "work"
    finally:
        process.terminate()
        process.wait(timeout=60)


@pytest.mark.parametrize(
    ("message", "error", "seen"),
    [
        ("Exception in ASGI application", CancelledError("Task cancelled"), False),
        ("Cancel 2 running task(s), timeout graceful shutdown exceeded", None, False),
        ("Exception in ASGI application", ValueError("a fault"), True),
        ("address already in use", None, True),
    ],
)
def test_requests_that_the_server_s_end_cuts_off_are_no_errors(message, error, seen):
    info = None if error is None else (type(error), error, None)
    record = logging.LogRecord("uvicorn.error", logging.ERROR, "", 1, message, (), info)
    assert is_error(record) is seen


@pytest.mark.parametrize(("said", "mb"), [("2000000000\n", 2000), ("max\n", None), (None, None)])
def test_what_a_container_may_take_is_what_there_is(said, mb, tmp_path, monkeypatch):
    limit = tmp_path / "memory.max"
    if said is not None:
        limit.write_text(said)
    monkeypatch.setattr(serving, "CGROUP_LIMIT", limit)
    whole = os.sysconf("SC_PHYS_PAGES") * os.sysconf("SC_PAGE_SIZE") // 1_000_000
    assert machine_mb() == (mb or whole)
