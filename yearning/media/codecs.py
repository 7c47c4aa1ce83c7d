"""Codecs of moving pictures, their encoders, depths and qualities."""

import os
from dataclasses import dataclass, field
from typing import Literal, get_args

import llvmlite.binding

os.environ.setdefault("SVT_LOG", "1")  # the AV1 encoder prints errors alone

Quality = Literal["draft", "good", "fine", "finest"]
QUALITIES: tuple[Quality, ...] = get_args(Quality)

CodecName = Literal["H.264", "AV1", "VP9", "FFV1"]


ENCODER_THREADS = "2"
"""Fixed, since what x264 writes depends on it: a segment is the same from every machine."""


def steady_x264() -> dict[str, str]:
    """Options that keep x264 from its AVX-512 code, where the processor has it.

    With that code, small pictures came out in different bytes from one run to the next (seen in
    about one of ten at 192x112, never in 300 without it). It is not slower so.
    """
    wide = llvmlite.binding.get_host_cpu_features().get("avx512f", False)
    return {"x264-params": "asm=AVX2"} if wide else {}


@dataclass(frozen=True)
class Codec:
    """A codec of moving pictures, and the encoder for it."""

    name: CodecName
    encoder: str
    factors: dict[Quality, int]
    """The encoder's constant rate factor for each quality; none for a lossless one."""
    options: dict[str, str] = field(default_factory=dict)
    depths: tuple[int, ...] = (8,)
    chroma: tuple[tuple[int, int], ...] = ((2, 2),)
    """Subsamplings it takes, across and down."""
    alpha: bool = False
    """Whether it holds how far a picture covers, beside its colour."""

    @property
    def lossless(self) -> bool:
        """Whether what is decoded is what was encoded."""
        return not self.factors

    def encoder_options(self, quality: Quality) -> dict[str, str]:
        """Options for the encoder."""
        return self.options | ({} if self.lossless else {"crf": str(self.factors[quality])})

    def summary(self, quality: Quality) -> str:
        """The quality, with the encoder's own value."""
        return "lossless" if self.lossless else f"{quality}, CRF {self.factors[quality]}"


CODECS: dict[CodecName, Codec] = {
    codec.name: codec
    for codec in (
        # On grain, the preset "fast" gained 0.46 dB of PSNR over "veryfast", for three times the
        # work and files 5 % larger.
        Codec(
            "H.264",
            "libx264",
            {"draft": 26, "good": 21, "fine": 17, "finest": 12},
            {"preset": "veryfast", "threads": ENCODER_THREADS} | steady_x264(),
            (8, 10),
            ((2, 2), (2, 1), (1, 1)),
        ),
        Codec(
            "AV1",
            "libsvtav1",
            {"draft": 46, "good": 36, "fine": 28, "finest": 18},
            {"preset": "8"},
            (8, 10),
        ),
        Codec(
            "VP9",
            "libvpx-vp9",
            {"draft": 40, "good": 32, "fine": 24, "finest": 15},
            {"b": "0", "deadline": "good", "cpu-used": "4", "threads": ENCODER_THREADS},
        ),
        # RFC 9043: version 3, with a checksum for every slice
        Codec(
            "FFV1",
            "ffv1",
            {},
            {"level": "3", "slices": "4", "slicecrc": "1"},
            (8, 10, 16),
            alpha=True,
        ),
    )
}
