"""A base class for what holds files and is closed at the end of a `with`."""

from types import TracebackType
from typing import Self


class Closeable:
    """Base of what holds files or pictures until it is closed."""

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self.close()

    def close(self) -> None:
        """Let go of what is held."""
        raise NotImplementedError
