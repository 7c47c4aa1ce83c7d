"""What a step's light starts from, and what it takes back: for whoever sets it."""

import numpy as np

from yearning.core.engine.evaluator import Evaluator
from yearning.core.engine.graph import Node
from yearning.core.engine.statistics import NodeStatistics
from yearning.core.picture import Picture
from yearning.core.treatment.capabilities import HoldsLight, StartsFromHighlights


def step_highlights(evaluator: Evaluator, frame: int, step_id: str) -> Picture:
    """The highlights of what a step reads that it starts from, whether or not it is on.

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
    """How much a step takes from mid-grey at a frame, 0..1 of white; of most steps nothing.

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
    return nodes[step_id]
