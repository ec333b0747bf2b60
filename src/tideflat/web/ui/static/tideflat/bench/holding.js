// What is in hand: chosen in either view or in the list, marked in all of them, and shifted with what it carries.

import { byId, now, stage } from "./state.js";
import { openTray } from "./requests.js";
import { markDrawer, openForHand, trayAfterHand } from "./drawer.js";
import { redraw } from "./redrawing.js";
import { drawPlaces } from "./places.js";
import { clearOver, drawGrips, drawHandle, drawMeasures } from "./overlays.js";

export function select(id) {
  stage().dataset.selected = id;
  if (id) openForHand();
  const kind = id ? "held" : trayAfterHand();
  markSelected();
  openTray(kind, { selected: id });
}

function mark(kind, ids) {
  document.querySelectorAll(".thing." + kind).forEach((n) => n.classList.remove(kind));
  for (const id of ids) for (const view of ["t-", "f-"]) { const n = byId(view + id); if (n) n.classList.add(kind); }
}

export function markSelected() {
  const id = stage().dataset.selected;
  mark("held", id ? [id] : []);
  mark("apart", now.geometry.apart);
  document.querySelectorAll("[data-line]").forEach((n) => n.classList.toggle("held", n.dataset.line === id));
  const station = stage().dataset.tray === "held" ? "things" : stage().dataset.tray;
  document.querySelectorAll(".decision").forEach((n) => {
    if (n.dataset.value === station) n.setAttribute("aria-current", "true");
    else n.removeAttribute("aria-current");
  });
  markDrawer();
  drawHandle();
  drawGrips();
  drawPlaces();
}

export function selectNext(way) {
  const ids = Object.keys(now.geometry.things);
  if (!ids.length) return;
  const at = ids.indexOf(stage().dataset.selected);
  select(ids[(at + way + ids.length) % ids.length]);
}

export function shiftAll(id, shift, turn) {
  redraw(id, shift, turn);
  const thing = now.geometry.things[id];
  for (const carried of thing.carried) redraw(carried, shift, turn, thing);
  if (shift[0] || shift[1] || !turn) for (const other of thing.along) redraw(other, [shift[0], shift[1], 0], 0);
  clearOver("place"); // they come back with the answer, where they then are
  drawHandle();
  drawMeasures(id, shift);
}

export function movedValues(id, shift) {
  // What is sent of a shift: places in tenths of a millimetre; the height only when it changed.
  const thing = now.geometry.things[id];
  const values = { id, x: (thing.x + shift[0]).toFixed(1), y: (thing.y + shift[1]).toFixed(1) };
  if (shift[2]) values.z = (thing.z + shift[2]).toFixed(1);
  return values;
}
