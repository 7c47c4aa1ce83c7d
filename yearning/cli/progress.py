"""How far a command is: a bar on a terminal, now and then a line elsewhere."""

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from time import monotonic

from rich.console import Console
from rich.progress import BarColumn, TextColumn
from rich.progress import Progress as Bar

LINE_SECONDS = 10
"""Between lines where there is no terminal; what takes less says nothing."""


@contextmanager
def progress_of(what: str, total: int | None = None) -> Iterator[Callable[..., None]]:
    """Say on standard error how far some work on frames is.

    Args:
        what: the clip or the result it is about.
        total: its frames, where they are known from the start.

    Yields:
        Called with the frames that are done, and if wanted with `total` and `speed` in words.
    """
    console = Console(stderr=True)
    if console.is_terminal:
        columns = (
            TextColumn("{task.description}"),
            BarColumn(),
            TextColumn("{task.completed} of {task.total} frames  {task.fields[speed]}"),
        )
        with Bar(*columns, console=console) as bar:
            task = bar.add_task(what, total=total, speed="")

            def on_bar(done: int, total: int | None = total, speed: str = "") -> None:
                bar.update(task, completed=done, total=total, speed=speed)

            yield on_bar
        return
    said = monotonic()

    def on_line(done: int, total: int | None = total, speed: str = "") -> None:
        nonlocal said
        if monotonic() - said < LINE_SECONDS:
            return
        said = monotonic()
        console.print(f"{what}: {done} of {total} frames{speed and ', '}{speed}", markup=False)

    yield on_line
