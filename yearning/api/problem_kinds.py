"""Kinds of problems, each with a URI of its own (RFC 9457, section 3.1.1)."""

from typing import NamedTuple

from yearning.api.addresses import V1


class ProblemKind(NamedTuple):
    """A kind of problem."""

    name: str
    """The last part of its URI."""
    status: int
    title: str
    summary: str
    """What has happened, and what a client does about it."""

    @property
    def uri(self) -> str:
        """Its address on the server, where it is described."""
        return f"{V1}/problems/{self.name}"


UNREADABLE = ProblemKind(
    "unreadable",
    400,
    "Unreadable",
    "The request is no HTTP or JSON that can be read. Mend the request.",
)
NOT_ALLOWED = ProblemKind(
    "not-allowed",
    403,
    "Not allowed",
    "The request came under a foreign Host, from another site's page, or without the token. Ask "
    "from the server's own address, with the token that it printed at its start.",
)
READ_ONLY = ProblemKind(
    "read-only",
    403,
    "For looking only",
    "The project is open in another server, or for looking: nothing of it changes. Ask the server "
    "that has it open.",
)
NOT_THERE = ProblemKind(
    "not-there",
    404,
    "Not there",
    "No clip, look, render or file has that number or name; or the address is none of the API's. "
    "Ask for the list.",
)
NO_SUCH_METHOD = ProblemKind(
    "no-such-method",
    405,
    "Not that method",
    "The address takes other methods: its Allow header names them.",
)
STALE = ProblemKind(
    "stale",
    409,
    "Changed meanwhile",
    "The edit was made from a revision that is no longer the current one. Read it again, repeat "
    "the edit on that.",
)
NOTHING_LEFT = ProblemKind(
    "nothing-left", 409, "Nothing left", "There is nothing to undo, or to redo."
)
NOT_NOW = ProblemKind(
    "not-now",
    409,
    "Not now",
    "What is asked can't be done in the state that the thing is in, or while something else runs. "
    "Wait, or change that first; the detail says what.",
)
IN_USE = ProblemKind(
    "in-use",
    409,
    "In use",
    "A look needs the file. Take it out of the looks that the detail names, then delete it.",
)
OVERTAKEN = ProblemKind(
    "overtaken",
    409,
    "Overtaken",
    "A newer request on the same channel has made this one needless. Nothing is to be done.",
)
STOPPED = ProblemKind("stopped", 409, "Stopped", "It was stopped on request; nothing is kept.")
GONE = ProblemKind(
    "gone",
    410,
    "Gone",
    "A file that the project had was moved, deleted or changed. Bring it in, or render it, again.",
)
TOO_SLOW = ProblemKind(
    "too-slow",
    408,
    "Too slow",
    "What was sent did not come in time, and nothing was done with it. Send it anew.",
)
TOO_LARGE = ProblemKind(
    "too-large", 413, "Too large", "More was sent than is taken; the detail says how much is."
)
NOT_UNDERSTOOD = ProblemKind(
    "not-understood",
    422,
    "Not understood",
    "A field is missing, of the wrong kind or beyond its bounds; the detail names each place.",
)
NOT_A_LOOK = ProblemKind(
    "not-a-look",
    422,
    "Not a look that can be used",
    "The look is refused; the detail names each place in it (steps[0].settings.spread: …).",
)
NOT_A_REEL = ProblemKind(
    "not-a-reel",
    422,
    "Not a reel that can be used",
    "The reel is refused; the detail names each place in it (items[0].first: …).",
)
TREATMENT_FAILED = ProblemKind(
    "treatment-failed",
    422,
    "A treatment failed",
    "A treatment of another package raised an error; the detail names it and the frame.",
)
NOT_A_FILE = ProblemKind(
    "not-a-file",
    422,
    "Not a file that can be used",
    "The file is damaged, of a kind that is not read, or does not suit what is asked of it.",
)
NOT_A_FARM = ProblemKind(
    "not-a-farm",
    422,
    "Not a farm that can be used",
    "The scheduler does not answer, is not allowed, or its workers can't reach the project.",
)
OUT_OF_RANGE = ProblemKind(
    "out-of-range",
    422,
    "Out of range",
    "The clip has no such frames; the detail says which it has.",
)
NOT_SUITED = ProblemKind(
    "not-suited",
    422,
    "Not suited",
    "What is asked makes no sense of this shape, these strokes or this name; the detail says why.",
)
FAILED = ProblemKind(
    "failed",
    500,
    "Went wrong here",
    "The server failed at it; the project is as it was. The server's own output says more.",
)
NO_ROOM = ProblemKind(
    "no-room",
    507,
    "No room",
    "The disk is full: what was asked is not kept. Make room, then ask again.",
)

KINDS: tuple[ProblemKind, ...] = (
    UNREADABLE,
    NOT_ALLOWED,
    READ_ONLY,
    NOT_THERE,
    NO_SUCH_METHOD,
    STALE,
    NOTHING_LEFT,
    NOT_NOW,
    IN_USE,
    OVERTAKEN,
    STOPPED,
    GONE,
    TOO_SLOW,
    TOO_LARGE,
    NOT_UNDERSTOOD,
    NOT_A_LOOK,
    NOT_A_REEL,
    TREATMENT_FAILED,
    NOT_A_FILE,
    NOT_A_FARM,
    OUT_OF_RANGE,
    NOT_SUITED,
    FAILED,
    NO_ROOM,
)
"""All kinds, by their status."""

OF_STATUS: dict[int, ProblemKind] = {
    400: UNREADABLE,
    404: NOT_THERE,
    405: NO_SUCH_METHOD,
    413: TOO_LARGE,
}
"""What the framework answers by itself."""
