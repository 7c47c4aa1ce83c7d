"""Write the published schemas: `python -m yearning.schemas DIR`, or `--check DIR`."""

import json
import sys
from pathlib import Path

from yearning.api.app import create_app
from yearning.api.schemas.catalogue import catalogue
from yearning.core.look.document import look_schema
from yearning.core.look.fitting import fitting_schema
from yearning.core.look.reel import reel_schema
from yearning.core.motion.tracks import track_schema
from yearning.core.noise.scanned_grain import grain_schema


def documents() -> dict[str, str]:
    """Each schema file's name and text."""
    schemas = {
        "yearning-look-3.schema.json": look_schema(),
        "yearning-fitting-2.schema.json": fitting_schema(),
        "yearning-track-1.schema.json": track_schema(),
        "yearning-grain-1.schema.json": grain_schema(),
        "yearning-reel-1.schema.json": reel_schema(),
        "openapi.json": create_app(None).openapi(),
        "catalogue.json": catalogue().model_dump(mode="json", by_alias=True),
    }
    return {name: json.dumps(schema, indent=1) + "\n" for name, schema in schemas.items()}


def main(arguments: list[str]) -> int:
    """Write the files, or say which differ."""
    folder = Path(arguments[-1])
    stale = []
    for name, text in documents().items():
        path = folder / name
        if "--check" not in arguments:
            path.write_text(text)
        elif not path.exists() or path.read_text() != text:
            stale.append(str(path))
    if stale:
        print(f"not up to date: {', '.join(stale)}; run make schemas", file=sys.stderr)
    return 1 if stale else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
