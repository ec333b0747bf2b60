"""OpenCV's tables for CIELAB, which it makes when they are first asked for: a tenth of a second, beside what else is done before."""

from __future__ import annotations

from threading import Thread

import cv2
import numpy as np


def begun() -> Thread:
    """The thread that has them made; to be joined before anything else asks for them."""
    making = Thread(target=cv2.cvtColor, args=(np.zeros((1, 1, 3), np.uint8), cv2.COLOR_RGB2LAB))
    making.start()
    return making
