"""A project that is open for looking: what would change it is refused."""

from starlette.requests import HTTPConnection

from yearning.api.problem_kinds import READ_ONLY
from yearning.api.problems import Refused

COMPUTES = frozenset(
    {
        "check_fitting",
        "check_look",
        "compute_frame_map",
        "compute_step_values",
        "find_even_amounts",
        "find_boundaries",
        "find_marks",
        "find_match",
        "fit_treatment",
        "make_bursts",
        "make_contact_sheet",
        "make_path_pictures",
        "make_picture",
        "measure_frame_change",
        "measure_held_light",
        "measure_plate_use",
        "measure_readings",
        "measure_reel",
        "preview_matte",
        "read_analysis",
        "read_grade",
        "sample_curve",
        "sample_picture",
        "stop_analysis",
        "stop_boundary_finding",
        "stop_matte_finding",
        "stop_plate_generation",
        "stop_reel_measuring",
        "stop_track_finding",
        "write_grade",
    }
)
"""Operations other than GET that leave the project as it is."""


def refuse_changes(connection: HTTPConnection) -> None:
    """Refuse what would change a project that is open for looking.

    Raises:
        Refused: it would.
    """
    scope = connection.scope
    if scope["type"] != "http" or scope["method"] in ("GET", "HEAD"):
        return
    project = getattr(connection.app.state, "project", None)
    if project is not None and project.read_only and scope["route"].name not in COMPUTES:
        raise Refused(
            READ_ONLY,
            f"{project.name} is open for looking; what you change is not kept",
        )
