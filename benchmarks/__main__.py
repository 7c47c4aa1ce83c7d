"""`make bench`: every benchmark, or those named."""

import sys

from benchmarks import chain, colour, light, preview, render, retime, steadiness

BENCHMARKS = {
    "chain": chain.run,
    "colour": colour.run,
    "light": light.run,
    "preview": preview.run,
    "render": render.run,
    "retime": retime.run,
    "steadiness": steadiness.run,
}

if __name__ == "__main__":
    for name in sys.argv[1:] or BENCHMARKS:
        BENCHMARKS[name]()
