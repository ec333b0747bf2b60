"""Read a scene document (format tideflat-scene, version 1) into a Scene."""

from __future__ import annotations

import re
from typing import Any

from ..errors import DocumentError
from ..model import (
    LEANINGS,
    PARTS,
    Brief,
    Group,
    Meant,
    MustShow,
    Palette,
    PaletteColour,
    Placement,
    Scene,
    Setup,
)
from ..weight import refuse_too_heavy
from .ground_reader import backdrop_of, room_of, surface_of
from .light_reader import cards_of, check_suns, lights_of, rig_of
from .prop_reader import prop_of, tags_of
from .reading import Node, ident, name, parse_json, text, unique
from .scheme_reader import scheme_of
from .setup_reader import motion_of, placement_values, setup_of

FORMAT = "tideflat-scene"
VERSION = 1
#: Characters of the reason why a finding is kept on purpose.
MOST_REASON = 300
#: Minutes of retouching for one finding.
MOST_RETOUCH_MINUTES = 10_000


def read_scene(raw: bytes) -> Scene:
    """The scene in a document's bytes. Raises DocumentError, on one line with the path, when it cannot be read."""
    return scene_from_value(parse_json(raw))


def scene_from_value(value: Any) -> Scene:
    """The scene in a parsed document. Raises DocumentError."""
    top = Node(value, "")
    if top.get("format") != FORMAT:
        raise top.fail("format", f'must be "{FORMAT}"')
    if top.get("version") != VERSION or isinstance(top.get("version"), bool):
        raise top.fail("version", f"must be {VERSION}, the newest this program reads")
    props = tuple(prop_of(Node(item, path)) for item, path in top.items("props", ()))
    placements = tuple(_placement(Node(item, path)) for item, path in top.items("placements", ()))
    scene = Scene(
        title=top.name("title", "Untitled"),
        brief=_brief(top.child("brief", {})),
        surface=surface_of(top.child("surface")),
        backdrop=backdrop_of(top.child("backdrop")) if top.has("backdrop") else None,
        room=room_of(top.child("room")) if top.has("room") else None,
        props=props,
        placements=placements,
        scheme=scheme_of(top.child("scheme")) if top.has("scheme") else None,
        setups=tuple(setup_of(Node(item, path)) for item, path in top.items("setups", most=40)),
        palette=palette_of(top.child("palette")) if top.has("palette") else None,
        groups=tuple(_group(Node(item, path)) for item, path in top.items("groups", (), most=200)),
        meant=tuple(_meant(Node(item, path)) for item, path in top.items("meant", ())),
        lights=lights_of(top) if top.given("lights") else (),
        cards=cards_of(top) if top.given("cards") else (),
        rig=rig_of(top) if top.given("rig") else (),
    )
    top.close()
    if not scene.setups:
        raise DocumentError("setups", "must hold at least one set-up", [])
    _check_references(scene)
    refuse_too_heavy(scene)
    return scene


def _brief(node: Node) -> Brief:
    leanings = node.child("leanings", {})
    brief = Brief(
        story=node.text("story", ""),
        tags=tags_of(node),
        leanings=tuple((leaning, leanings.number(leaning, -1, 1, 0)) for leaning in LEANINGS),
        use=node.text("use", ""),
        must_show=tuple(must_show_of(item, path) for item, path in node.items("must_show", (), most=12)),
        mood=node.text("mood", ""),
        season=node.text("season", ""),
        finals=node.whole("finals", 1, 999) if node.has("finals") else None,
    )
    leanings.close()
    node.close()
    return brief


def must_show_of(item: Any, path: str) -> str | MustShow:
    """In words, or as a feature of a thing."""
    if not isinstance(item, dict):
        return name(item, path)
    node = Node(item, path)
    found = MustShow(node.ident("placement"), node.ident("feature"))
    node.close()
    return found


def _group(node: Node) -> Group:
    group_id = node.ident("id")
    group = Group(group_id, node.name("name", group_id), tuple(ident(item, path) for item, path in node.items("placements")))
    node.close()
    return group


#: How a finding's code is written: family, point, kind.
CODE = re.compile(r"[a-z]{1,30}\.[a-z_]{1,30}")


def _meant(node: Node) -> Meant:
    """A finding kept on purpose. Codes are not looked up: which there are is known only where they are judged."""
    code = node.get("code")
    if not isinstance(code, str) or not CODE.fullmatch(code):
        raise node.fail("code", "must be a finding's code such as spacing.tight")
    meant = Meant(
        node.name("setup"),
        code,
        tuple(ident(item, path) for item, path in node.items("placements", ())),
        text(node.get("reason", ""), node.where("reason"), MOST_REASON),
        node.maybe("retouch", 0, MOST_RETOUCH_MINUTES),
    )
    node.close()
    return meant


