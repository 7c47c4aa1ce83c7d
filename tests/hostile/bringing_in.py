"""Files that mean no good, brought into a server as a page would: `python -m
tests.hostile.bringing_in [COUNT]`.

Each is sent where its kind belongs; what is taken is looked at, listened to and rendered. The
server may refuse it in words, and must be there afterwards, in time and within its memory.
"""

import json
import sys
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path
from typing import Any, Self
from urllib.parse import quote

import httpx

from tests.conftest import encode
from tests.hostile.files import Hostile, hostile_files
from tests.ui.serving import start_server
from tests.waiting import wait_for
from yearning.media.decode.probe import SOUND_SUFFIXES

SECONDS = 60.0
"""For an answer; what is sent is tried for as long in a process of its own."""

CACHE_MB = 200
MOST_WAITED = 2.0
"""Seconds that another request waits; `make test` does not ask, as it shares the machine."""

MOST_MB = 3000
"""Of the server at any moment: a picture of 64 million pixels is 800 MB as it is worked on."""

STEPS = [{"id": kind, "treatment": kind} for kind in ("glow", "halftone", "grain")]
LOOK: dict[str, Any] = {"format": "yearning-look/3", "name": "Test", "steps": STEPS}

STILLS = (".png", ".tif", ".jpg", ".exr")

UNENDED = ("waiting", "running", "paused")


class Broke(AssertionError):
    """A server that failed at a file."""


class Page:
    """What a page asks of a server, for files one after the other."""

    def __init__(self, address: str, folder: Path) -> None:
        self._client = httpx.Client(base_url=address, timeout=SECONDS + 15)
        sound = encode(folder / "sound.mp4", "libx264", frames=4)
        self._clip = self._post("/api/v1/clips?name=sound.mp4", sound.read_bytes()).json()["id"]

    def bring_in(self, file: Hostile) -> str:
        """Bring a file in, and use it; in a word, what came of it."""
        name = quote(file.name, safe="")
        if file.name.endswith(".look.json"):
            return self._use_look(file.data)
        if file.name.endswith(".track.json"):
            return self._verdict(self._post(f"/api/v1/tracks?name={name}", file.data))
        if file.name.endswith(".fitting.json"):
            kept = self._post("/api/v1/looks", json.dumps(LOOK).encode()).json()["id"]
            where = f"/api/v1/looks/{kept}/fittings/check"
            return self._verdict(self._post(where, file.data, "application/json"))
        if file.name.endswith((".otio", ".edl")):
            return self._use_timeline(file)
        if file.name.endswith(".cdl"):
            return self._verdict(self._post(f"/api/v1/grades?name={name}", file.data))
        if file.name.endswith((".cube", ".clf")):
            made = self._post(f"/api/v1/tables?name={name}", file.data)
            if made.status_code == 201:
                step = {"treatment": "table", "settings": {"file": made.json()["file"]}}
                self._picture(self._clip, LOOK | {"steps": [{"id": "t", **step}]})
            return self._verdict(made)
        if file.name.endswith(STILLS) and "%" not in file.name:
            made = self._post(f"/api/v1/plates?name={name}", file.data)
            if made.status_code == 201:
                used = made.json()["file"]
                self._ask("GET", f"/api/v1/plates/{quote(used)}/strip?count=4")
                step = {"treatment": "plate", "settings": {"file": used}}
                self._picture(self._clip, LOOK | {"steps": [{"id": "p", **step}]})
            return self._verdict(made)
        if file.name.endswith(SOUND_SUFFIXES):
            made = self._post(f"/api/v1/sounds?name={name}", file.data)
            if made.status_code == 201:
                self._ask("GET", f"/api/v1/sounds/{quote(made.json()['file'])}/play")
        made = self._post(f"/api/v1/clips?name={name}", file.data)
        if made.status_code == 201:
            self._use_clip(made.json())
        return self._verdict(made)

    def _use_clip(self, clip: dict[str, Any]) -> None:
        number, last = clip["id"], clip["frames"] - 1
        self._ask("GET", f"/api/v1/clips/{number}/filmstrip?count=4")
        for frame in {0, last}:
            self._picture(number, LOOK, frame)
        self._ask("GET", f"/api/v1/clips/{number}/sound")
        if max(clip["width"], clip["height"]) > 4096:
            return
        result = {"result": {"last": min(2, last)}}
        made = self._ask("POST", "/api/v1/renders", {"clip": number, "look": LOOK, **result})
        if made.status_code != 201:
            return
        ends = time.monotonic() + SECONDS
        where = f"/api/v1/renders/{made.json()['id']}"

        def has_ended() -> bool:
            if time.monotonic() > ends:
                raise Broke(f"a render of three frames takes more than {SECONDS} s")
            return self._ask("GET", where).json()["state"] not in UNENDED

        wait_for(has_ended)

    def _use_timeline(self, file: Hostile) -> str:
        made = self._post(f"/api/v1/reels/timelines?name={quote(file.name)}", file.data)
        if made.status_code == 201:
            reel = f"/api/v1/reels/{made.json()['id']}"
            for ending in ("otio", "edl"):
                self._ask("GET", f"{reel}/timeline?ending=.{ending}")
            self._ask("DELETE", reel)
        return self._verdict(made)

    def _use_look(self, data: bytes) -> str:
        self._post("/api/v1/looks/check", data, "application/json")
        made = self._post("/api/v1/looks", data, "application/json")
        if made.status_code == 201:
            self._picture(self._clip, made.json()["look"])
            self._ask("GET", f"/api/v1/looks/{made.json()['id']}/table/error")
        return self._verdict(made)

    def _picture(self, clip: int, look: dict[str, Any], frame: int = 0) -> None:
        ask = {"clip": clip, "look": look, "frame": frame, "height": 64}
        self._ask("POST", "/api/v1/pictures", ask)

    def _post(self, path: str, data: bytes, kind: str = "application/octet-stream") -> Any:
        return self._send("POST", path, data, {"Content-Type": kind})

    def _ask(self, method: str, path: str, body: Any = None) -> Any:
        data = b"" if body is None else json.dumps(body).encode()
        return self._send(method, path, data, {"Content-Type": "application/json"})

    def _send(self, method: str, path: str, data: bytes, headers: dict[str, str]) -> Any:
        try:
            answer = self._client.request(method, path, content=data, headers=headers)
        except httpx.HTTPError as error:
            raise Broke(f"{method} {path[:80]}: {type(error).__name__} {error}") from None
        if answer.status_code >= 500:
            raise Broke(f"{method} {path[:80]}: {answer.status_code} {answer.text[:200]}")
        return answer

    @staticmethod
    def _verdict(answer: Any) -> str:
        return "taken" if answer.status_code < 300 else "refused"


