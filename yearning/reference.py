"""The page of the library's names, made from their docstrings."""

import inspect
import re
import textwrap
from collections.abc import Iterator

import yearning
from yearning.core.treatment.base import Treatment

SECTIONS = re.compile(r"^(Args|Returns|Yields|Raises|Source):", re.MULTILINE)

ENTRY = re.compile(r"^(\*{0,2}\w[\w, ]*): ", re.MULTILINE)
"""Where an argument or an error begins in its section."""

KINDS = {
    "Looks": ("Look", "read_look", "write_look", "starter", "starter_names"),
    "Fittings": ("ClipOverrides", "read_fitting"),
    "Steps": ("Step", "Mix", "Key", "Burst", "Bundle"),
    "Clips": ("open_clip", "InputOverrides", "ArrayClip"),
    "Pictures": ("Picture", "save"),
    "Proof sheets": ("Shot", "proof_sheet"),
    "Colours like another picture's": ("match", "Match"),
    "Renders": ("render", "Progress"),
    "Reels": (
        *("Reel", "read_reel", "write_reel", "render_reel", "RenderedReel", "reel_flashes"),
        "reel_steadiness",
        *("shot_boundaries", "cut_clip"),
    ),
    "What is measured": ("steadiness", "flashes", "measure_grain", "bake"),
}
"""Names by heading, in their order; errors and treatments come after them."""


def reference() -> str:
    """The page, in Markdown."""
    public = {name: getattr(yearning, name) for name in yearning.__all__ if name[0] != "_"}
    treatments = [n for n, v in public.items() if isinstance(v, type) and issubclass(v, Treatment)]
    errors = [n for n, v in public.items() if isinstance(v, type) and issubclass(v, Exception)]
    kinds = KINDS | {"Errors": tuple(errors)}
    said = [
        "# The library",
        "",
        "Made from the docstrings by `make schemas`; [the guide](library.md) shows how it is used. "
        "All names are in `yearning`; what is not listed here may change.",
    ]
    for heading, names in kinds.items():
        said += ["", f"## {heading}"]
        for name in names:
            said += ["", f"### {name}", *_describe(name, public.pop(name))]
    said += ["", "## Treatments", ""]
    said.append("Classes with the settings that [every treatment](treatments.md) has.")
    for name in treatments:
        said.append(f"- `{name}`: {public.pop(name).summary}")
    assert not public, f"no heading for {', '.join(public)}"
    return "\n".join(said) + "\n"


def _describe(name: str, thing: object) -> Iterator[str]:
    """A name's signature, docstring, and those of its methods."""
    if not (isinstance(thing, type) and issubclass(thing, Exception)):
        yield from _signature(name, thing)
    yield ""
    yield _as_markdown(inspect.getdoc(thing) or "")
    if isinstance(thing, type) and thing.__module__.startswith("yearning.library"):
        for method, value in vars(thing).items():
            of_class = isinstance(value, classmethod)
            function = value.__func__ if of_class else value
            if method[0] == "_" or not inspect.isfunction(function) or not function.__doc__:
                continue
            yield f"\n#### {name}.{method}"
            yield from _signature(method, function)
            yield ""
            yield _as_markdown(inspect.getdoc(function) or "")


def _signature(name: str, thing: object) -> Iterator[str]:
    """How it is called: names and plain defaults, one to a line where they are many."""
    found = inspect.signature(thing)  # type: ignore[arg-type]
    plain = [_plain(each) for each in found.parameters.values() if each.name not in ("self", "cls")]
    line = f"{name}{found.replace(parameters=plain, return_annotation=found.empty)}"
    line = line.replace("=Ellipsis", "=...").replace("'", '"')
    if len(line) > 90:
        words = line.removeprefix(f"{name}(").removesuffix(")").replace(", ", ",\n    ")
        line = f"{name}(\n    {words},\n)"
    yield f"```python\n{line}\n```"


def _plain(parameter: inspect.Parameter) -> inspect.Parameter:
    """A parameter without its type; a default that is no plain value is `...`."""
    default = parameter.default
    if default is not parameter.empty and not isinstance(default, str | int | float | None):
        default = default if default == () else ...
    return parameter.replace(annotation=parameter.empty, default=default)


def _as_markdown(doc: str) -> str:
    """A docstring as Markdown: sections as lists, examples as code."""
    text, _, example = doc.partition("\n>>> ")
    parts = SECTIONS.split(text)
    said = [parts[0].strip()]
    for title, body in zip(parts[1::2], parts[2::2], strict=True):
        inside = textwrap.dedent(body.strip("\n")) if body.startswith("\n") else body.strip()
        if title in ("Args", "Raises"):
            one_line = re.sub(r"\n\s+", " ", inside)
            inside = "\n" + ENTRY.sub(lambda found: f"- `{found.group(1)}`: ", one_line)
        said.append(f"**{title}:** {inside}".rstrip())
    if example:
        said.append(f"```python\n>>> {example}\n```")
    return "\n\n".join(said)
