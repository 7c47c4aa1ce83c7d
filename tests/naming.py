"""Find functions whose names or docstrings say too little: `python -m tests.naming`.

A name that is one participle, adverb or preposition says neither what is returned (a noun:
`flow_between`) nor what is done (a verb and its object: `compose_flows`). A public function with
two parameters or more says in `Args` what they are; of routes and commands, whose docstrings are
shown to users, their declarations do, and of tests their names. It ends with 1 where there is a
fault.
"""

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

FOLDERS = ("yearning", "benchmarks", "tests", "examples")

ROUTES = (Path("yearning/api/routes"), Path("yearning/cli"))

PAGE = Path("web/src")

PAGE_FUNCTION = re.compile(
    r"function\*? (\w+)|(?:const|let) (\w+) = (?:async )?(?:\([^)]*\)|\w+)(?::[^=]+)? =>"
)
"""A function of TypeScript: declared, or an arrow that has a name."""

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


def lacks_args(function: ast.FunctionDef | ast.AsyncFunctionDef) -> bool:
    """Whether a function's docstring leaves two parameters or more without a word."""
    arguments = function.args
    named = [*arguments.posonlyargs, *arguments.args, *arguments.kwonlyargs]
    count = sum(each.arg not in ("self", "cls") for each in named)
    text = ast.get_docstring(function)
    return count > 1 and text is not None and "Args:" not in text


def functions_of(node: ast.AST, is_public: bool = True) -> Iterator[tuple[ast.AST, bool]]:
    """A module's functions, and whether each is public: not private, nor within another."""
    for child in ast.iter_child_nodes(node):
        public = is_public
        if isinstance(child, ast.FunctionDef | ast.AsyncFunctionDef):
            yield child, is_public and not child.name.startswith("_")
            public = False
        yield from functions_of(child, public)


def faults(path: Path) -> Iterator[str]:
    """What is wrong with a file's functions, each with its place."""
    needs_args = not any(path.is_relative_to(folder) for folder in (*ROUTES, Path("tests")))
    for function, is_public in functions_of(ast.parse(path.read_text())):
        assert isinstance(function, ast.FunctionDef | ast.AsyncFunctionDef)
        place = f"{path}:{function.lineno}: {function.name}"
        if is_bare(function.name):
            yield f"{place} says neither what it returns nor what it does"
        is_command = any("command" in ast.unparse(each) for each in function.decorator_list)
        if is_public and needs_args and not is_command and lacks_args(function):
            yield f"{place} has no Args in its docstring"


def page_faults(path: Path) -> Iterator[str]:
    """Functions of a file of TypeScript that have bare names, each with its place."""
    for number, line in enumerate(path.read_text().splitlines(), start=1):
        for found in PAGE_FUNCTION.finditer(line):
            name = found[1] or found[2]
            if is_bare(name):
                yield f"{path}:{number}: {name} says neither what it returns nor what it does"


def main() -> int:
    """Print each fault; 0 where there is none."""
    programs = (path for folder in FOLDERS for path in sorted(Path(folder).rglob("*.py")))
    found = [fault for path in programs for fault in faults(path)]
    found += [fault for path in sorted(PAGE.rglob("*.ts*")) for fault in page_faults(path)]
    for fault in found:
        print(fault)
    return int(bool(found))


if __name__ == "__main__":
    sys.exit(main())
