"""Lists that grow, page by page."""

from typing import Annotated, TypeVar

from fastapi import Depends, Query, Request, Response

from yearning.core.validation import Whole
from yearning.store.slices import Slice

PAGE, MAX_PAGE = 100, 1000
"""How many of a list are answered where nothing is said, and at the most."""

Row = TypeVar("Row")


class Page:
    """Which page of a list is asked for; `Link` in the response leads on to the next."""

    def __init__(
        self,
        request: Request,
        response: Response,
        limit: Annotated[Whole, Query(ge=1, le=MAX_PAGE, description="How many at the most.")] = (
            PAGE
        ),
        offset: Annotated[Whole, Query(ge=0, le=1 << 40, description="How many to skip.")] = 0,
    ) -> None:
        self._request, self._response = request, response
        self._limit, self._offset = limit, offset

    @property
    def part(self) -> Slice:
        """The part of the list that is needed: one more, which tells that there are more."""
        return Slice(self._limit + 1, self._offset)

    def of(self, part: list[Row]) -> list[Row]:
        """The page out of its `part`; says where the next is (RFC 8288), if there is one."""
        if len(part) > self._limit:
            query = {"limit": self._limit, "offset": self._offset + self._limit}
            following = self._request.url.replace(scheme="", netloc="").include_query_params(
                **query
            )
            self._response.headers["Link"] = f'<{following}>; rel="next"'
        return part[: self._limit]

    def of_all(self, rows: list[Row]) -> list[Row]:
        """The page out of the whole list."""
        return self.of(rows[self._offset : self._offset + self._limit + 1])


CurrentPage = Annotated[Page, Depends()]
