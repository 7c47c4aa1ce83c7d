"""Connections of HTTP whose requests begin in time."""

import asyncio
from typing import Any

import h11
from uvicorn.protocols.http.h11_impl import H11Protocol

SECONDS = 20.0
"""From a connection's beginning, or a further request's first byte, to the end of its headers."""

MAX_HEADER_BYTES = 64 << 10
"""Of a request's line and headers that are not all here yet."""

TOO_LATE = b"HTTP/1.1 408 Request Timeout\r\nConnection: close\r\nContent-Length: 0\r\n\r\n"


class TimedConnection(H11Protocol):
    """A connection that is closed where the headers of a request do not come (RFC 9110, 15.5.9).

    What its body takes is bounded where that is read.
    """

    _deadline: asyncio.TimerHandle | None = None

    def connection_made(self, transport: Any) -> None:
        """Begin to wait for a request."""
        super().connection_made(transport)
        self._wait()

    def data_received(self, data: bytes) -> None:
        """Take what came; wait for the rest of a request's headers."""
        super().data_received(data)
        if self.conn.their_state is h11.IDLE:
            self._wait()
        else:
            self._stop_waiting()

    def connection_lost(self, exc: Exception | None) -> None:
        """Wait for nothing any more."""
        self._stop_waiting()
        super().connection_lost(exc)

    def _wait(self) -> None:
        if self._deadline is None:
            self._deadline = self.loop.call_later(SECONDS, self._give_up)

    def _stop_waiting(self) -> None:
        if self._deadline is not None:
            self._deadline.cancel()
            self._deadline = None

    def _give_up(self) -> None:
        if not self.transport.is_closing():
            self.transport.write(TOO_LATE)
            self.transport.close()
