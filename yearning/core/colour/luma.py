"""Weights of luma in display-coded R'G'B'."""

import numpy as np

KR = np.float32(0.2126)
KG = np.float32(0.7152)
KB = np.float32(0.0722)
"""ITU-R BT.709-6, item 3.2: E'Y = 0.2126 E'R + 0.7152 E'G + 0.0722 E'B."""
