"""XML documents as elements that know their lines; nothing outside a document is read."""

from dataclasses import dataclass, field
from xml.parsers import expat

import numpy as np

from yearning.core.colour.tables import Array
from yearning.media.errors import MediaError

MAX_DEPTH = 64
"""Of elements within each other."""


@dataclass
class Node:
    """An element, its line, and what it holds."""

    name: str
    line: int
    attributes: dict[str, str]
    nodes: list["Node"] = field(default_factory=list)
    text: list[str] = field(default_factory=list)

    def child(self, name: str) -> "Node | None":
        """The first element of that name within."""
        return next((node for node in self.nodes if node.name == name), None)


class Markup:
    """A document of the name `name`, and its errors."""

    def __init__(self, name: str) -> None:
        self._name = name

    def refuse(self, line: int, why: str) -> MediaError:
        """Return the error that names a line of the file.

        Args:
            line: its number.
            why: in words.
        """
        return MediaError(f"{self._name}: line {line}: {why}")

    def tree(self, data: bytes) -> Node:
        """The document's root.

        Raises:
            MediaError: not XML, nested too deeply, or with declarations of its own.
        """
        top = Node("", 0, {})
        open_nodes = [top]
        parser = expat.ParserCreate()

        def begin(name: str, attributes: dict[str, str]) -> None:
            node = Node(name.rpartition(":")[2], parser.CurrentLineNumber, attributes)
            open_nodes[-1].nodes.append(node)
            open_nodes.append(node)
            if len(open_nodes) > MAX_DEPTH:
                raise self.refuse(node.line, f"it is nested more than {MAX_DEPTH} deep")

        def refuse_doctype(*_: object) -> None:
            raise self.refuse(parser.CurrentLineNumber, "a DOCTYPE, which such files have not")

        parser.buffer_text = True
        parser.StartElementHandler = begin
        parser.EndElementHandler = lambda _: open_nodes.pop()
        parser.CharacterDataHandler = lambda text: open_nodes[-1].text.append(text)
        parser.StartDoctypeDeclHandler = refuse_doctype
        try:
            parser.Parse(data, True)
        except expat.ExpatError as error:
            what = expat.errors.messages[error.code]
            raise self.refuse(error.lineno, f"not XML: {what}") from None
        except (LookupError, ValueError):  # what Python says of names of encodings it has not
            raise self.refuse(1, "an encoding that is not known; save it as UTF-8") from None
        return top.nodes[0]

    def numbers(self, node: Node | None, of: Node, count: int) -> Array:
        """Return the numbers in a node's text.

        Args:
            node: with the numbers; None where it is missing.
            of: the node that should have it.
            count: of the numbers.

        Raises:
            MediaError: other than `count` finite numbers.
        """
        if node is None:
            raise self.refuse(of.line, f"{of.name} lacks what it needs")
        try:
            values = np.array("".join(node.text).split(), np.float64)
        except ValueError:
            raise self.refuse(node.line, f"{node.name} has what is no number") from None
        if len(values) != count or not np.isfinite(values).all():
            raise self.refuse(
                node.line, f"{node.name} has {len(values)} numbers, not {count} finite ones"
            )
        return values.astype(np.float32)
