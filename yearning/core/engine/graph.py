"""The render graph: a look at a frame, as numbered nodes that each make a picture.

Number 0 is the footage, and each node makes the next picture: it treats the picture it reads and
mixes the result onto the picture below; usually both are the one before. Bundles are laid out flat,
steps that are off are left out, and keys and bursts have become plain numbers. The numbering is the
same at all frames.
"""

import hashlib
import json
from collections.abc import Callable, Iterable

from yearning.core.engine.node import FOOTAGE, Node
from yearning.core.image.unwarp import invert_warp
from yearning.core.look.document import Bundle, Look, named_files, walk_steps
from yearning.core.look.mix import FOOTAGE_INPUT, PREVIOUS_INPUT, Mix
from yearning.core.look.step import Step
from yearning.core.masks.mask import PlacedShape, Warp
from yearning.core.masks.matte import MattePicture
from yearning.core.masks.shapes import LinkedShape, Matte, PositionedShape, ReadsPicture, Shape
from yearning.core.motion.tracks import Motion, map_places
from yearning.core.picture import Box, Size
from yearning.core.treatment.base import Reach, Treatment
from yearning.core.treatment.capabilities import (
    FillsFinalFrame,
    ReadsWholePictures,
    Ride,
    RidesOnTrack,
    UsesClipStatistics,
    WarpsFrame,
)
from yearning.core.treatment.settings import Points
from yearning.core.treatment.tone_values import percentile_settings

Motions = Callable[[str, int], Motion | None]
"""Gives what the track of a name does at a frame; None where it moves nothing."""


def _no_motion(name: str, frame: int) -> None:
    return None


