"""The catalogue of treatments: every module in this package defines one."""

import importlib
import pkgutil

from yearning.core.treatment.base import AnyTreatment, Treatment


def _found() -> dict[str, type[AnyTreatment]]:
    treatments: dict[str, type[AnyTreatment]] = {}
    for info in pkgutil.iter_modules(__path__):
        module = importlib.import_module(f"{__name__}.{info.name}")
        for value in vars(module).values():
            is_treatment = isinstance(value, type) and issubclass(value, Treatment)
            if is_treatment and value.__module__ == module.__name__ and "kind" in vars(value):
                treatments[value.kind] = value
    return dict(sorted(treatments.items()))


TREATMENTS: dict[str, type[AnyTreatment]] = _found()
"""Every treatment, by its kind."""
