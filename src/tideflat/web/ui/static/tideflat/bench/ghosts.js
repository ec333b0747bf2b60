// What would come of it: outlines where things would stand, through the camera that would see them.

import { byId, now } from "./state.js";
import { heldIds } from "./hand.js";
import { viewsOf } from "./projection.js";
import { sampled } from "./outlines.js";
import { movedBy, outlineAround } from "./redrawing.js";
import { clearOver, make } from "./overlays.js";

export function ghostOf(thing, move, name, view, kind) {
  // The outline of a thing put elsewhere, in one view.
  const solid = thing.pieces.filter((p) => p[1] & 2).slice(thing.pieces.length > 2 ? 2 : 0).filter((p) => !p[5]); // without its shadow, and without pictures, which reach past it
  const d = outlineAround(name === "table" ? thing.foot.map((p) => move(p[0], p[1], thing.z)) : solid.flatMap((p) => sampled(p, move)), view);
  if (d) byId(name + "-over").append(make("path", { class: `over-${kind} ghost`, d }));
}

export function drawGhosts(through, ids, shiftOf, names, turnOf = () => 0) {
  clearOver("ghost");
  const views = viewsOf(now.geometry, through);
  for (const id of ids) {
    const thing = now.geometry.things[id];
    if (thing) for (const name of names) ghostOf(thing, movedBy(thing, shiftOf(id), turnOf(id)), name, views[name], "ghost");
  }
}

export function showPlaces(places) {
  // An arrangement: each thing where it would stand, what it carries with it.
  clearOver("ghost");
  const views = viewsOf(now.geometry), { things } = now.geometry;
  for (const id in places) {
    const lead = things[id], [x, y, turn] = places[id];
    if (!lead) continue;
    const move = movedBy(lead, [x - lead.x, y - lead.y, 0], turn - lead.turn);
    for (const own of [id, ...lead.carried.filter((i) => !(i in places))]) for (const name of ["frame", "table"]) if (things[own]) ghostOf(things[own], move, name, views[name], "ghost");
  }
}

export const onlyHeld = () => Boolean(byId("only-held") && byId("only-held").checked);

function ofThese(places) {
  // Of an arrangement what would be taken of it.
  return onlyHeld() ? Object.fromEntries(heldIds().filter((i) => places[i]).map((i) => [i, places[i]])) : places;
}

export function showGhost(button) {
  clearOver("ghost");
  if (!button) return;
  if (button.dataset.places) return showPlaces(ofThese(JSON.parse(button.dataset.places)));
  const ghost = JSON.parse(button.dataset.ghost), [w, h] = now.geometry.frame;
  const ids = ghost.matrix ? Object.keys(now.geometry.things) : Object.keys(ghost.moves);
  drawGhosts(ghost.matrix ? ghost : now.geometry, ids, (id) => ghost.moves[id] || [0, 0, 0], ghost.matrix ? ["frame"] : ["frame", "table"], (id) => ghost.turns[id] || 0);
  for (const outline of ghost.outlines) {
    // What comes out of the stores: shown in its own colour where it would stand.
    for (const name of ["frame", "table"]) byId(name + "-over").append(make("path", { class: "over-ghost ghost fresh", d: outline[name], fill: outline.colour }));
  }
  for (const [u0, v0, u1, v1] of ghost.crops) {
    byId("frame-over").append(make("rect", { class: "over-ghost ghost", x: u0 * w, y: v0 * h, width: (u1 - u0) * w, height: (v1 - v0) * h }));
  }
}
