"""What changed between two scenes, as RFC 6902 operations on the document of the first."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..formats.scene_writer import scene_value
from ..model import Scene


def patch(before: Scene, after: Scene) -> tuple[dict[str, Any], ...]:
    """The operations: ``add`` sets a member of an object, whether it is there or not; ``remove`` takes one away. Lists whose length changes
    are set whole. Objects that were empty are set whole too, as a document may leave them out."""
    return tuple(_differences(scene_value(before), scene_value(after), ""))


def _differences(old: Any, new: Any, path: str) -> Iterator[dict[str, Any]]:
    if old == new:
        return
    if isinstance(old, dict) and isinstance(new, dict) and old and new:
        for key in old:
            if key not in new:
                yield {"op": "remove", "path": f"{path}/{key}"}
        for key, value in new.items():
            if key in old:
                yield from _differences(old[key], value, f"{path}/{key}")
            else:
                yield {"op": "add", "path": f"{path}/{key}", "value": value}
    elif isinstance(old, list) and isinstance(new, list) and len(old) == len(new) and all(isinstance(v, dict) for v in (*old, *new)):
        for i in range(len(old)):
            yield from _differences(old[i], new[i], f"{path}/{i}")
    else:
        yield {"op": "add", "path": path, "value": new}
