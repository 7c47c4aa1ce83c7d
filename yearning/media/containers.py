"""Containers of results: one record for each format that movies are written in."""

from collections.abc import Mapping
from dataclasses import dataclass

from yearning.media.codecs import CodecName


@dataclass(frozen=True)
class Container:
    """A container format.

    Args:
        suffix: of its files.
        muxer: FFmpeg's name for it.
        media_type: its registered media type.
        codecs: of pictures that it is written with; the first is taken where none is named.
        copied_audio: codecs of sound that it holds as they are; None for any.
        audio_encoder: the encoder of sound that can't be copied.
        has_edit_lists: whether copied sound can be cut to the sample, by an edit list.
        options: for the muxer.

    Source: ISO/IEC 14496-14 and the registered sample entries; the WebM container guidelines;
    RFC 9559 (Matroska).
    """

    suffix: str
    muxer: str
    media_type: str
    codecs: tuple[CodecName, ...]
    copied_audio: frozenset[str] | None
    audio_encoder: str
    has_edit_lists: bool
    options: Mapping[str, str]

    def holds_audio(self, codec: str) -> bool:
        """Whether sound of that codec can be copied into it."""
        return self.copied_audio is None or codec in self.copied_audio


BIT_EXACT = {"fflags": "+bitexact"}
"""Without it the muxer gives each track a random number."""

CONTAINERS: dict[str, Container] = {
    container.suffix: container
    for container in (
        Container(
            ".mp4",
            "mp4",
            "video/mp4",
            ("H.264",),
            frozenset({"aac", "mp3", "ac3", "eac3", "alac", "opus", "flac", "mp2"}),
            "aac",
            True,
            {"movflags": "+faststart+write_colr"},
        ),
        Container(
            ".webm",
            "webm",
            "video/webm",
            ("AV1", "VP9"),
            frozenset({"opus", "vorbis"}),
            "libopus",
            False,
            BIT_EXACT,
        ),
        Container(".mkv", "matroska", "video/matroska", ("FFV1",), None, "flac", False, BIT_EXACT),
    )
}
"""Every container, by the suffix of its files."""


def container_for(codec: CodecName) -> Container:
    """The container that a codec is written in.

    >>> container_for("AV1").suffix
    '.webm'
    """
    return next(each for each in CONTAINERS.values() if codec in each.codecs)
