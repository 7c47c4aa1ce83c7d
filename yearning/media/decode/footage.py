"""Footage: any frame of a clip, exactly, in any order."""

import threading
from collections.abc import Callable, Iterator
from fractions import Fraction
from functools import cache, cached_property
from pathlib import Path

import av
import cv2
import numpy as np
from av.video.stream import VideoStream
from cachetools import LRUCache

from yearning.core import parallel
from yearning.core.buffers import new_array
from yearning.core.cache import enlarge_cache
from yearning.core.colour.conversion import conversion
from yearning.core.colour.matrices import Coding
from yearning.core.engine.as_shot import AsShot
from yearning.core.image.filters import area_resized, enlarge_cubic
from yearning.core.picture import Picture, Plane, Size, new_picture
from yearning.media.decode.content_id import content_id
from yearning.media.decode.deinterlace import deinterlace
from yearning.media.decode.frames import FrameIndex, shown_frames
from yearning.media.decode.input_overrides import AS_TAGGED, InputOverrides
from yearning.media.decode.planes import (
    Codes,
    Planes,
    chroma_shape,
    planes_to_picture,
    planes_to_rows,
    rgb_to_rows,
    scale_codes,
)
from yearning.media.decode.probe import (
    PLANAR,
    RGB_VIA,
    VIA,
    Probe,
    decoded_frames,
    open_container,
    picture_stream,
    probe_container,
)
from yearning.media.errors import MediaError
from yearning.media.resources import Closeable

RECENT = 6
"""Decoded frames kept, so that a look that reads around a frame does not make the decoder seek."""

KEYS_TRIED = 3
"""Key frames tried, each before the last, until one leads to the frame."""

ALPHA_APART = ("yuva", "gbrap")
"""Pixel formats whose fourth plane is alpha, by how their names begin."""

PACKED = {"rgba": (0, 1, 2, 3), "bgra": (2, 1, 0, 3), "argb": (1, 2, 3, 0), "abgr": (3, 2, 1, 0)}
"""Pixel formats of bytes side by side: where R', G', B' and alpha are among them."""

NEAR = 12
"""Frames ahead that are decoded through rather than sought."""


