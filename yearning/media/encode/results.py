"""What results can be: their endings, codecs, depths and qualities, in the user's words."""

from dataclasses import dataclass
from pathlib import Path

from yearning.core.frame_pattern import has_one_number, is_frame_pattern
from yearning.core.image.window import crop_box_at
from yearning.core.picture import Box, Size
from yearning.media.codecs import CODECS, QUALITIES, Codec, CodecName, Quality
from yearning.media.containers import CONTAINERS
from yearning.media.decode.probe import Probe
from yearning.media.errors import MediaError
from yearning.media.stills.stills import STILLS, WITH_ALPHA, still_bits

ENDINGS = ", ".join([*CONTAINERS, *(f"DIR/%05d{ending}" for ending in STILLS)])


@dataclass(frozen=True)
class Output:
    """How a result is written; its name's ending says as what.

    Args:
        quality: of what is not lossless.
        codec: where the ending leaves a choice.
        bits: a channel; None for those of the footage, or what is nearest.
        height: lines, fewer than the footage's; None for the footage's own.
        ratio: width to height of what is cut from the middle; None for the whole frame.
        overlay: what the look lays over the footage alone, with its alpha, the footage left out.
    """

    quality: Quality = "fine"
    codec: CodecName | None = None
    bits: int | None = None
    height: int | None = None
    ratio: float | None = None
    overlay: bool = False


AS_FOOTAGE = Output()

NAME_BYTES = 200
"""Of a result's name, in UTF-8: file systems take 255, and its parts have longer ones."""


def check_result(path: Path, output: Output = AS_FOOTAGE) -> None:
    """Raise `MediaError` for a result that can't be written.

    Args:
        path: of the result.
        output: how it is written.

    Raises:
        MediaError: the name's ending, its folder, or what is asked of it.
    """
    ending = path.suffix.lower()
    if len(path.name.encode()) > NAME_BYTES:
        raise MediaError(
            f"{path.name[:40]}…: a name of more than {NAME_BYTES} bytes; give it a shorter one"
        )
    if is_frame_pattern(path.name):
        _check_words(output)
        if not has_one_number(path.name):
            raise MediaError(
                f"{path.name}: numbered stills have one number in the name, like %05d.png"
            )
        if ending not in STILLS:
            raise MediaError(f"{path.name}: stills end in {', '.join(STILLS)}")
        if output.codec is not None:
            raise MediaError(f"{path.name}: stills have no codec; leave it out")
        still_bits(ending, output.bits)
        if output.overlay and ending not in WITH_ALPHA:
            raise MediaError(f"{path.name}: {_no_alpha(ending)}")
    elif ending not in CONTAINERS:
        raise MediaError(f"{path.name}: results are {ENDINGS}")
    else:
        check_output(ending, output)
    if not path.parent.is_dir():
        raise MediaError(f"{path.parent}: no such folder to write {path.name} in")


def check_output(ending: str, output: Output) -> None:
    """Raise `MediaError` for options that a movie of that ending can't have.

    Args:
        ending: of the result.
        output: how it is written.

    Raises:
        MediaError: which setting, and what it may be.
    """
    _check_words(output)
    codec = codec_of(ending, output)
    if output.bits is not None and output.bits not in codec.depths:
        known = " or ".join(map(str, codec.depths))
        raise MediaError(f"bits: {codec.name} is written with {known}, not {output.bits}")
    if output.overlay and not codec.alpha:
        raise MediaError(f"overlay: {_no_alpha(codec.name)}")


def _no_alpha(name: str) -> str:
    able = [each.name for each in CODECS.values() if each.alpha]
    kinds = " or ".join([*able, *(f"DIR/%05d{ending}" for ending in WITH_ALPHA)])
    return f"{name} holds no alpha here; what is laid over footage is written as {kinds}"


def _check_words(output: Output) -> None:
    if output.quality not in QUALITIES:
        raise MediaError(f"quality: '{output.quality}' is not one of {', '.join(QUALITIES)}")
    if output.height is not None and output.height < MIN_HEIGHT:
        raise MediaError(
            f"height: {output.height} is too low; results have {MIN_HEIGHT} lines or more"
        )


MIN_HEIGHT = 16


def codec_of(ending: str, output: Output) -> Codec:
    """Return the codec of a movie.

    Args:
        ending: of the result.
        output: how it is written.

    Raises:
        MediaError: the ending does not go with it.
    """
    choices = CONTAINERS[ending].codecs
    name = output.codec or choices[0]
    if name not in choices:
        raise MediaError(f"codec: {ending} holds {' or '.join(choices)} here, not {name}")
    return CODECS[name]


def result_size(footage: Size, output: Output) -> Size:
    """Return the result's size: even on both sides where it is made smaller.

    Args:
        footage: its size.
        output: how the result is written.

    Raises:
        MediaError: it would be larger than the footage.
    """
    if output.height is None or output.height == footage.height:
        return footage
    if output.height > footage.height:
        raise MediaError(
            f"height: {output.height} is more than the footage's {footage.height} lines"
        )
    height = output.height - output.height % 2
    return Size(max(2, round(footage.width * height / footage.height / 2) * 2), height)


def result_box(footage: Size, output: Output) -> Box:
    """Return the part of a frame of `result_size` that is written.

    Args:
        footage: its size.
        output: how the result is written.
    """
    size = result_size(footage, output)
    return Box(0, 0, *size) if output.ratio is None else crop_box_at(output.ratio, footage, size)


def check_footage(probe: Probe, ending: str, output: Output) -> None:
    """Raise `MediaError` for a result that this footage can't be made into.

    Args:
        probe: of the footage.
        ending: of the result.
        output: how it is written.

    Raises:
        MediaError: its size.
    """
    box = result_box(probe.size, output)
    size = Size(int(box.width), int(box.height))
    if ending in CONTAINERS and not (codec := codec_of(ending, output)).lossless:
        subsampling(probe, codec, size)


def depth(probe: Probe, codec: Codec, output: Output) -> int:
    """Return the bits of the result: those asked for, else the fewest that hold the footage's.

    Args:
        probe: of the footage.
        codec: of the result.
        output: how it is written.
    """
    if output.bits is not None:
        return output.bits
    return next((bits for bits in codec.depths if bits >= probe.bits), codec.depths[-1])


def subsampling(probe: Probe, codec: Codec, size: Size) -> tuple[int, int]:
    """Return the result's chroma: the footage's, where codec and size allow it.

    Args:
        probe: of the footage.
        codec: of the result.
        size: of the result.

    Raises:
        MediaError: the codec takes even sizes alone, and this one is odd.
    """
    across, down = probe.subsampling
    if (across, down) not in codec.chroma:
        across, down = codec.chroma[0]
    if size.width % across or size.height % down:
        if (1, 1) not in codec.chroma:
            raise MediaError(
                f"{codec.name} takes sizes that are even, not {size.width}x{size.height}; "
                "make it smaller with a height, or write .mp4 or .mkv"
            )
        across, down = 1, 1
    return across, down
