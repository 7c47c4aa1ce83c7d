"""The catalogue: every module here is one treatment."""

import importlib
import pkgutil

from yearning.core.treatment.base import Treatment


def _found() -> dict[str, type[Treatment]]:
    for module in pkgutil.iter_modules(__path__):
        importlib.import_module(f"{__name__}.{module.name}")
    classes = sorted(Treatment.__subclasses__(), key=lambda treatment: treatment.kind)
    return {treatment.kind: treatment for treatment in classes}


TREATMENTS: dict[str, type[Treatment]] = _found()
"""Every treatment by its kind."""