class Footage(Closeable, AsShot):
    """A clip, opened for frame-exact access; a context manager, safe between threads.

    Raises:
        MediaError: the file can't be used as a clip.
    """

    def __init__(
        self, path: Path, footage_id: str | None = None, reading: InputOverrides = AS_TAGGED
    ) -> None:
        self.path = path
        self.reading = reading
        self.footage_id = footage_id
        self.id = f"{footage_id or path.resolve()}|{reading.key}"
        self._container = open_container(path)
        try:
            self.probe: Probe
            self.index: FrameIndex
            self._stream: VideoStream
            self.probe, self.index, self._stream = probe_container(self._container, path, reading)
        except BaseException:
            self._container.close()
            raise
        self._shown = shown_frames(self.index, self.probe.rate)
        self._conversion = conversion(self.probe.light, self.probe.wide)
        self._number = {int(time): n for n, time in enumerate(self.index.times)}
        self._lock = threading.Lock()
        self._recent: LRUCache[int, av.VideoFrame] = LRUCache(RECENT)
        self._deinterlaced: LRUCache[int, av.VideoFrame] = LRUCache(RECENT)
        self._decoded: Iterator[tuple[int, av.VideoFrame]] = iter(())
        self._next = -1
        """The number of the frame the decoder gives next; −1 when it must seek first."""

    def close(self) -> None:
        """Close the file."""
        with self._lock:
            self._recent.clear()
            self._deinterlaced.clear()
            self._decoded = iter(())
            self._container.close()

    @cached_property
    def content_id(self) -> str:
        """A hash of parts of the file."""
        return content_id(self.path)

    @property
    def frames(self) -> int:
        """Number of frames, counted from 0."""
        return self.probe.frames

    @property
    def begins(self) -> Fraction:
        """The file's time, in seconds, at which frame 0 is shown."""
        return int(self.index.times[0]) * self.index.time_base if self.index.timed else Fraction(0)

    @property
    def size(self) -> Size:
        """The picture's size as shown."""
        return self.probe.size

    def picture(self, frame: int, size: Size | None = None) -> Picture:
        """Return a frame as R'G'B'.

        Args:
            frame: of the clip.
            size: that it is averaged down to; None for its own.

        Raises:
            IndexError: no such frame.
            MediaError: it can't be decoded.
        """
        size = size or self.size
        turns = self.probe.rotation // 90
        upright = Size(size.height, size.width) if turns % 2 else size
        video = self.video_frame(frame)
        coded = Size(min(upright.width, video.width), min(upright.height, video.height))
        if self.probe.rgb:
            picture = area_resized(self._rgb_picture(video), coded)
        else:
            picture = planes_to_picture(*self._codes(video), coded)
        picture = self._convert(enlarge_cubic(picture, upright))
        if turns:
            picture = np.ascontiguousarray(np.rot90(picture, turns, axes=(1, 2)))
        return picture

    @cached_property
    def has_alpha(self) -> bool:
        """Whether its frames have alpha; it may still be 1 everywhere."""
        return any(part.is_alpha for part in av.VideoFormat(self.probe.pixel_format).components)

    def alpha_rows(self, frame: int) -> Callable[[int, int], Plane]:
        """Rows of the alpha, 0..1, of frame `frame` at full size, asked for as `rows` are.

        Raises:
            IndexError: no such frame.
            MediaError: it can't be decoded.
            ValueError: its frames have no alpha.
        """
        codes, whole = _alpha_codes(self.video_frame(frame))

        def rows(top: int, bottom: int) -> Plane:
            part = new_array((bottom - top, codes.shape[1]))
            scale_codes(codes[top:bottom], np.float32(1 / whole), part)
            return part

        turns = self.probe.rotation // 90
        if self.probe.size == self.probe.coded and not turns:
            return rows
        alpha = np.ascontiguousarray(np.rot90(rows(0, codes.shape[0]), turns))
        turned = cv2.resize(alpha, tuple(self.size), interpolation=cv2.INTER_LINEAR)
        return lambda top, bottom: np.asarray(turned[top:bottom], np.float32)

    def _convert(self, picture: Picture) -> Picture:
        return picture if self._conversion is None else self._conversion.convert(picture)

    def rows(self, frame: int) -> Callable[[int, int], Picture]:
        """Rows of frame `frame` at full size, asked for from one to another (exclusive).

        Raises:
            IndexError: no such frame.
            MediaError: it can't be decoded.
        """
        probe = self.probe
        if probe.rotation or probe.size != probe.coded:
            picture = self.picture(frame)
            return lambda top, bottom: np.ascontiguousarray(picture[:, top:bottom])
        if probe.rgb:
            rgb = self._rgb_rows(self.video_frame(frame))
            return lambda top, bottom: self._convert(rgb(top, bottom))
        codes = self._codes(self.video_frame(frame))
        return lambda top, bottom: self._convert(planes_to_rows(*codes, top, bottom))

    def key_frame(self, frame: int) -> int:
        """The frame at or before `frame` that can be decoded by itself, or that frame."""
        if not self.index.timed:
            return frame
        source = np.searchsorted(self.index.times, self.index.key_for(int(self._shown[frame])))
        return min(frame, int(np.searchsorted(self._shown, source)))

    def reserve_cache(self, frames: int) -> None:
        """Keep at least so many decoded frames: as many as are read around one."""
        with self._lock:
            self._recent = enlarge_cache(self._recent, frames)
            self._deinterlaced = enlarge_cache(self._deinterlaced, frames)

    def prefetch(self, frame: int) -> None:
        """Decode frame `frame` ahead, so that its rows are there when they are asked for."""
        self.video_frame(frame)

    def _codes(self, frame: av.VideoFrame) -> tuple[Planes, Coding, tuple[int, int]]:
        """The frame's planes, without copying, and how to read them."""
        if frame.format.name not in PLANAR:
            frame = frame.reformat(
                format=VIA, dst_colorspace=_SWS_SPACE[self.probe.matrix], dst_color_range="MPEG"
            )
        kind = np.uint8 if self.probe.bits == 8 else np.uint16
        size = Size(frame.width, frame.height)
        shapes = [(size.height, size.width)] + 2 * [chroma_shape(size, self.probe.subsampling)]
        if len(frame.planes) < 3:  # grey
            grey = _no_colour(shapes[1], self.probe.bits)
            planes = Planes(_view(frame.planes[0], kind, shapes[0]), grey, grey)
        else:  # a fourth is alpha
            planes = Planes(*map(_view, frame.planes[:3], 3 * [kind], shapes))
        return planes, self.probe.coding, self.probe.subsampling

    def _rgb_rows(self, frame: av.VideoFrame) -> Callable[[int, int], Picture]:
        """Rows of R', G' and B', before they are converted, from one to another (exclusive)."""
        bits = self.probe.bits
        if frame.format.name in PACKED:
            packed, places = _packed_samples(frame), PACKED[frame.format.name][:3]

            def unpack_rows(top: int, bottom: int) -> Picture:
                codes = cv2.split(packed[top:bottom])
                return rgb_to_rows([codes[place] for place in places], bits)

            return unpack_rows
        via = RGB_VIA[bits]
        if frame.format.name not in (via, via.replace("gbrp", "gbrap")):  # a fourth is alpha
            frame = frame.reformat(format=via)
        shape = (frame.height, frame.width)
        kind = np.uint8 if bits == 8 else np.uint16
        green, blue, red = (_view(plane, kind, shape) for plane in frame.planes[:3])
        planes = (red, green, blue)
        return lambda top, bottom: rgb_to_rows([plane[top:bottom] for plane in planes], bits)

    def _rgb_picture(self, frame: av.VideoFrame) -> Picture:
        rows = self._rgb_rows(frame)
        picture = new_picture(Size(frame.width, frame.height))

        def take(top: int, bottom: int) -> None:
            picture[:, top:bottom] = rows(top, bottom)

        parallel.for_each_band(frame.height, take, parallel.band_rows(frame.width))
        return picture

    def video_frame(self, frame: int) -> av.VideoFrame:
        """Frame `frame` as the decoder gives it.

        Raises:
            IndexError: no such frame.
            MediaError: it can't be decoded.
        """
        if not 0 <= frame < self.frames:
            raise IndexError(
                f"frame {frame} is out of range; {self.path.name} has frames 0 to {self.frames - 1}"
            )
        source = int(self._shown[frame])
        with self._lock:
            if self.probe.fields == "progressive":
                return self._decoded_frame(source)
            found = self._deinterlaced.get(source)
            if found is None:
                found = self._deinterlaced[source] = self._deinterlace(source)
            return found

    def _deinterlace(self, source: int) -> av.VideoFrame:
        """A whole frame from its fields and those of the frames before and after it."""
        near = range(max(source - 1, 0), min(source + 2, self.index.frames))
        frames = [self._decoded_frame(n) for n in near]
        return deinterlace(frames, near.index(source), self.probe.fields)

    def _decoded_frame(self, frame: int) -> av.VideoFrame:
        found = self._recent.get(frame)
        return found if found is not None else self._decode(frame)

    def _decode(self, frame: int) -> av.VideoFrame:
        found = self._read_to(frame) if self._is_ahead(frame) else None
        for earlier in range(KEYS_TRIED):
            if found is None:
                self._seek(frame, earlier)
                found = self._read_to(frame)
        if found is None:
            self._reopen()
            found = self._read_to(frame)
        if found is None:
            raise MediaError(f"{self.path.name}: frame {frame} can't be decoded")
        return found

    def _is_ahead(self, frame: int) -> bool:
        if self._next < 0 or frame < self._next:
            return False
        if not self.index.timed or frame - self._next <= NEAR:
            return True
        return bool(self.index.key_for(frame) <= self.index.times[self._next])

    def _seek(self, frame: int, earlier: int) -> None:
        """Go to the key frame before `frame`.

        Frames shown before a key frame but stored after it (an open group of pictures) lean on
        frames from before it; they are asked for from the key frame before.
        """
        start = self.index.key_for(frame, earlier) if self.index.timed else 0
        self._next = -1
        self._decoded = iter(())
        try:
            self._container.seek(start, stream=self._stream, backward=True, any_frame=False)
        except av.error.FFmpegError:
            return  # it can't be sought there: the file is read from its beginning in the end
        self._decoded = self._numbered_frames() if self.index.timed else self._counted_frames()

    def _reopen(self) -> None:
        """Begin at the file's first byte: some containers can't be sought to their start."""
        self._container.close()
        self._container = open_container(self.path)
        self._stream = picture_stream(self._container, self.path)
        self._next = -1
        self._decoded = self._numbered_frames() if self.index.timed else self._counted_frames()

    def _numbered_frames(self) -> Iterator[tuple[int, av.VideoFrame]]:
        for frame in decoded_frames(self._container, self._stream):
            number = None if frame.pts is None else self._number.get(frame.pts)
            if number is not None:
                yield number, frame

    def _counted_frames(self) -> Iterator[tuple[int, av.VideoFrame]]:
        return enumerate(decoded_frames(self._container, self._stream))

    def _read_to(self, frame: int) -> av.VideoFrame | None:
        """Decode on to `frame`; None when it is not ahead after all."""
        try:
            for number, decoded in self._decoded:
                self._next = number + 1
                if number > frame:
                    return None
                self._recent[number] = decoded
                if number == frame:
                    return decoded
        except av.error.FFmpegError:
            pass
        self._next = -1
        return None


