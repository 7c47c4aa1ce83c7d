"""The catalogue of treatments: every module in this package defines one, others' packages more."""

import importlib
import pkgutil
import re
from collections.abc import Iterator
from importlib.metadata import EntryPoint, entry_points

from yearning.core.treatment.base import AnyTreatment, Treatment

GROUP = "yearning.treatments"
"""The group of entry points by which packages of others name their treatments' classes."""

NAME = re.compile(r"[a-z][a-z0-9_-]{0,39}\.[a-z][a-z0-9_]{0,39}")
"""A treatment of another package in files: the package's name, a full stop, the entry point's."""

LEFT_OUT: dict[str, str] = {}
"""By their names in files, why treatments of other packages could not be taken."""


def _find_treatments() -> dict[str, type[AnyTreatment]]:
    treatments: dict[str, type[AnyTreatment]] = {}
    for info in pkgutil.iter_modules(__path__):
        module = importlib.import_module(f"{__name__}.{info.name}")
        for value in vars(module).values():
            is_treatment = isinstance(value, type) and issubclass(value, Treatment)
            if is_treatment and value.__module__ == module.__name__ and "kind" in vars(value):
                treatments[value.kind] = value
    return dict(sorted(treatments.items())) | dict(_of_others())


def _of_others() -> Iterator[tuple[str, type[AnyTreatment]]]:
    """Treatments of other packages that are installed; what can't be taken is left out."""
    for point in sorted(entry_points(group=GROUP)):
        package = point.dist.name.lower() if point.dist else "unknown"
        name = f"{package}.{point.name}"
        try:
            yield name, _load_treatment(point, name)
        except Exception as error:  # whatever somebody else's code may raise
            LEFT_OUT[name] = f"{type(error).__name__}: {error}".replace("\n", " ")


def _load_treatment(point: EntryPoint, name: str) -> type[AnyTreatment]:
    """The class that an entry point names, under its name in files."""
    if not NAME.fullmatch(name):
        raise ValueError(f"its name has to be like {NAME.pattern}")
    found = point.load()
    if not (isinstance(found, type) and issubclass(found, Treatment)):
        raise TypeError(f"{point.value} is no treatment")
    for said in ("stage", "summary"):
        if not isinstance(getattr(found, said, None), str):
            raise TypeError(f"{found.__name__} does not say its {said}")
    found.kind = name
    found()  # all of its settings have a default
    return found


def is_foreign(kind: str) -> bool:
    """Whether a treatment is of another package, by its name in files."""
    return "." in kind


TREATMENTS: dict[str, type[AnyTreatment]] = _find_treatments()
"""Every treatment, by its kind."""
