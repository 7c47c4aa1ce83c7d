"""Where a step shows, as a plane: its tone window and its mask, without its amount."""

from functools import partial

import numpy as np

from yearning.core.compositing.weight import weight_plane
from yearning.core.engine.evaluator import Evaluator
from yearning.core.masks.mask import PreparedMask
from yearning.core.picture import Plane


def step_weight(evaluator: Evaluator, frame: int, step_id: str) -> Plane:
    """Return how strongly a step shows at each pixel of a frame, whether or not it is on.

    Args:
        evaluator: of the look.
        frame: of the footage.
        step_id: of a step of the look.

    Returns:
        Shape `(height, width)`, 0..1.

    Raises:
        KeyError: no step has that id.
    """
    graph, full, size = evaluator.graph_at(frame), evaluator.footage.size, evaluator.size
    if step_id not in graph.step_nodes:
        raise KeyError(f"no step has the id '{step_id}'")
    node = graph.step_nodes[step_id]
    below = evaluator.whole_picture(frame, node.below)
    mask = None
    if node.mask:
        whole = partial(evaluator.whole_picture, frame)
        warp = graph.warp_of(node.below, frame, full)
        prepared = PreparedMask(node.mask, full, size, warp, whole)
        mask = prepared.weights(0, size.height, size.width, whole)
    weights = weight_plane(below, 1.0, node.mix.tones, mask)
    return np.broadcast_to(weights, (size.height, size.width))
