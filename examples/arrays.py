"""Treat pictures of another library in memory: `python examples/arrays.py CLIP OUT.png`.

OpenCV reads the frames, as arrays of shape (height, width, 3), uint8, blue first. A look makes them
worn film, and OpenCV writes three neighbouring ones beside each other.
"""

import sys

import cv2
import numpy as np

import yearning as yn

reader = cv2.VideoCapture(sys.argv[1])
read = [reader.read() for _ in range(12)]
frames = np.stack([frame[..., ::-1] for there, frame in read if there])  # red first

clip = yn.ArrayClip(frames, channel_axis=-1, rate=reader.get(cv2.CAP_PROP_FPS))
look = yn.Look([yn.Mono(), yn.Grain(gauge=8), yn.Dust(specks=40), yn.Vignette()])

worn = np.stack([picture.transpose(1, 2, 0) for picture in look.pictures(clip)])
codes = (255 * worn.clip(0, 1)).round().astype(np.uint8)
cv2.imwrite(sys.argv[2], np.concatenate(codes[4:7], axis=1)[..., ::-1])
