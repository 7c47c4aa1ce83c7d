"""`make bench`: every benchmark, or those named."""

import sys

from benchmarks import chain, preview, render

BENCHMARKS = {"chain": chain.run, "preview": preview.run, "render": render.run}

if __name__ == "__main__":
    for name in sys.argv[1:] or BENCHMARKS:
        BENCHMARKS[name]()
