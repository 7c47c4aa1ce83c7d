"""`make bench`: every benchmark, or those named."""

import sys

from benchmarks import (
    blending,
    chain,
    colour,
    page,
    preview,
    printing,
    render,
    retime,
    steadiness,
    treatments,
)

BENCHMARKS = {
    "blending": blending.run,
    "chain": chain.run,
    "colour": colour.run,
    "page": page.run,
    "preview": preview.run,
    "render": render.run,
    "retime": retime.run,
    "steadiness": steadiness.run,
    "treatments": treatments.run,
    "printing": printing.run,
}

if __name__ == "__main__":
    for name in sys.argv[1:] or BENCHMARKS:
        BENCHMARKS[name]()
