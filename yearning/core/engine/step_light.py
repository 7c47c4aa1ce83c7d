"""What a step's light starts from, and what it takes back: for whoever sets it."""

import numpy as np

from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.node import Node
from yearning.core.engine.statistics import NodeStatistics, with_tone_numbers
from yearning.core.picture import Picture
from yearning.core.treatment.capabilities import HoldsLight, StartsFromHighlights


def step_highlights(evaluator: Evaluator, frame: int, step_id: str) -> Picture:
    """Return the highlights that a step starts from, in what it reads, whether or not it is on.

    Args:
        evaluator: of the look.
        frame: of the footage.
        step_id: of a step of the look.

    Returns:
        Shape `(3, height, width)`, on black; of a step that starts from none, all black.

    Raises:
        KeyError: no step has that id.
    """
    node = _node(evaluator, frame, step_id)
    reads = evaluator.whole_picture(frame, node.reads)
    if isinstance(node.treatment, StartsFromHighlights):
        return node.treatment.highlights(reads)
    return np.zeros_like(reads)


def held_light(evaluator: Evaluator, frame: int, step_id: str) -> float:
    """Return how much a step takes from mid-grey at a frame, 0..1 of white; 0 of most steps.

    Args:
        evaluator: of the look.
        frame: of the footage.
        step_id: of a step of the look.

    Raises:
        KeyError: no step has that id.
    """
    node = _node(evaluator, frame, step_id)
    if not isinstance(node.treatment, HoldsLight):
        return 0.0
    return node.treatment.held_light(NodeStatistics(evaluator, frame, node).clip_statistics())


def _node(evaluator: Evaluator, frame: int, step_id: str) -> Node:
    nodes = evaluator.graph_at(frame).step_nodes
    if step_id not in nodes:
        raise KeyError(f"no step has the id '{step_id}'")
    return with_tone_numbers(evaluator, frame, nodes[step_id])
