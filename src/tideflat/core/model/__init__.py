"""The scene as frozen values, field for field what the scene document holds: the vocabulary that everything in the core shares.

Field names are those of the document; lengths are mm, angles degrees, fractions of the frame from its top left. Only values belong here and
what is plain from them alone (which placements a set-up shows, what rests on what); geometry, optics and judgement do not.
"""

from .brief import LEANINGS, Brief, MustShow
from .camera import Camera, Readout, Sensor
from .colour import PARTS, Colour, Palette, PaletteColour
from .deliverable import GUIDE_KINDS, SIDES, CopySpace, Deliverable, Guide
from .ground import Backdrop, Lines, Room, Surface
from .kit import Support
from .lens import Converter, Lens, MeasuredField
from .light import (
    CARD_HOLDERS,
    CARD_KINDS,
    COVERS,
    LIGHT_KINDS,
    LIGHTING,
    RIG_KINDS,
    Card,
    Faced,
    Lamp,
    Light,
    Rig,
    RoomLight,
    Sheet,
    Sun,
    Window,
)
from .scene import Meant, Scene
from .setup import DIFFERING, LEFT_OUT, OWN, SCHEME_KEYS, SCHEMES, Difference, Exposure, LeftOut, Scheme, Setup, shares_all
from .things import FACES, FINISHES, HOLDERS, ROLES, Feature, Group, Motion, Placement, Prop, Skin

__all__ = [
    "CARD_HOLDERS",
    "CARD_KINDS",
    "COVERS",
    "DIFFERING",
    "FACES",
    "FINISHES",
    "GUIDE_KINDS",
    "HOLDERS",
    "LEANINGS",
    "LEFT_OUT",
    "LIGHTING",
    "LIGHT_KINDS",
    "OWN",
    "PARTS",
    "RIG_KINDS",
    "ROLES",
    "SCHEMES",
    "SCHEME_KEYS",
    "SIDES",
    "Backdrop",
    "Brief",
    "Camera",
    "Card",
    "Colour",
    "Converter",
    "CopySpace",
    "Deliverable",
    "Difference",
    "Exposure",
    "Faced",
    "Feature",
    "Group",
    "Guide",
    "Lamp",
    "LeftOut",
    "Lens",
    "Light",
    "Lines",
    "Meant",
    "MeasuredField",
    "Motion",
    "MustShow",
    "Palette",
    "PaletteColour",
    "Placement",
    "Prop",
    "Readout",
    "Rig",
    "Room",
    "RoomLight",
    "Scene",
    "Scheme",
    "Sensor",
    "Setup",
    "Sheet",
    "Skin",
    "Sun",
    "Support",
    "Surface",
    "Window",
    "shares_all",
]
