"""Lists of which one row that can't be read never takes the others along."""

import logging
from collections.abc import Callable, Iterable, Iterator
from typing import Any, TypeVar

from yearning.core.errors import YearningError

Read = TypeVar("Read")

LOG = logging.getLogger("yearning")


def readable(rows: Iterable[Any], read: Callable[[Any], Read]) -> Iterator[Read]:
    """What is read of each row; one that can't be is left out, and told in the log.

    Args:
        rows: of a table, with ids.
        read: makes of a row what is listed.
    """
    for row in rows:
        try:
            found = read(row)
        except (YearningError, ValueError) as error:
            LOG.warning("%s %s is left out of its list: %s", type(row).__name__, row.id, error)
        else:
            yield found