def memory_mb(pid: int, what: str) -> float:
    """Memory of a process: `VmRSS` now, `VmHWM` at the most since `forget_peak`."""
    status = Path(f"/proc/{pid}/status").read_text()
    return int(status.partition(f"{what}:")[2].split()[0]) / 1024


def forget_peak(pid: int) -> None:
    """Begin to measure a process's peak anew (proc(5), clear_refs)."""
    Path(f"/proc/{pid}/clear_refs").write_text("5")


def try_files(files: list[Hostile], folder: Path) -> Iterator[tuple[Hostile, str, float, float]]:
    """Each file, what came of it, the server's peak in MB meanwhile, and how many seconds another
    request waited at the most.

    Raises:
        Broke: the server failed, ended, took too long or too much memory; it names the file.
    """
    process, address = start_server(folder / "work", "--cache", str(CACHE_MB))
    try:
        page = Page(address, folder)
        for number, file in enumerate(files):
            forget_peak(process.pid)
            try:
                with Waiting(address) as waiting:
                    said = page.bring_in(file)
            except Broke as error:
                kept = Path(tempfile.gettempdir()) / f"hostile-{number}"
                kept.write_bytes(file.data)
                raise Broke(f"{number} {file.name} ({kept}): {error}") from None
            peak = memory_mb(process.pid, "VmHWM")
            if peak > MOST_MB:
                raise Broke(f"{number} {file.name}: the server took {peak:.0f} MB")
            yield file, said, peak, waiting.longest
        escaped = [path for path in folder.parent.rglob("up.0001.png") if path.is_file()]
        if escaped or Path("/tmp/root.0001.png").exists():
            raise Broke("a name led out of the project")
    finally:
        process.terminate()
        process.wait(timeout=60)


class Waiting:
    """How long another request waits, asked over and over meanwhile; a context manager."""

    def __init__(self, address: str) -> None:
        self._address = address
        self._over = threading.Event()
        self._thread = threading.Thread(target=self._ask)
        self.longest = 0.0
        """In seconds."""

    def __enter__(self) -> Self:
        self._thread.start()
        return self

    def __exit__(self, *reason: object) -> None:
        self._over.set()
        self._thread.join()

    def _ask(self) -> None:
        with httpx.Client(base_url=self._address, timeout=SECONDS) as client:
            while not self._over.wait(0.02):
                began = time.monotonic()
                with suppress(httpx.HTTPError):  # whether it is there still is asked elsewhere
                    client.get("/api/v1/clips")
                self.longest = max(self.longest, time.monotonic() - began)


def main(wanted: int) -> int:
    """Try so many; 0 where the server stood all of them."""
    words, most, longest = Counter[str](), 0.0, (0.0, "")
    with tempfile.TemporaryDirectory() as place:
        folder = Path(place) / "within"
        folder.mkdir()
        (folder / "made").mkdir()
        files = hostile_files(folder / "made", wanted)
        begun = time.monotonic()
        for number, (file, said, peak, waited) in enumerate(try_files(files, folder)):
            words[said] += 1
            most, longest = max(most, peak), max(longest, (waited, file.name))
            tail = f"{peak:6.0f} MB, others waited {waited:.2f} s"
            print(f"{number:4} {file.name[:40]:40} {said:10} {tail}", flush=True)
    print(f"{len(files)} files in {time.monotonic() - begun:.0f} s, at the most {most:.0f} MB;")
    print(f"others waited {longest[0]:.2f} s at the most, at {longest[1]}:")
    for said, times in words.most_common():
        print(f"{times:5} {said}")
    return int(longest[0] > MOST_WAITED)


if __name__ == "__main__":
    try:
        sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 500))
    except Broke as error:
        sys.exit(str(error))
