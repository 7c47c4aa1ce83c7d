"""Computation only: pictures in, pictures out. No files, no network, no clock."""

import yearning.core.kernel_cache  # noqa: F401  (before the first kernel)
