"""A project that is open for looking: what would change it is refused."""

from starlette.requests import HTTPConnection

from yearning.api.problems import Refused

COMPUTES = frozenset(
    {
        "bursts",
        "check_look",
        "curve",
        "glimpse",
        "known_steadiness",
        "marks",
        "measure",
        "path_pictures",
        "picture",
        "read_grade",
        "readings",
        "steady_frame",
        "stop_finding",
        "stop_making",
        "stop_matte",
        "stop_steadiness",
        "used",
        "value",
        "values",
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
            403,
            "For looking only",
            f"{project.name} is open for looking; what you change is not kept",
        )
