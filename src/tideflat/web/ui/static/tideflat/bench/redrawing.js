// The two drawings while something moves: every piece of a thing put through both projections.

import { byId, MASK, now, PREFIX } from "./state.js";
import { viewsOf } from "./projection.js";
import { curved, hull, pathData, piecePath, sampled, skinMatrix } from "./outlines.js";

export function movedBy(thing, shift, turn) {
  // The map of a thing's points: turned about its own (leaned) axis through its foot, then shifted.
  if (!turn) return (x, y, z) => [x + shift[0], y + shift[1], z + shift[2]];
  const t = (turn * Math.PI) / 180, a = (thing.lean * Math.PI) / 180, d = (thing.lean_toward * Math.PI) / 180;
  const k = [Math.sin(a) * Math.cos(d), Math.sin(a) * Math.sin(d), Math.cos(a)], c = Math.cos(t), s = Math.sin(t);
  return (x, y, z) => {
    const v = [x - thing.x, y - thing.y, z - thing.z], dot = (v[0] * k[0] + v[1] * k[1] + v[2] * k[2]) * (1 - c);
    return [
      thing.x + v[0] * c + (k[1] * v[2] - k[2] * v[1]) * s + k[0] * dot + shift[0],
      thing.y + v[1] * c + (k[2] * v[0] - k[0] * v[2]) * s + k[1] * dot + shift[1],
      thing.z + v[2] * c + (k[0] * v[1] - k[1] * v[0]) * s + k[2] * dot + shift[2],
    ];
  };
}

export function outlineAround(points, view) {
  // The path around places in space as one view shows them; "" when fewer than three are seen.
  const all = points.map(view.straight).filter(Boolean);
  return all.length > 2 ? pathData(curved(hull(all), view.curve, true), true) : "";
}

export function redraw(id, shift, turn, lead) {
  // What a carrier carries goes round with it: by the carrier's own map.
  const thing = now.geometry.things[id], views = viewsOf(now.geometry);
  const move = movedBy(lead || thing, shift, turn);
  for (const name of ["table", "frame"]) {
    const group = byId(PREFIX[name] + id), view = views[name];
    if (!group) continue;
    const paths = group.querySelectorAll(":scope > path");
    thing.pieces.forEach((piece, i) => {
      if (paths[i]) redrawPiece(paths[i], piece, view, MASK[name], move);
    });
    const solid = name === "table" ? thing.foot.map((p) => move(p[0], p[1], thing.z)) : seenPoints(thing, paths, move);
    const outline = outlineAround(solid, view);
    group.querySelectorAll(":scope > .outline, :scope > .hero-line").forEach((p) => p.setAttribute("d", outline));
  }
}

function redrawPiece(path, piece, view, mask, move) {
  const d = piecePath(piece, view, mask, move);
  path.setAttribute("d", d);
  if (piece[5] && d) {
    const pattern = byId(path.getAttribute("fill").slice(5, -1)), matrix = skinMatrix(piece, view, move);
    if (pattern && matrix) pattern.setAttribute("patternTransform", matrix);
  }
}

function seenPoints(thing, paths, move) {
  // Without its shadow, which is black or cast, and without pictures, which reach past it.
  const isShadow = (path) => /^#000000$|cast/.test(path.getAttribute("fill"));
  return thing.pieces.flatMap((piece, i) => (paths[i] && !piece[5] && !isShadow(paths[i]) ? sampled(piece, move) : []));
}
