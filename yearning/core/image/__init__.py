"""Image processing on planar float32 pictures."""
