"""Find functions named by one participle, adverb or preposition: `python -m tests.plain_names`.

Such a name says neither what is returned (a noun: `flow_between`) nor what is done (a verb and its
object: `compose_flows`). It ends with 1 where there is one.
"""

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

FOLDERS = ("yearning", "benchmarks")

IRREGULAR = (
    "begun bent born bound bought broken brought built burnt caught chosen come dealt done"
    " drawn driven fallen felt flown forgotten found frozen given gone ground grown held heard"
    " hidden hung kept known laid led left lent lit lost made meant met paid put ridden risen"
    " said seen sent shaken shown shut sought spent split sprung stood stuck sunk swept swung"
    " taken taught thrown told torn unsaid upset withdrawn won worn woven wound written"
)
"""Past participles that do not end in -ed."""

SMALL = (
    "about above across after ahead alike alone along among anew apart around aside away back"
    " before behind below beside between beyond by down even forth forward forwards from further"
    " in inside into near next off on once onward out outside over past round since so some"
    " still straight through throughout to together toward under until unto up upon via while"
    " with within without why whose"
)
"""Adverbs, prepositions and the like."""

VERBS = frozenset({"put", "split", "seed", "need", "feed", "speed", "bleed"})
"""What is a verb or a noun too."""


def is_bare(name: str) -> bool:
    """Whether a name is one participle, adverb or preposition."""
    word = name.strip("_")
    if "_" in word or word in VERBS:
        return False
    return word in f"{IRREGULAR} {SMALL}".split() or re.fullmatch(r"[a-z]{2,}ed", word) is not None


def bare_names(path: Path) -> Iterator[tuple[int, str]]:
    """The lines and names of a file's functions that are named so."""
    for node in ast.walk(ast.parse(path.read_text())):
        is_function = isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef)
        if is_function and is_bare(node.name):
            yield node.lineno, node.name


def main() -> int:
    """Print each of them; 0 where there is none."""
    found = [
        f"{path}:{line}: {name} says neither what it returns nor what it does"
        for folder in FOLDERS
        for path in sorted(Path(folder).rglob("*.py"))
        for line, name in bare_names(path)
    ]
    for each in found:
        print(each)
    return int(bool(found))


if __name__ == "__main__":
    sys.exit(main())
