"""Times as cameras are set to them."""

from __future__ import annotations


def time_words(seconds: float) -> str:
    """A time as it stands on a camera.

    >>> time_words(0.008), time_words(0.4), time_words(2.0), time_words(0.00012)
    ('1/125 s', '0.4 s', '2 s', '1/8300 s')
    """
    if seconds >= 0.3:
        return f"{seconds:.2g} s"
    parts = 1 / seconds
    digits = max(0, len(str(int(parts))) - 3) if parts < 1000 else len(str(int(parts))) - 2
    return f"1/{round(parts, -digits):.0f} s"