_SWS_SPACE: dict[str, str | int] = {"bt601": "ITU601", "bt709": "ITU709", "bt2020": 9}
"""libswscale's name of each matrix, for formats that go through it."""


def _view(plane: av.video.plane.VideoPlane, kind: type, shape: tuple[int, int]) -> Codes:
    """The samples of a plane, shape `(lines, columns)`, in the decoder's own memory."""
    lines, columns = shape
    item = np.dtype(kind).itemsize
    flat: Codes = np.frombuffer(plane, kind)  # type: ignore[call-overload]  # it has a buffer
    return flat[: lines * plane.line_size // item].reshape(lines, -1)[:, :columns]


def _packed_samples(frame: av.VideoFrame) -> Codes:
    """The samples of a frame of four bytes a pixel, shape `(lines, columns, 4)`."""
    shape = (frame.height, 4 * frame.width)
    return _view(frame.planes[0], np.uint8, shape).reshape(frame.height, frame.width, 4)


def _alpha_codes(frame: av.VideoFrame) -> tuple[Codes, int]:
    """The codes of a frame's alpha, and that of what hides all."""
    name = frame.format.name
    if name in PACKED:
        return cv2.extractChannel(_packed_samples(frame), PACKED[name][3]), 255
    bits = max(part.bits for part in frame.format.components if part.is_alpha)
    if not name.startswith(ALPHA_APART) or name.endswith(("be", "f16le", "f32le")):
        bits = 8 if bits <= 8 else 16
        frame = frame.reformat(format="gbrap" if bits == 8 else "gbrap16le")
    kind = np.uint8 if bits == 8 else np.uint16
    return _view(frame.planes[3], kind, (frame.height, frame.width)), 2**bits - 1


@cache
def _no_colour(shape: tuple[int, int], bits: int) -> Codes:
    """A chroma plane of grey footage."""
    return np.full(shape, 1 << (bits - 1), np.uint8 if bits == 8 else np.uint16)
