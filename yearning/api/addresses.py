"""Where the API stands: the version that its addresses name."""

from starlette.convertors import Convertor, register_url_convertor

V1 = "/api/v1"
"""The address of version 1; what would break a client of it stands under another."""


class RowNumber(Convertor[int]):
    """What a project's rows are numbered by in an address; words in their place are no such row."""

    regex = "[0-9]{1,40}"

    def convert(self, value: str) -> int:
        """The number."""
        return int(value)

    def to_string(self, value: int) -> str:
        """The number in an address."""
        return str(value)


register_url_convertor("row", RowNumber())
