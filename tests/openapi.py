"""The OpenAPI document as it is published.

Building it from the application takes seconds, so tests read the file; `make check` and
`tests/api/test_document.py` hold that it is the application's.
"""

import json
from collections.abc import Iterator
from pathlib import Path
from typing import Any

DOCUMENT: dict[str, Any] = json.loads(
    (Path(__file__).parents[1] / "schemas" / "openapi.json").read_text()
)
PATHS: dict[str, dict[str, Any]] = DOCUMENT["paths"]


def operations() -> Iterator[tuple[str, str, dict[str, Any]]]:
    """Yield each operation's method, path and description."""
    for path, by_method in PATHS.items():
        for method, operation in by_method.items():
            yield method, path, operation
