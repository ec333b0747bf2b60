"""Who is near a ray is asked in single precision: what the ray meets must never be among those that are left out."""

from types import SimpleNamespace

import numpy as np
import pytest

from tideflat.core.light.rays import _near


@pytest.mark.parametrize("radius", [1.0, 5.0, 60.0])
@pytest.mark.parametrize("away", [0.0, 3_000.0, 8_000.0])
def test_no_ball_that_is_met_is_left_out(radius: float, away: float) -> None:
    random = np.random.default_rng(5)
    middle = np.array([away, away / 2, 40.0])
    starts = middle + random.uniform(-3_000, 3_000, (4_000, 3))
    # aimed at the rim: half of the rays just meet the ball, as near to missing it as a hundredth of its radius
    aside = random.normal(size=(4_000, 3))
    to = middle - starts
    aside -= (aside * to).sum(axis=1, keepdims=True) / (to**2).sum(axis=1, keepdims=True) * to
    aside *= radius * 0.99 / np.linalg.norm(aside, axis=1, keepdims=True)
    ways = to + aside
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    casters = SimpleNamespace(balls=np.array([[*middle, radius]]))
    assert _near(casters, [0], starts, ways)[0].all()
    wide = to + aside * (radius + 60) / radius
    wide /= np.linalg.norm(wide, axis=1, keepdims=True)
    assert _near(casters, [0], starts, wide)[0].mean() < 0.1
