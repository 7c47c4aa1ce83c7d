"""Parts of long lists."""

from typing import Any, NamedTuple


class Slice(NamedTuple):
    """So many rows of a list, from a place on."""

    limit: int | None = None
    """All that follow where it is None."""
    offset: int = 0

    def of(self, rows: Any) -> Any:
        """The part of a query's rows."""
        if self == ALL:
            return rows
        return rows.limit(-1 if self.limit is None else self.limit).offset(self.offset)


ALL = Slice()
