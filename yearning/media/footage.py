"""Footage: any frame of a clip, exactly, in any order."""

import hashlib
import threading
from collections import OrderedDict
from collections.abc import Iterator
from pathlib import Path
from types import TracebackType

import av
import numpy as np
from av.video.stream import VideoStream

from yearning.core.colour.matrices import Coding
from yearning.core.picture import Picture, Size
from yearning.media.errors import MediaError
from yearning.media.planes import Codes, Planes, chroma_shape, picture_of
from yearning.media.probe import (
    PLANAR,
    VIA,
    FrameIndex,
    Probe,
    open_container,
    picture_stream,
    probed,
)

RECENT = 6
"""Decoded frames kept, so that a treatment that looks back does not make the decoder seek."""

KEYS_TRIED = 3
"""Key frames tried, each before the last, until one leads to the frame."""

NEAR = 12
"""Frames ahead that are decoded through rather than sought."""


def file_digest(path: Path) -> str:
    """SHA-256 of a file's bytes."""
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()


class Footage:
    """A clip, opened for frame-exact access; a context manager, safe between threads.

    Raises:
        MediaError: the file can't be used as a clip.
    """

    def __init__(self, path: Path, footage_id: str | None = None) -> None:
        self.path = path
        self.id = footage_id or str(path.resolve())
        self._container = open_container(path)
        try:
            self.probe: Probe
            self.index: FrameIndex
            self._stream: VideoStream
            self.probe, self.index, self._stream = probed(self._container, path)
        except BaseException:
            self._container.close()
            raise
        self._number = {int(time): n for n, time in enumerate(self.index.times)}
        self._lock = threading.Lock()
        self._recent: OrderedDict[int, av.VideoFrame] = OrderedDict()
        self._decoded: Iterator[tuple[int, av.VideoFrame]] = iter(())
        self._next = -1
        """The number of the frame the decoder gives next; −1 when it must seek first."""

    def __enter__(self) -> "Footage":
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self.close()

    def close(self) -> None:
        """Close the file."""
        with self._lock:
            self._recent.clear()
            self._decoded = iter(())
            self._container.close()

    @property
    def frames(self) -> int:
        """Number of frames, counted from 0."""
        return self.index.frames

    @property
    def size(self) -> Size:
        """The picture's size as shown."""
        return self.probe.size

    def picture(self, frame: int, size: Size | None = None) -> Picture:
        """Frame `frame` as R'G'B', averaged down to `size`.

        Raises:
            IndexError: no such frame.
            MediaError: it can't be decoded.
        """
        size = size or self.size
        turns = self.probe.rotation // 90
        coded = Size(size.height, size.width) if turns % 2 else size
        picture = picture_of(*self._codes(self.video_frame(frame)), coded)
        if turns:
            picture = np.ascontiguousarray(np.rot90(picture, turns, axes=(1, 2)))
        return picture

    def _codes(self, frame: av.VideoFrame) -> tuple[Planes, Coding, tuple[int, int]]:
        """The frame's planes, without copying, and how to read them."""
        if frame.format.name not in PLANAR:
            frame = frame.reformat(
                format=VIA, dst_colorspace=_SWS_SPACE[self.probe.matrix], dst_color_range="MPEG"
            )
        kind = np.uint8 if self.probe.bits == 8 else np.uint16
        size = Size(frame.width, frame.height)
        shapes = [(size.height, size.width)] + 2 * [chroma_shape(size, self.probe.subsampling)]
        planes = [
            _view(plane, kind, shape) for plane, shape in zip(frame.planes, shapes, strict=True)
        ]
        return Planes(*planes), self.probe.coding, self.probe.subsampling

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
        with self._lock:
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
        return self.index.key_for(frame) <= self.index.times[self._next]

    def _seek(self, frame: int, earlier: int) -> None:
        """Go to the key frame before `frame`.

        Frames shown before a key frame but stored after it (an open group of pictures) lean on
        frames from before it; they are asked for from the key frame before.
        """
        start = self.index.key_for(frame, earlier) if self.index.timed else 0
        self._container.seek(start, stream=self._stream, backward=True, any_frame=False)
        self._next = -1
        self._decoded = self._numbered() if self.index.timed else self._counted()

    def _reopen(self) -> None:
        """Begin at the file's first byte: some containers can't be sought to their start."""
        self._container.close()
        self._container = open_container(self.path)
        self._stream = picture_stream(self._container, self.path)
        self._stream.thread_type = "AUTO"
        self._next = -1
        self._decoded = self._numbered() if self.index.timed else self._counted()

    def _numbered(self) -> Iterator[tuple[int, av.VideoFrame]]:
        for frame in self._container.decode(self._stream):
            number = self._number.get(frame.pts)
            if number is not None:
                yield number, frame

    def _counted(self) -> Iterator[tuple[int, av.VideoFrame]]:
        return enumerate(self._container.decode(self._stream))

    def _read_to(self, frame: int) -> av.VideoFrame | None:
        """Decode on to `frame`; None when it is not ahead after all."""
        try:
            for number, decoded in self._decoded:
                self._next = number + 1
                if number > frame:
                    return None
                self._recent[number] = decoded
                self._recent.move_to_end(number)
                while len(self._recent) > RECENT:
                    self._recent.popitem(last=False)
                if number == frame:
                    return decoded
        except av.error.FFmpegError:
            pass
        self._next = -1
        return None


_SWS_SPACE = {"bt601": "ITU601", "bt709": "ITU709", "bt2020": 9}
"""libswscale's name of each matrix, for formats that go through it."""


def _view(plane: av.video.plane.VideoPlane, kind: type, shape: tuple[int, int]) -> Codes:
    """The samples of a plane, shape `(lines, columns)`, in the decoder's own memory."""
    lines, columns = shape
    item = np.dtype(kind).itemsize
    flat = np.frombuffer(plane, kind)
    return flat[: lines * plane.line_size // item].reshape(lines, -1)[:, :columns]
