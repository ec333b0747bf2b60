"""The commands `propose` and `build`: arrangements of a scene, and how one is built on the table."""

from __future__ import annotations

import json
import time
from dataclasses import asdict

from tideflat.command_line import bytes_of, cross_of, options_of, refuse, setup_of, whole_of, yes_of

PROPOSE_USAGE = "tideflat propose SCENE.tideflat.json [--setup NAME] [--scheme any] [--count 8] [--seed 1] [--together no]"
BUILD_USAGE = "tideflat build SCENE.tideflat.json [--setup NAME] [--cross X,Y] [--drift yes|no]"


def propose(arguments: list[str]) -> int:
    """Print arrangements worth starting from as one JSON object; a wish that cannot be met is told as its reason, and is no error."""
    from tideflat.core.arrange.propose import propose as proposed
    from tideflat.core.arrange.propose import scheme_named
    from tideflat.core.errors import FieldError, TideflatError
    from tideflat.core.evaluate import Picture
    from tideflat.core.formats.scene_reader import read_scene

    try:
        files, options = options_of(arguments, ("--setup", "--scheme", "--count", "--seed", "--together"))
        if len(files) != 1:
            return refuse(f"arguments: must be one scene document; usage: {PROPOSE_USAGE}")
        count, seed = (whole_of(options, name, usual, most) for name, usual, most in (("--count", 8, 24), ("--seed", 1, 2**32 - 1)))
        scheme = scheme_named(options["--scheme"]) if "--scheme" in options else None
        together = yes_of(options, "--together", False)
        scene = read_scene(bytes_of(files[0]))
        setup = setup_of(scene, options)
        began = time.perf_counter()
        found = proposed(Picture(scene, setup), scheme=scheme, count=count, seed=seed, helpers=2, together=together)
        value = {"proposals": [p.value() for p in found.proposals], "seconds": round(time.perf_counter() - began, 3)}
    except OSError as error:
        return refuse(f"{files[0]}: must be a file that can be read ({error.strerror or error})")
    except FieldError as error:
        return refuse(f"--{error}")
    except TideflatError as error:
        return refuse(str(error))
    if found.reason is not None:
        value["reason"] = found.reason
    print(json.dumps(value, ensure_ascii=False, allow_nan=False))
    return 0


def build(arguments: list[str]) -> int:
    """Print the order in which a set-up is built, where each thing goes, and how far it may drift, as one JSON object."""
    from tideflat.core.arrange.building import build_order, to_borrow
    from tideflat.core.arrange.drift import drift, fussiest
    from tideflat.core.errors import FieldError, TideflatError
    from tideflat.core.evaluate import Picture
    from tideflat.core.formats.scene_reader import read_scene

    files: list[str] = []
    try:
        files, options = options_of(arguments, ("--setup", "--cross", "--drift"))
        if len(files) != 1:
            return refuse(f"arguments: must be one scene document; usage: {BUILD_USAGE}")
        cross = cross_of(options.get("--cross"))
        is_drifted = yes_of(options, "--drift", True)
        scene = read_scene(bytes_of(files[0]))
        picture = Picture(scene, setup_of(scene, options))
        steps = build_order(picture, cross)
        drifts = {s.id: drift(picture, s.id) for s in steps} if is_drifted else {}
    except OSError as error:
        return refuse(f"{files[0]}: must be a file that can be read ({error.strerror or error})")
    except FieldError as error:
        return refuse(f"--{error}")
    except TideflatError as error:
        return refuse(str(error))
    told = [{**asdict(s), "drift": drifts[s.id].value() if s.id in drifts else None} for s in steps]
    wanted = [
        {"name": w.prop.name, "count": w.count, "sides": list(w.prop.shape.sides()), "hex": w.prop.colours[0].hex, "finish": w.prop.finish}
        for w in to_borrow(picture)
    ]
    value = {"steps": told, "fussiest": [d.id for d in fussiest(drifts.values())], "to_borrow": wanted}
    print(json.dumps(value, ensure_ascii=False, allow_nan=False))
    return 0
