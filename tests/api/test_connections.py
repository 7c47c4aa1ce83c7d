"""Connections to a real server: requests that do not come, or not whole, do nothing."""

import json
import socket
from contextlib import contextmanager
from urllib.parse import urlsplit

import httpx
import pytest

from tests.ui.serving import start_server
from tests.waiting import let_pass, wait_for
from yearning.api.connections import MAX_HEADER_BYTES
from yearning.api.guard import MAX_HEADERS
from yearning.cli.serving import KEEP_ALIVE_SECONDS

LOOK = json.dumps({"format": "yearning-look/3", "name": "Half", "steps": []}).encode()


@pytest.fixture(scope="module")
def address(tmp_path_factory):
    process, address = start_server(tmp_path_factory.mktemp("connections") / "work")
    yield address
    process.terminate()
    process.wait(timeout=120)


@contextmanager
def connection(address, *parts):
    """A connection over which so much was sent."""
    where = urlsplit(address)
    with socket.create_connection((where.hostname, where.port), timeout=120) as opened:
        for part in parts:
            opened.sendall(part)
        yield opened


def head(address, line, *headers):
    lines = [line + " HTTP/1.1", f"Host: {urlsplit(address).netloc}", *headers]
    return "\r\n".join(lines).encode() + b"\r\n\r\n"


def ask_another(address):
    """Once another request is answered, what came before it is taken up."""
    let_pass(0.3)
    assert httpx.get(f"{address}/api/v1/looks").status_code == 200


def test_a_delete_whose_body_is_cut_short_deletes_nothing(address):
    look = httpx.post(f"{address}/api/v1/looks", content=LOOK).json()["id"]
    asked = head(address, f"DELETE /api/v1/looks/{look}", "Content-Length: 50")
    with connection(address, asked, b"abc"):
        ask_another(address)
    ask_another(address)
    assert httpx.get(f"{address}/api/v1/looks/{look}").status_code == 200


def test_a_post_in_chunks_without_its_end_makes_nothing(address):
    before = len(httpx.get(f"{address}/api/v1/looks").json())
    asked = head(
        address,
        "POST /api/v1/looks",
        "Transfer-Encoding: chunked",
        "Content-Type: application/json",
    )
    with connection(address, asked, f"{len(LOOK):x}\r\n".encode() + LOOK + b"\r\n"):
        ask_another(address)
    ask_another(address)
    assert len(httpx.get(f"{address}/api/v1/looks").json()) == before


def test_a_file_that_is_cut_short_leaves_nothing(address):
    asked = head(address, "POST /api/v1/clips?name=a.mp4", "Content-Length: 500000")
    with connection(address, asked, bytes(1000)):
        ask_another(address)
    wait_for(lambda: httpx.get(f"{address}/api/v1/clips").json() == [])


@pytest.mark.parametrize(
    "headers",
    [
        ["X-Long: " + "a" * (1 << 20)],
        [f"X-{n}: a" for n in range(100_000)],
        [f"X-{n}: a" for n in range(MAX_HEADERS)],
        ["X-Long: " + "a" * (4 * MAX_HEADER_BYTES)],
    ],
)
def test_headers_are_bounded_in_size_and_number(headers, address):
    with connection(address) as opened:
        try:
            opened.sendall(head(address, "GET /api/v1/looks", *headers))
            said = opened.recv(100)
        except ConnectionError:  # it was told, and closed, before all was sent
            said = b"HTTP/1.1 400"
    assert said[:10] == b"HTTP/1.1 4"


def test_a_request_that_does_not_come_is_not_waited_for(address):
    with connection(address, b"GET / HTTP/1.1\r\nHost: a") as half, connection(address) as nothing:
        assert half.recv(100).startswith(b"HTTP/1.1 408 ")
        assert nothing.recv(100).startswith(b"HTTP/1.1 408 ")
        assert half.recv(100) == b""


def test_others_are_answered_while_a_body_of_the_worst_is_checked(address):
    body = b'"' + b'\\"' * 500_000
    with connection(
        address,
        head(
            address,
            "POST /api/v1/looks/check",
            "Content-Type: application/json",
            f"Content-Length: {len(body)}",
        ),
        body,
    ) as opened:
        ask_another(address)
        assert opened.recv(100).startswith(b"HTTP/1.1 4")


def test_a_connection_stays_open_between_requests_for_as_long_as_it_says(address):
    own_limit = httpx.Limits(keepalive_expiry=60)  # else httpx itself gives it up after five
    with httpx.Client(base_url=address, limits=own_limit) as client:
        first = client.get("/api/v1/looks")
        assert first.headers["keep-alive"] == f"timeout={KEEP_ALIVE_SECONDS}"
        own = first.extensions["network_stream"].get_extra_info("client_addr")
        let_pass(6)  # uvicorn's own would be five
        again = client.get("/api/v1/looks")
        assert again.extensions["network_stream"].get_extra_info("client_addr") == own
