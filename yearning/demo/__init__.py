"""The demo project: a made-up short, Tidewater Lamps, and the generator of its footage."""

from pathlib import Path

MEDIA = Path(__file__).parent / "media"
"""Where the encoded clips are."""

PLATES = Path(__file__).parent / "plates"
"""Where the plates are."""

SOUNDS = Path(__file__).parent / "sounds"
"""Where the music is."""
