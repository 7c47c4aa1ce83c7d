"""Make a look in ten lines: `python examples/ten_lines.py CLIP OUT.mp4`."""

import sys

import yearning as yn

look = yn.Look([yn.Glow(spread=60), yn.Curve(luma=[(0, 0.06), (1, 1)]), yn.Grain(gauge=16)])
with yn.open_clip(sys.argv[1]) as clip:
    yn.save(look.picture(clip, clip.frames // 2), "frame.png")
    yn.render(clip, look, sys.argv[2], on_progress=print)
    print(yn.steadiness(clip, look)["summary"])
