"""Addresses of Dask schedulers."""

from yearning.core.validation import is_count
from yearning.farm.errors import FarmError


def check_address(address: str) -> None:
    """Refuse what is no scheduler's address.

    Raises:
        FarmError: it does not read tcp://HOST:PORT.
    """
    scheme, mark, rest = address.partition("://")
    host, colon, port = rest.rpartition(":")
    if scheme not in ("tcp", "tls") or not (mark and host and colon and is_count(port)):
        raise FarmError(f"cluster: '{address}' is no address; write one like tcp://10.0.0.5:8786")
