"""OpenCV's tables for CIELAB, which it makes when they are first asked for: a tenth of a second, beside what else is done before."""

from __future__ import annotations

import cv2
import numpy as np


def make_tables() -> None:
    cv2.cvtColor(np.zeros((1, 1, 3), np.uint8), cv2.COLOR_RGB2LAB)
