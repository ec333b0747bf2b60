"""Make tests/data/sun.json: sixty places and moments by pvlib's solar position algorithm.

pvlib is no part of the requirements (it brings half a data laboratory); install it in an environment of its own and run this there:
`pip install pvlib==0.16.1 && python tools/sun_reference.py`. The kept file is what the tests read.
"""

from __future__ import annotations

import json
import random
from datetime import timedelta, timezone
from pathlib import Path

OUT = Path(__file__).parents[1] / "tests/data/sun.json"


def main() -> None:
    import pandas as pd
    import pvlib

    chance, rows = random.Random(3), []
    while len(rows) < 60:
        latitude, longitude = round(chance.uniform(-66, 66), 3), round(chance.uniform(-179, 179), 3)
        year, month, day = chance.randint(1990, 2050), chance.randint(1, 12), chance.randint(1, 28)
        hour, minute, second = chance.randint(0, 23), chance.randint(0, 59), chance.randint(0, 59)
        offset = chance.choice([-7, -3, 0, 1, 2, 5.5, 9])
        moment = pd.Timestamp(year=year, month=month, day=day, hour=hour, minute=minute, second=second, tz="UTC")
        at = pvlib.solarposition.spa_python(pd.DatetimeIndex([moment]), latitude, longitude, pressure=101325, temperature=10, delta_t=69.0)
        elevation, azimuth = float(at["apparent_elevation"].iloc[0]), float(at["azimuth"].iloc[0])
        if elevation < 1 and len(rows) % 6:  # one in six may be down
            continue
        local = moment.to_pydatetime().astimezone(timezone(timedelta(hours=offset)))
        rows.append([latitude, longitude, local.isoformat(), round(elevation, 5), round(azimuth, 5)])
    OUT.write_text("[\n" + ",\n".join(json.dumps(row) for row in rows) + "\n]\n")


if __name__ == "__main__":
    main()
