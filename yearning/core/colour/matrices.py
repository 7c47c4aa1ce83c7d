"""Y'CbCr codes: luma weights and quantization of the broadcast standards."""

from dataclasses import dataclass
from typing import Literal

Matrix = Literal["bt601", "bt709", "bt2020"]
Range = Literal["limited", "full"]

LUMA_WEIGHTS: dict[Matrix, tuple[float, float]] = {
    "bt601": (0.299, 0.114),  # ITU-R BT.601-7, item 2.5.1
    "bt709": (0.2126, 0.0722),  # ITU-R BT.709-6, item 3.2
    "bt2020": (0.2627, 0.0593),  # ITU-R BT.2020-2, table 4 (non-constant luminance)
}
"""KR and KB of each matrix."""


@dataclass(frozen=True)
class Coding:
    """How Y'CbCr codes stand for R'G'B' values: matrix, range, and bits per sample (8 to 16)."""

    matrix: Matrix
    range: Range
    bits: int

    @property
    def luma_offset(self) -> float:
        """Code of black: 16·2^(n−8), or 0 in full range (BT.709-6, item 3.5; BT.2100 table 9)."""
        return 16.0 * 2 ** (self.bits - 8) if self.range == "limited" else 0.0

    @property
    def luma_span(self) -> float:
        """Codes from black to white: 219·2^(n−8), or 2^n − 1 in full range."""
        return 219.0 * 2 ** (self.bits - 8) if self.range == "limited" else 2.0**self.bits - 1

    @property
    def chroma_offset(self) -> float:
        """Code of no colour: 2^(n−1)."""
        return 2.0 ** (self.bits - 1)

    @property
    def chroma_span(self) -> float:
        """Codes from CB = −0.5 to +0.5: 224·2^(n−8), or 2^n − 1 in full range."""
        return 224.0 * 2 ** (self.bits - 8) if self.range == "limited" else 2.0**self.bits - 1

    @property
    def top_code(self) -> int:
        """The highest code the sample can hold."""
        return int(2**self.bits - 1)

    @property
    def weights(self) -> tuple[float, float, float]:
        """KR, KG, KB of the matrix."""
        kr, kb = LUMA_WEIGHTS[self.matrix]
        return kr, 1.0 - kr - kb, kb


def guessed_matrix(height: int) -> Matrix:
    """The matrix of untagged footage: BT.709 from 720 lines up, BT.601 below.

    Common practice, no source: players take standard-definition footage as BT.601 and everything
    larger as BT.709; BT.2020 is never guessed, as its footage is tagged.

    >>> guessed_matrix(576), guessed_matrix(1080)
    ('bt601', 'bt709')
    """
    return "bt709" if height >= 720 else "bt601"
