"""The shapes of a mask, as a look file has them.

Places are fractions of the frame's width and height, sizes are half axes in the same, and feathers
are in px@1080, half on either side of the edge.
"""

from typing import Annotated, Any, ClassVar, Literal

from pydantic import AfterValidator, Discriminator, Field, Tag, field_validator

from yearning.core.compositing.tone_window import Tones
from yearning.core.masks.outlines import BezierPoint, Polygon, bezier_polygon, box_polygon
from yearning.core.masks.outlines import ellipse_polygon as _ellipse_polygon
from yearning.core.picture import Size
from yearning.core.treatment.settings import Place, setting
from yearning.core.validation import StrictModel, refuse_beyond

MAX_SHAPES = 32

MAX_PATH_POINTS = 256

MAX_FEATHER = 400.0

FARTHEST = 10_000
"""No number is farther from 0: of frames that a place lies away, of degrees that it is turned."""


def _above_zero(size: tuple[float, float]) -> tuple[float, float]:
    if min(size) <= 0:
        raise ValueError("both half axes are more than 0; take the shape out, or set its strength")
    return size


HalfAxes = Annotated[tuple[float, float], AfterValidator(_above_zero)]


def _no_dot(name: str) -> str:
    if "." in name:
        raise ValueError("a shape's id has no full stop in it")
    return name


class Shape(StrictModel):
    """One part of a mask: which part of the picture it says, and how it joins those before it."""

    keyed: ClassVar[tuple[str, ...]] = ("strength",)
    """Fields that keys can pin."""

    _numbers_are_near = field_validator("*")(refuse_beyond(FARTHEST))

    id: Annotated[str, AfterValidator(_no_dot)] = Field(
        min_length=1, max_length=64, description="A name of its own within the step."
    )
    join: Literal["add", "take away", "keep common"] = setting(
        "add", unit="choice", label="Join", help="What it does with the shapes before it."
    )
    strength: float = setting(1.0, 0, 1, minimum=0, maximum=1, label="Strength", help="Its weight.")
    invert: bool = setting(False, unit="switch", label="Invert", help="Its outside instead.")


class PositionedShape(Shape):
    """A shape that lies at a place of the frame, and may ride on what moves there."""

    track: str = setting(
        "", unit="track", label="Rides on", help="A track; it moves as what that follows."
    )


class Feathered(Shape):
    """A shape whose edge may be wide."""

    keyed: ClassVar[tuple[str, ...]] = ("strength", "feather")

    feather: float = setting(
        0.0,
        0,
        MAX_FEATHER,
        unit="px@1080",
        minimum=0,
        maximum=MAX_FEATHER,
        label="Feather",
        help="How wide its edge is, half of it on either side.",
    )


class Outline(Feathered, PositionedShape):
    """A shape with an edge."""

    def polygon(self, size: Size) -> Polygon:
        """Its edge in pixels of a frame of `size`."""
        raise NotImplementedError


class Ellipse(Outline):
    """An ellipse."""

    keyed: ClassVar[tuple[str, ...]] = ("centre", "size", "turn", "feather", "strength")

    kind: Literal["ellipse"]
    centre: Place = setting((0.5, 0.5), unit="place", label="Centre", help="Its middle.")
    size: HalfAxes = setting(
        (0.15, 0.2), 0.005, 1, unit="place", label="Size", help="Half its width and height."
    )
    turn: float = setting(0.0, -180, 180, unit="degrees", label="Turn", help="Clockwise.")

    def polygon(self, size: Size) -> Polygon:
        """Its edge in pixels of a frame of `size`."""
        return _ellipse_polygon(self.centre, self.size, self.turn, size)


class Rectangle(Outline):
    """A box, whose corners may be round."""

    keyed: ClassVar[tuple[str, ...]] = ("centre", "size", "turn", "round", "feather", "strength")

    kind: Literal["box"]
    centre: Place = setting((0.5, 0.5), unit="place", label="Centre", help="Its middle.")
    size: HalfAxes = setting(
        (0.2, 0.2), 0.005, 1, unit="place", label="Size", help="Half its width and height."
    )
    turn: float = setting(0.0, -180, 180, unit="degrees", label="Turn", help="Clockwise.")
    round: float = setting(
        0.0, 0, 1, minimum=0, maximum=1, label="Round", help="Corners, of its shorter side."
    )

    def polygon(self, size: Size) -> Polygon:
        """Its edge in pixels of a frame of `size`."""
        return box_polygon(self.centre, self.size, self.turn, self.round, size)


class BezierPath(Outline):
    """A closed path of cubic Bezier curves; what it goes round twice is outside (even-odd)."""

    keyed: ClassVar[tuple[str, ...]] = ("points", "feather", "strength")

    kind: Literal["drawn"]
    points: tuple[BezierPoint, ...] = Field(
        min_length=2,
        max_length=MAX_PATH_POINTS,
        title="Path",
        description="[x, y, in_x, in_y, out_x, out_y] each, handles relative to the point.",
        json_schema_extra={"label": "Path", "unit": "path", "help": "Its points."},
    )

    def polygon(self, size: Size) -> Polygon:
        """Its edge in pixels of a frame of `size`."""
        return bezier_polygon(self.points, size)


