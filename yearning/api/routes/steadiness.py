"""Steadiness and flashes of a look on a clip."""

from fastapi import APIRouter

from yearning.analysis.analyzer import AnalysisStatus
from yearning.api.addresses import V1
from yearning.api.dependencies import Analysis, CurrentProject, Preview
from yearning.api.problem_kinds import OUT_OF_RANGE
from yearning.api.problems import OF_CLIP, Refused
from yearning.api.schemas.pictures import FrameRequest
from yearning.api.schemas.steadiness import (
    ExaminationRequest,
    SteadinessOut,
    SteadinessRequest,
    SteadyFrameOut,
)
from yearning.core.look.document import parse_look
from yearning.core.measure.steadiness import SteadinessAnalysis

router = APIRouter(prefix=V1, tags=["steadiness"])


def _steadiness_out(status: AnalysisStatus) -> SteadinessOut:
    return SteadinessOut(**vars(status))


@router.post("/analyses", responses=OF_CLIP)
def request_analysis(
    project: CurrentProject, analyzer: Analysis, ask: ExaminationRequest
) -> SteadinessOut:
    """How steady a look is on a clip, and whether it flashes; ask again until it is done."""
    clip, look = project.clips.get(ask.clip), parse_look(ask.look, keep_absent=True)
    return _steadiness_out(analyzer.request(clip, look, again=ask.again))


@router.post("/analyses/stop", status_code=204)
def stop_analysis(analyzer: Analysis) -> None:
    """Give up going through the clip; what was seen of it is not kept."""
    analyzer.stop()


@router.post("/analyses/known", responses=OF_CLIP)
def read_analysis(
    project: CurrentProject, analyzer: Analysis, ask: SteadinessRequest
) -> SteadinessOut:
    """What is known of it, without beginning anything."""
    return _steadiness_out(
        analyzer.status_of(project.clips.get(ask.clip), parse_look(ask.look, keep_absent=True))
    )


@router.post("/frame-changes", responses=OF_CLIP)
def measure_frame_change(preview: Preview, ask: FrameRequest) -> SteadyFrameOut:
    """The change of one frame alone: to see at once what a changed setting would mend."""
    clip, look = preview.project.clips.get(ask.clip), parse_look(ask.look, keep_absent=True)
    footage = preview.footage(clip)
    if not 0 <= ask.frame < footage.frames:
        raise Refused(OUT_OF_RANGE, f"the clip has frames 0 to {footage.frames - 1}")
    with preview.computing:
        rate = float(footage.probe.rate)
        change = SteadinessAnalysis(look, footage, rate, assets=preview.assets).at(ask.frame)
    return SteadyFrameOut(
        change_footage=change.change_footage, added_steady=change.added_steady, jump=change.jump
    )
