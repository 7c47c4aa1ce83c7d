"""Amounts with which a step does alike on several clips."""

from collections.abc import Iterator
from typing import Any

from fastapi import APIRouter
from fastapi.responses import StreamingResponse

from yearning.api.addresses import V1
from yearning.api.dependencies import Preview
from yearning.api.problems import OF_CLIP
from yearning.api.routes.measure import LINES_MEDIA_TYPE
from yearning.api.schemas.even_amounts import (
    ClipAmount,
    EvenAmounts,
    EvenAmountsProgress,
    EvenAmountsRequest,
)
from yearning.core.cache import Cache
from yearning.core.errors import InvalidLookError
from yearning.core.look.document import parse_look
from yearning.core.measure.effects import CACHE_BYTES, EffectMeter, even_amount
from yearning.media.errors import MediaError

router = APIRouter(prefix=V1, tags=["readings"], responses=OF_CLIP)


@router.post(
    "/even-amounts",
    response_class=StreamingResponse,
    responses={200: {"content": {LINES_MEDIA_TYPE: {}}, "model": EvenAmountsProgress}},
)
def find_even_amounts(preview: Preview, ask: EvenAmountsRequest) -> StreamingResponse:
    """Amounts with which a step does alike on clips, from frames spread over each; a line each."""
    meters = []
    cache = Cache[Any](CACHE_BYTES)
    for each in ask.clips:
        footage = preview.footage(preview.project.clips.get(each.clip))
        meter = EffectMeter(
            parse_look(each.look, keep_absent=True), ask.step, footage, preview.assets, cache
        )
        meters.append(((footage.id, *meter.cache_key), meter))
    total = sum(len(meter.frames) for _, meter in meters)

    def line(done: int, **more: Any) -> str:
        progress = EvenAmountsProgress(done=done, total=total, **more)
        return progress.model_dump_json(exclude_none=not more.get("amounts")) + "\n"

    def lines() -> Iterator[str]:
        effects: list[float] = []
        before = 0
        for key, meter in meters:
            kept = preview.effects.get(key)
            if kept is None:
                measured = meter.run()
                for done in range(len(meter.frames)):
                    yield line(before + done)
                    try:
                        with preview.computing:
                            next(measured)
                    except (MediaError, InvalidLookError) as error:
                        yield line(before + done, error=str(error))
                        return
                kept = preview.effects.put(key, meter.effect())
            effects.append(kept)
            before += len(meter.frames)
        yield line(total, amounts=_find_even_amounts(ask, meters[0][1], effects))

    return StreamingResponse(lines(), media_type=LINES_MEDIA_TYPE)


def _find_even_amounts(
    ask: EvenAmountsRequest, meter: EffectMeter, effects: list[float]
) -> EvenAmounts:
    wanted = ask.amount * effects[0]
    clips = []
    for each, effect in zip(ask.clips, effects, strict=True):
        found = even_amount(wanted, effect)
        amount = None if found is None else round(found.amount, 4)
        reached = 0.0 if found is None else found.reached
        clips.append(ClipAmount(clip=each.clip, amount=amount, reached=reached))
    return EvenAmounts(effect=meter.kind, wanted=wanted, clips=clips)