class RenderGraph:
    """The nodes of a look at a frame, indexed by the number of the picture that each makes.

    Attributes:
        frame: the frame whose values the nodes have.
        timed: whether the graph differs from frame to frame.
        nodes: by number; None for the footage.
        cache_keys: by number, hashes of what a picture is made of: equal keys mean equal pictures,
            whatever the steps' ids.
        reaches: by number, frames before and after its own that a picture is made from.
        streamable: by number, whether a picture can be made from bands of the footage, without any
            whole picture in between.
        aliases: by number, the picture that stands for it: another one where a step does nothing
            at this frame.
        warps: by number, the nodes that have moved what is in the frame. What a step reads is first
            warped as the picture below it was, so that the two line up.
        results: the picture's number after each count of the look's own steps, from none on.
        after_step: the picture's number after each step, by the step's id; those inside bundles
            too.
        step_nodes: each step's node, by the step's id, whether or not it is on.
        layer: the number of the picture of one step's layer alone, if it was asked for.

    Args:
        look: the steps.
        frame: at which keys and bursts are taken.
        layer_of: the id of a step whose layer is to be a picture too.
        motions: what tracks do.
    """

    def __init__(
        self,
        look: Look,
        frame: int = 0,
        layer_of: str | None = None,
        motions: Motions = _no_motion,
    ) -> None:
        self.frame = frame
        self.timed = any(placed.step.is_timed for placed in walk_steps(look.steps)) or any(
            named.kind == "track" for named in named_files(look)
        )
        self._motions = motions
        self.nodes: list[Node | None] = [None]
        self.cache_keys = [hashlib.sha256().hexdigest()]
        self.reaches = [Reach()]
        self.streamable = [True]
        self.aliases = [FOOTAGE]
        self._timed_steps: list[Step] = []
        self._timed_before = [0]
        self.layer = FOOTAGE
        self.after_step: dict[str, int] = {FOOTAGE_INPUT: FOOTAGE}
        self.step_nodes: dict[str, Node] = {}
        self.warps: list[tuple[int, ...]] = [()]
        self._mattes: dict[MattePicture, int] = {}
        self._warped: dict[tuple[int, int], int] = {}
        self._layer_of = layer_of
        self._steps = {placed.step.id: placed.step for placed in walk_steps(look.steps)}
        self.results = [FOOTAGE]
        for step in look.steps:
            self.results.append(self._add_step(step, self.results[-1]))
        for number in range(1, len(self.nodes)):
            self._describe(number)

    def node(self, number: int) -> Node:
        """The node that makes a picture; the footage has none."""
        node = self.nodes[number]
        assert node is not None
        return node

    def warp_of(self, number: int, frame: int, full_size: Size) -> Warp | None:
        """Return what has moved the contents of a picture at a frame; None where nothing has.

        Args:
            number: of the picture.
            frame: of the footage.
            full_size: of the footage.
        """
        warps = self._warps_of(self.warps[number])

        def warp(points: Points) -> Points:
            for each in warps:
                points = each.map_points(points, frame, full_size)
            return points

        return warp if warps else None

    def ridden_node(self, number: int, frame: int, full_size: Size) -> Node:
        """Return a node with its treatment's place where its track has taken it at a frame.

        Args:
            number: of the node.
            frame: of the footage.
            full_size: of the footage.
        """
        node = self.node(number)
        treatment, motion = node.treatment, node.motion
        if motion is None or not isinstance(treatment, RidesOnTrack):
            return node
        matrix, warp = motion.pixels(full_size), self.warp_of(node.below, frame, full_size)

        def move(points: Points) -> Points:
            if warp is None:
                return map_places(matrix, points)
            return warp(map_places(matrix, invert_warp(warp, points)))

        final = isinstance(treatment, FillsFinalFrame)
        box = (
            self.final_box(number, full_size) if final else self.visible_box(node.below, full_size)
        )
        settings = treatment.settings_on_track(Ride(move, box))
        return node._replace(treatment=node.treatment.model_copy(update=settings))

    def visible_box(self, number: int, full_size: Size, *, cropped_only: bool = False) -> Box:
        """Return the part of the frame that warps have left visible, in footage pixels.

        Args:
            number: of the picture.
            full_size: of the footage.
            cropped_only: only what was cut off counts as not visible.
        """
        box = Box(0, 0, full_size.width, full_size.height)
        for treatment in self._warps_of(self.warps[number]):
            if treatment.crops or not cropped_only:
                box = treatment.visible_box(full_size) or box
        return box

    def final_box(self, number: int, full_size: Size) -> Box:
        """Return the part of a picture that the result shows, in footage pixels.

        Args:
            number: of the picture.
            full_size: of the footage.
        """
        box = self.visible_box(self.results[-1], full_size)
        for warp in reversed(self._later_warps(number)):
            box = warp.source_box(box, full_size)
        return box

    def _warps_of(self, numbers: Iterable[int]) -> list[WarpsFrame]:
        """What moves the frame's contents, of nodes that do, by number."""
        warps: list[WarpsFrame] = []
        for n in numbers:
            treatment = self.node(n).treatment
            if self.aliases[n] == n and isinstance(treatment, WarpsFrame):
                warps.append(treatment)
        return warps

    def _later_warps(self, number: int) -> list[WarpsFrame]:
        """What moves a picture's contents between it and the path's end."""
        earlier = self.warps[number]
        return self._warps_of(n for n in self.warps[self.results[-1]] if n not in earlier)

    def _add_step(self, step: Step, below: int) -> int:
        """Add a step's nodes; returns the number of the picture after it."""
        at_frame = step.at(self.frame)
        treatment = at_frame.settings if isinstance(at_frame.settings, Treatment) else None
        reads = (
            below
            if step.mix.input == PREVIOUS_INPUT
            else self._aligned_input(self.after_step[step.mix.input], below)
        )
        if isinstance(step.settings, Bundle):
            for inner in step.settings.steps:
                reads = self._add_step(inner, reads)
        placed = (self._place_shape(shape, below) for shape in at_frame.mix.mask)
        mask = tuple(shape for shape in placed if shape is not None)
        motion = self._motion_of(treatment.track) if isinstance(treatment, RidesOnTrack) else None
        node = Node(
            self.aliases[below],
            self.aliases[reads],
            treatment,
            at_frame.mix,
            mask=mask,
            motion=motion,
            source=reads,
        )
        self.step_nodes[step.id] = node
        result = below
        if step.on and (at_frame.mix.amount > 0 or step.is_timed):
            alias = None
            if at_frame.mix.amount == 0:
                alias = below
            elif treatment is None and node.replaces:
                alias = reads
            if step.is_timed or alias is None:
                warps = isinstance(treatment, WarpsFrame)
                takes_place = treatment is None or warps
                plain_mix = step.mix.blend == "normal" and step.mix.is_everywhere
                moved = self.warps[reads if takes_place and plain_mix else below]
                if warps:
                    moved = (*moved, len(self.nodes))
                result = self._append(node, None if alias is None else self.aliases[alias], moved)
            else:
                result = alias
        self.after_step[step.id] = result
        if step.is_timed:
            self._timed_steps.append(step)
        if step.id == self._layer_of:
            alone = node._replace(layer_alone=True)
            self.layer = self._append(alone, None, self.warps[below])
        return result

    def _place_shape(self, shape: Shape, below: int) -> PlacedShape | None:
        """A shape, and the picture that it is found in; None of a matte without a plate.

        One that is the same as an earlier step's is found where that step finds it.
        """
        so_far = below
        if isinstance(shape, LinkedShape):
            step, id = shape.source
            source = self._steps[step].at(self.frame).mix.shape(id)
            assert source is not None
            joined = {name: getattr(shape, name) for name in Shape.model_fields}
            shape = source.model_copy(update=joined)
            if step in self.step_nodes:
                so_far = self.step_nodes[step].below
        if isinstance(shape, Matte):
            return self._placed_matte(shape, below) if shape.file else None
        if isinstance(shape, PositionedShape):
            return PlacedShape(shape, motion=self._motion_of(shape.track))
        assert isinstance(shape, ReadsPicture)
        found_in = so_far if shape.of == PREVIOUS_INPUT else self.after_step[shape.of]
        return PlacedShape(shape, self.aliases[self._aligned_input(found_in, below)])

    def _motion_of(self, track: str) -> Motion | None:
        """What the track of a name does at this frame; None of no track."""
        return self._motions(track, self.frame) if track else None

    def _placed_matte(self, shape: Matte, below: int) -> PlacedShape:
        """A matte, and its own picture: one for all steps that are in it."""
        drawn = MattePicture(file=shape.file, fit=shape.fit, use=shape.use)
        number = self._mattes.get(drawn)
        if number is None:
            number = self._append(Node(FOOTAGE, FOOTAGE, drawn, Mix()), None, ())
            self._mattes[drawn] = number
        return PlacedShape(shape, self.aliases[self._aligned_input(number, below)])

    def _aligned_input(self, reads: int, below: int) -> int:
        """A picture that a step reads, warped as the one below the step was."""
        for warp in self.warps[below]:
            if warp in self.warps[reads]:
                continue
            warped = self._warped.get((reads, warp))
            if warped is None:
                source = self.aliases[reads]
                node = Node(source, source, self.node(warp).treatment, Mix(), source=reads)
                alias = source if self.aliases[warp] != warp else None
                moved = (*self.warps[reads], warp)
                warped = self._warped[reads, warp] = self._append(node, alias, moved)
            reads = warped
        return reads

    def _append(self, node: Node, alias: int | None, warps: tuple[int, ...]) -> int:
        """Append a node; `alias` is the number of a picture that stands for its result."""
        number = len(self.nodes)
        self.nodes.append(node)
        self.warps.append(warps)
        self.aliases.append(number if alias is None else alias)
        self._timed_before.append(len(self._timed_steps))
        return number

    def _describe(self, number: int) -> None:
        """Append a picture's cache key, reach, and whether it can be made from bands."""
        node, alias = self.node(number), self.aliases[number]
        if alias != number:
            self.cache_keys.append(self.cache_keys[alias])
            self.reaches.append(self.reaches[alias])
            self.streamable.append(self.streamable[alias])
            return
        self.cache_keys.append(self._content_hash(number))
        self.reaches.append(self._reach(node))
        below = all(self.streamable[number] for number in node.inputs)
        self.streamable.append(below and self._reads_bands(node))

    def _content_hash(self, number: int) -> str:
        node = self.node(number)
        treatment = node.treatment
        content = {
            "treatment": None if treatment is None else treatment.kind,
            "settings": None if treatment is None else treatment.model_dump(mode="json"),
            "mix": node.mix.model_dump(mode="json", exclude={"input", "mask"}),
            "mask": [(each.shape.model_dump(mode="json"), each.motion) for each in node.mask],
            "motion": node.motion,
            "inputs": [self.cache_keys[number] for number in (node.reads, *node.inputs)],
            "layer alone": node.layer_alone,
        }
        if isinstance(treatment, UsesClipStatistics) or percentile_settings(treatment):
            earlier = self._timed_steps[: self._timed_before[number]]
            content["timing"] = [step.model_dump_json() for step in earlier]  # at other frames too
        if isinstance(treatment, FillsFinalFrame):
            later = self._later_warps(number)
            content["later"] = [(type(warp).__name__, repr(warp)) for warp in later]
        return hashlib.sha256(json.dumps(content, sort_keys=True).encode()).hexdigest()

    def _reach(self, node: Node) -> Reach:
        own = Reach() if node.treatment is None else node.treatment.neighbours()
        read = self.reaches[node.reads]
        reaches = [Reach(read.before + own.before, read.after + own.after)]
        reaches += [self.reaches[number] for number in node.inputs]
        return Reach(max(each.before for each in reaches), max(each.after for each in reaches))

    def _reads_bands(self, node: Node) -> bool:
        """Return whether a node reads bands that come straight from the footage."""
        if isinstance(node.treatment, ReadsWholePictures):
            return False
        if any(shape.reads_whole for shape in node.mask):
            return False
        return self.streamable[node.reads] if node.is_pointwise else node.reads == FOOTAGE
