"""From a look to pictures: the render graph and its evaluation in bands."""
