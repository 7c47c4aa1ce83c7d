"""Things kept beside a look: each with an id of its own, in the order they were kept in."""

from typing import Any

from yearning.core.errors import InvalidLookError
from yearning.store.project import Project


class KeptList:
    """A list in a setting of the project.

    Args:
        project: where it is kept.
        kind: what they are, in the plural: `snapshots`.
        look_id: the look that they belong to.
        maximum: how many there may be.

    Raises:
        NotThere: there is no such look.
    """

    def __init__(self, project: Project, kind: str, look_id: int, maximum: int) -> None:
        project.looks.get(look_id)
        self._project = project
        self._kind = kind
        self._name = f"{kind} of {look_id}"
        self._maximum = maximum

    def all(self) -> list[dict[str, Any]]:
        """What is kept."""
        kept: list[dict[str, Any]] = self._project.setting(self._name).get("kept", [])
        return kept

    def keep(self, one: dict[str, Any]) -> None:
        """Keep one more, in the place of what had its id.

        Raises:
            InvalidLookError: there are as many as there may be.
        """
        with self._project.changing_setting(self._name) as value:
            others = [each for each in value.get("kept", []) if each["id"] != one["id"]]
            if len(others) >= self._maximum:
                raise InvalidLookError(
                    f"a look keeps at most {self._maximum} {self._kind}; let one go first"
                )
            value["kept"] = [*others, one]

    def remove(self, id: str) -> None:
        """Let one go; the others stay."""
        with self._project.changing_setting(self._name) as value:
            value["kept"] = [each for each in value.get("kept", []) if each["id"] != id]
