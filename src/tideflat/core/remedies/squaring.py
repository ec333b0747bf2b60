"""Candidates of the catalogue school: turned square, centred, set at even distances."""

from __future__ import annotations

from collections.abc import Iterator

from ..acts.things import Turn
from ..composition.relations import label
from ..evaluate import Picture
from ..findings.finding import Finding
from ..findings.order import off_square_deg
from .camera_moves import aim, shift_crop
from .candidate import Candidate, Stores, where
from .moves import is_free, move, moved, table_shift


def square_it(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """Turned by just so much; seen from above the frame turns as the table does."""
    (i,) = finding.placements
    off = off_square_deg(picture, i)
    if off is None or not is_free(picture, i):
        return
    own = picture.scene.placement(i).turn
    for by in (off, -off):
        turn = round(own + by, 2)
        figures = (("placement", i), ("turn", turn), ("degrees", round(abs(off), 2)))
        yield Candidate(
            "turn",
            figures,
            f"turn {label(picture, i)} by {abs(off):.1f} degrees",
            (Turn(placement=i, turn=turn, **where(picture, i, "turn")),),
        )


def centre_it(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The article moved to the middle of the crop; or the camera carried, or the crop shifted."""
    (i,) = finding.placements
    figures = dict(finding.figures)
    du, dv = float(figures["du"]), float(figures["dv"])
    shift = table_shift(picture, i, -du, -dv)
    if shift is not None and is_free(picture, i):
        yield move(picture, i, *shift)
    wide, high = picture.size_at_aim
    yield from aim(picture, du * wide, -dv * high)
    if finding.crop is not None:
        yield from shift_crop(picture, finding.crop, du, dv)


def even_out(picture: Picture, finding: Finding, stores: Stores) -> Iterator[Candidate]:
    """The articles between the outer two set at even gaps; or all of them, about the middle of the crop, with the mean of their gaps."""
    window = next(box for name, box in picture.windows if name == finding.crop)
    ids = sorted(finding.placements, key=lambda i: picture.silhouettes[i].box[0])
    boxes = [picture.silhouettes[i].box for i in ids]
    widths = [b[2] - b[0] for b in boxes]
    if not all(is_free(picture, i) for i in ids):
        return
    room = boxes[-1][2] - boxes[0][0] - sum(widths)
    gap = room / max(1, len(ids) - 1)
    middle = (window[0] + window[2]) / 2
    for start in (boxes[0][0], middle - (sum(widths) + gap * (len(ids) - 1)) / 2):
        acts, at, furthest = [], start, 0.0
        for i, box, wide in zip(ids, boxes, widths, strict=True):
            shift = table_shift(picture, i, at - box[0], 0.0)
            at += wide + gap
            if shift is None:
                return
            if max(abs(shift[0]), abs(shift[1])) > 0.05:
                acts.append(moved(picture, i, *shift))
                furthest = max(furthest, abs(shift[0]))
        words = f"set {len(acts)} of them at even distances, at most {furthest:.0f} mm"
        yield Candidate("move_several", (("placements", ids), ("mm", round(furthest, 1))), words, tuple(acts))


MAKERS = {"square it": square_it, "centre it": centre_it, "even out": even_out}