class Wash(PositionedShape):
    """Weight that rises along a line, from 0 at one place to 1 at the other, by a raised cosine."""

    keyed: ClassVar[tuple[str, ...]] = ("from", "to", "strength")

    kind: Literal["wash"]
    begin: Place = Field(
        (0.5, 0.3),
        alias="from",
        title="From",
        description="Where it is 0.",
        json_schema_extra={"label": "From", "unit": "place", "help": "Where it is 0."},
    )
    end: Place = Field(
        (0.5, 0.7),
        alias="to",
        title="To",
        description="Where it is 1.",
        json_schema_extra={"label": "To", "unit": "place", "help": "Where it is 1."},
    )


class ReadsPicture(Shape):
    """A shape found in a picture."""

    of: str = Field(
        "previous",
        min_length=1,
        max_length=64,
        title="Of",
        description="Which picture: 'previous', 'footage', or the id of an earlier step.",
        json_schema_extra={"label": "Found in", "unit": "choice", "help": "Which picture's."},
    )


class ToneRange(Feathered, ReadsPicture):
    """Where a picture has certain tones."""

    keyed: ClassVar[tuple[str, ...]] = ("points", "feather", "strength")

    kind: Literal["tones"]
    points: Tones = setting(
        ((0.0, 1.0), (0.3, 1.0), (0.45, 0.0), (1.0, 0.0)),
        unit="tones",
        label="Tones",
        help="Weights from black to white.",
    )


class HueRange(Feathered, ReadsPicture):
    """Where a picture has certain hues."""

    keyed: ClassVar[tuple[str, ...]] = (
        "hue",
        "width",
        "soft",
        "least_saturation",
        "feather",
        "strength",
    )

    kind: Literal["hue"]
    hue: float = setting(30.0, 0, 360, unit="degrees", label="Hue", help="0 is red, 120 green.")
    width: float = setting(
        40.0, 0, 180, unit="degrees", minimum=0, maximum=360, label="Width", help="Hues within."
    )
    soft: float = setting(
        20.0, 1, 90, unit="degrees", minimum=0.5, maximum=180, label="Soft", help="Hues beyond it."
    )
    least_saturation: float = setting(
        0.1, 0, 1, minimum=0, maximum=1, label="Least colour", help="What is paler has no weight."
    )


class Matte(Feathered):
    """Where a plate is light, or where it covers: a grey picture, or a clip of them."""

    kind: Literal["matte"]
    file: str = setting("", unit="plate", label="Plate", help="The grey picture, or the clip.")
    fit: Literal["fill", "fit", "stretch"] = setting(
        "fill", unit="choice", label="Fit", help="How it fills the frame."
    )
    use: Literal["light", "alpha"] = setting(
        "light", unit="choice", label="Use", help="What of it is the weight."
    )


class LinkedShape(Shape):
    """A shape of another step, which stays one with it but for how it joins."""

    same_as: str = Field(
        min_length=3, max_length=129, description="The step's id, a full stop, the shape's id."
    )

    @property
    def source(self) -> tuple[str, str]:
        """The ids of the step and the shape it is the same as."""
        step, _, shape = self.same_as.rpartition(".")
        return step, shape


KINDS: dict[str, type[Shape]] = {
    "ellipse": Ellipse,
    "box": Rectangle,
    "drawn": BezierPath,
    "wash": Wash,
    "tones": ToneRange,
    "hue": HueRange,
    "matte": Matte,
}


SHAPE_TAGS = (*KINDS, "same_as")


def _tag(data: Any) -> str | None:
    """Return which kind of shape data are of."""
    if isinstance(data, dict):
        return "same_as" if "same_as" in data else data.get("kind")
    return "same_as" if isinstance(data, LinkedShape) else getattr(data, "kind", None)


AnyShape = Annotated[
    Annotated[Ellipse, Tag("ellipse")]
    | Annotated[Rectangle, Tag("box")]
    | Annotated[BezierPath, Tag("drawn")]
    | Annotated[Wash, Tag("wash")]
    | Annotated[ToneRange, Tag("tones")]
    | Annotated[HueRange, Tag("hue")]
    | Annotated[Matte, Tag("matte")]
    | Annotated[LinkedShape, Tag("same_as")],
    Discriminator(_tag),
]


def _validate_shapes(shapes: tuple[Shape, ...]) -> tuple[Shape, ...]:
    seen: set[str] = set()
    for shape in shapes:
        if shape.id in seen:
            raise ValueError(f"two shapes have the id '{shape.id}'; give each its own")
        seen.add(shape.id)
    return shapes


Mask = Annotated[
    tuple[AnyShape, ...], Field(max_length=MAX_SHAPES), AfterValidator(_validate_shapes)
]
"""Shapes joined in their order; with none, a step shows everywhere."""
