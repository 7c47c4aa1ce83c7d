"""The command line."""

import gc

gc.disable()  # what is imported stays: looking through it again and again takes half a second

import sys  # noqa: E402
from typing import NoReturn  # noqa: E402

import typer  # noqa: E402

from yearning.cli import (  # noqa: E402
    catalogue,
    matching,
    matting,
    measuring,
    pictures,
    proofing,
    reels,
    rendering,
    serving,
    tracking,
)
from yearning.cli.options import app  # noqa: E402
from yearning.core.errors import YearningError  # noqa: E402
from yearning.farm.errors import Halted  # noqa: E402

gc.freeze()
gc.enable()

__all__ = [
    "app",
    "catalogue",
    "main",
    "matching",
    "matting",
    "measuring",
    "pictures",
    "proofing",
    "reels",
    "rendering",
    "serving",
    "tracking",
]

UsageError: type[Exception] = typer.BadParameter.__bases__[0]
"""What typer raises for words it does not understand; it carries a click of its own."""


def _fail(message: str) -> NoReturn:
    print(f"yearning: {message}".replace("\n", " "), file=sys.stderr)
    raise SystemExit(2)


INTERRUPTED = 130
"""What typer makes of an interrupt: 128 and the signal's number, as shells do."""


def main(arguments: list[str] | None = None) -> None:
    """Run a command; a request that can't be met ends with 2 and one line that says why."""
    try:
        if app(arguments, standalone_mode=False) == INTERRUPTED:
            raise Halted
    except UsageError as error:
        _fail(f"{str(error).rstrip('.')}; see yearning --help")
    except typer.Exit as done:
        raise SystemExit(done.exit_code) from None
    except (Halted, typer.Abort):
        _fail("stopped; a render goes on from what is done when the same is asked again")
    except (YearningError, IndexError) as error:
        _fail(str(error))
    except OSError as error:
        where = f"{error.filename}: " if error.filename else ""
        _fail(f"{where}{error.strerror or error}")
