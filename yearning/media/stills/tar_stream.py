"""Numbered stills sent as one archive (POSIX.1-2001 tar), unpacked into a folder."""

import shutil
import tarfile
from pathlib import Path

from yearning.core.frame_pattern import frame_number, is_frame_pattern
from yearning.media.decode.sequence import ENDINGS
from yearning.media.errors import MediaError


def unpack_stills(archive: Path, folder: Path, name: str) -> Path:
    """Unpack numbered stills and return their pattern.

    Args:
        archive: a tar file.
        folder: takes them.
        name: of their pattern, like `shot.%04d.png`.

    Raises:
        MediaError: `name` is no such name, or the archive can't be read or holds other files.
    """
    pattern = folder / name
    if (
        pattern.parent != folder
        or not is_frame_pattern(pattern.name)
        or pattern.suffix.lower() not in ENDINGS
    ):
        raise MediaError(f"{name}: not a name of numbered stills, like shot.%04d.png")
    folder.mkdir()
    try:
        with tarfile.open(archive, "r:") as packed:
            for member in packed:
                held = packed.extractfile(member) if member.isreg() else None
                if held is None or frame_number(pattern.name, member.name) is None:
                    raise MediaError(f"{member.name}: not one of the stills {name}")
                with held, (folder / member.name).open("xb") as file:
                    shutil.copyfileobj(held, file)
    except FileExistsError:
        raise MediaError(f"{member.name}: sent twice") from None
    except tarfile.TarError as error:
        raise MediaError(
            f"{name}: the stills did not arrive whole ({error}); send them again"
        ) from None
    return pattern
