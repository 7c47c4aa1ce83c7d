"""Settings from a whole clip: measured with progress, and kept."""

from collections.abc import Iterator
from dataclasses import replace

from fastapi import APIRouter
from fastapi.responses import StreamingResponse

from yearning.api.addresses import V1
from yearning.api.dependencies import CurrentProject, Preview
from yearning.api.preview import number_after
from yearning.api.problems import OF_CLIP
from yearning.api.schemas.measure import Measured, MeasureRequest
from yearning.core.cache import Cache
from yearning.core.engine.sampling import sampled_pictures
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look
from yearning.core.treatment.capabilities import FitsClip
from yearning.core.treatment.clip_tones import ClipCounts, ClipTones, sample_frames
from yearning.core.treatments import TREATMENTS
from yearning.media.decode.clip import open_clip
from yearning.media.decode.deflickered import Deflickered, measure_light
from yearning.media.decode.input_overrides import InputOverrides
from yearning.media.decode.retimed import Retimed
from yearning.media.errors import MediaError

LINES = 270
LINES_MEDIA_TYPE = "application/x-ndjson"
FRAMES_BETWEEN_LINES = 8

router = APIRouter(prefix=V1, tags=["readings"], responses=OF_CLIP)


def _line(measured: Measured) -> str:
    return measured.model_dump_json(exclude_none=True) + "\n"


@router.post(
    "/fits",
    response_class=StreamingResponse,
    responses={200: {"content": {LINES_MEDIA_TYPE: {}}, "model": Measured}},
)
def fit_treatment(preview: Preview, ask: MeasureRequest) -> StreamingResponse:
    """Settings that suit the clip, from frames spread over it; a `Measured` a line."""
    treatment = TREATMENTS.get(ask.treatment)
    if treatment is None or not issubclass(treatment, FitsClip):
        raise InvalidLookError(f"{ask.treatment}: can't be set from a clip")
    fit = treatment.fit_to_clip
    footage = preview.footage(preview.project.clips.get(ask.clip))
    look = parse_look(ask.look, keep_absent=True)
    evaluator = preview.evaluator(look, footage, LINES).with_cache(Cache(0))
    number = number_after(evaluator, ask.after)
    frames = sample_frames(footage.frames)
    key = footage.id, evaluator.content_key(number)
    kept = preview.clip_tones.get(key)

    def line(done: int, tones: ClipTones | None = None, error: str | None = None) -> str:
        settings = None if tones is None else fit(tones)
        return _line(Measured(done=done, total=len(frames), settings=settings, error=error))

    def lines() -> Iterator[str]:
        if kept is not None:
            yield line(len(frames), kept)
            return
        counts = ClipCounts()
        try:
            pictures = sampled_pictures(evaluator, number)
            for done in range(len(frames)):
                yield line(done)
                with preview.computing:
                    counts.add(next(pictures))
        except MediaError as error:
            yield line(done, error=str(error))
            return
        yield line(len(frames), preview.clip_tones.put(key, counts.tones()))

    return StreamingResponse(lines(), media_type=LINES_MEDIA_TYPE)


@router.post(
    "/clips/{clip_id}/light",
    response_class=StreamingResponse,
    responses={200: {"content": {LINES_MEDIA_TYPE: {}}, "model": Measured}},
)
def measure_clip_light(project: CurrentProject, clip_id: int) -> StreamingResponse:
    """Measure a clip's light, so that its exposure can be evened at once; a `Measured` a line."""
    clip = project.clips.get(clip_id)
    project.clips.check(clip)
    reading = replace(InputOverrides.of(clip.reading).as_shot, deflicker=None)
    footage = open_clip(clip.path, reading, clip.digest)
    assert not isinstance(footage, Deflickered | Retimed)

    def line(done: int, error: str | None = None) -> str:
        return _line(Measured(done=done, total=footage.frames, error=error))

    def lines() -> Iterator[str]:
        with footage:
            yield line(0)
            try:
                for done in measure_light(footage):
                    if done % FRAMES_BETWEEN_LINES == 0:
                        yield line(done)
            except (MediaError, OSError) as error:
                yield line(0, error=str(error))
                return
            yield line(footage.frames)

    return StreamingResponse(lines(), media_type=LINES_MEDIA_TYPE)