def palette_of(node: Node) -> Palette:
    """A palette: colours, each with its part and the share wanted."""
    found = []
    for item, path in node.items("colours", most=12):
        entry = Node(item, path)
        found.append(PaletteColour(entry.colour("hex"), entry.choice("part", PARTS), entry.number("share", 0, 1)))
        entry.close()
    node.close()
    return Palette(tuple(found))


def _placement(node: Node) -> Placement:
    placement = Placement(
        id=node.ident("id"),
        prop=node.ident("prop"),
        locked=node.flag("locked", False),
        motion=motion_of(node.child("motion")) if node.has("motion") else None,
        **placement_values(node, defaults=True),
    )
    node.close()
    return placement


def _check_references(scene: Scene) -> None:
    prop_ids = unique("props", "id", [p.id for p in scene.props])
    placement_ids = unique("placements", "id", [p.id for p in scene.placements])
    setup_names = unique("setups", "name", [s.name for s in scene.setups])
    for i, placement in enumerate(scene.placements):
        _refer(placement.prop, prop_ids, f"placements[{i}].prop", "props")
        if placement.on is not None:
            _refer(placement.on, placement_ids, f"placements[{i}].on", "placements")
            if _rests_on_itself(scene, placement):
                raise DocumentError(f"placements[{i}].on", "must not rest on itself, directly or through others", placement.on)
    for i, setup in enumerate(scene.setups):
        _check_setup(scene, setup, f"setups[{i}]", prop_ids, placement_ids)
    _check_groups(scene, placement_ids)
    _check_must_show(scene, placement_ids)
    check_suns(scene)
    for i, meant in enumerate(scene.meant):
        _refer(meant.setup, setup_names, f"meant[{i}].setup", "set-ups")
        for k, placement_id in enumerate(meant.placements):
            _refer(placement_id, placement_ids, f"meant[{i}].placements[{k}]", "placements")
    unique("meant", "", [" ".join((m.setup, m.code, *m.placements)) for m in scene.meant])


def _rests_on_itself(scene: Scene, placement: Placement) -> bool:
    return placement.on is not None and (placement.id == placement.on or placement.on in scene.carried_by(placement.id))


def _check_setup(scene: Scene, setup: Setup, path: str, prop_ids: frozenset[str], placement_ids: frozenset[str]) -> None:
    unique(f"{path}.deliverables", "name", [d.name for d in setup.deliverables])
    for k, hidden in enumerate(setup.hidden):
        _refer(hidden, placement_ids, f"{path}.hidden[{k}]", "placements")
    unique(f"{path}.hidden", "", list(setup.hidden))
    for k, guide in enumerate(setup.guides):
        if guide.of is not None:
            _refer(guide.of, placement_ids, f"{path}.guides[{k}].of", "placements")
    for at, swapped in setup.swap:
        _refer(at, placement_ids, f"{path}.swap", "placements")
        _refer(swapped, prop_ids, f"{path}.swap.{at}", "props")
    resting = []
    for difference in setup.differs:
        _refer(difference.placement, placement_ids, f"{path}.differs", "placements")
        on = dict(difference.values).get("on")
        if on is not None:
            _refer(on, placement_ids, f"{path}.differs.{difference.placement}.on", "placements")
            resting.append(difference.placement)
    if resting:  # nothing else can close a circle that the shared table has not
        here = scene.seen_in(setup)
        for placement_id in resting:
            placement = here.placement(placement_id)
            if _rests_on_itself(here, placement):
                raise DocumentError(
                    f"{path}.differs.{placement_id}.on", "must not rest on itself, directly or through others", placement.on
                )


def _check_groups(scene: Scene, placement_ids: frozenset[str]) -> None:
    unique("groups", "id", [g.id for g in scene.groups])
    grouped: set[str] = set()
    for i, group in enumerate(scene.groups):
        for k, placement_id in enumerate(group.placements):
            path = f"groups[{i}].placements[{k}]"
            _refer(placement_id, placement_ids, path, "placements")
            if placement_id in grouped:
                raise DocumentError(path, "must be in one group at most", placement_id)
            grouped.add(placement_id)


def _check_must_show(scene: Scene, placement_ids: frozenset[str]) -> None:
    """A feature has to be one of the thing's own, or of what takes its place in a set-up."""
    for i, item in enumerate(scene.brief.must_show):
        if isinstance(item, str):
            continue
        path = f"brief.must_show[{i}]"
        _refer(item.placement, placement_ids, f"{path}.placement", "placements")
        props = {scene.placement(item.placement).prop} | {prop for s in scene.setups for at, prop in s.swap if at == item.placement}
        if not any(item.feature == f.id for prop in props for f in scene.prop(prop).features):
            raise DocumentError(f"{path}.feature", "must be one of the features of what stands there", item.feature)


def _refer(value: str, known: frozenset[str], path: str, what: str) -> None:
    if value not in known:
        raise DocumentError(path, f"must name one of the {what} of this document", value)
