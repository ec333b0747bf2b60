"""The command `sun`: where the sun stands."""

from __future__ import annotations

import json

from tideflat.command_line import number_of, options_of, refuse

SUN_USAGE = "tideflat sun --latitude DEGREES --longitude DEGREES --time 2026-06-21T16:00:00+02:00"


def sun(arguments: list[str]) -> int:
    """Print the sun's elevation and azimuth at a place and a moment, and how long shadows are, as one JSON object."""
    from tideflat.core.errors import TideflatError
    from tideflat.core.light.sun import moment_of, sun_at

    try:
        files, options = options_of(arguments, ("--latitude", "--longitude", "--time"))
        if files or len(options) < 3:
            return refuse(f"arguments: must be --latitude, --longitude and --time; usage: {SUN_USAGE}")
        latitude = number_of(options, "--latitude", -90, 90, 0.0) or 0.0
        longitude = number_of(options, "--longitude", -180, 180, 0.0) or 0.0
        found = sun_at(latitude, longitude, moment_of(options["--time"]))
    except TideflatError as error:
        return refuse(f"--{error}")
    print(json.dumps(found.value(), allow_nan=False))
    return 0
