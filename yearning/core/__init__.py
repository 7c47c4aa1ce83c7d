"""Computation only: pictures in, pictures out. No files, no network, no clock."""

import yearning.core.kernel_cache
import yearning.core.kernel_types  # noqa: F401  (both before the first kernel)
