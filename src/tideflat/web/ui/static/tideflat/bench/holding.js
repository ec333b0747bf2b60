// What is in hand, one thing or several: chosen in either view or in the list, marked in all of them, and shifted with what it carries.

import { byId, now, stage } from "./state.js";
import { drawGuides } from "./guides.js";
import { heldIds, leadsOf, pivotOf } from "./hand.js";
import { openTray } from "./requests.js";
import { markDrawer } from "./drawer.js";
import { redraw } from "./redrawing.js";
import { drawPlaces } from "./places.js";
import { clearOver, drawGrips, drawHandle, drawMeasures } from "./overlays.js";

const IN_HAND = ["held", "several", "things"]; // the table's trays: what is in hand says which of them is shown

export function take(ids) {
  const s = stage().dataset;
  s.selected = ids[0] || "";
  s.several = ids.length > 1 ? ids.join(" ") : "";
  markSelected();
  openTray(IN_HAND.includes(s.tray) ? (ids.length ? "held" : "things") : s.tray);
}

export const select = (id) => take(id ? [id] : []);

export function toggle(id) {
  const ids = heldIds();
  take(ids.includes(id) ? ids.filter((i) => i !== id) : [...ids, id]);
}

export const selectAll = () => take(Object.keys(now.geometry.things));

function mark(kind, ids) {
  document.querySelectorAll(".thing." + kind).forEach((n) => n.classList.remove(kind));
  for (const id of ids) for (const view of ["t-", "f-"]) { const n = byId(view + id); if (n) n.classList.add(kind); }
}

export function markSelected() {
  const ids = heldIds();
  mark("held", ids);
  mark("apart", now.geometry.apart);
  mark("touched", []);
  document.querySelectorAll("[data-line]").forEach((n) => n.classList.toggle("held", ids.includes(n.dataset.line)));
  const tray = stage().dataset.tray, station = IN_HAND.includes(tray) ? "things" : tray === "deliverables" ? "camera" : tray;
  document.querySelectorAll(".decision").forEach((n) => {
    if (n.dataset.value === station) n.setAttribute("aria-current", "true");
    else n.removeAttribute("aria-current");
  });
  markDrawer();
  drawHandle();
  drawGuides();
  drawGrips();
  drawPlaces();
}

export function selectNext(way) {
  const ids = Object.keys(now.geometry.things);
  if (!ids.length) return;
  const at = ids.indexOf(stage().dataset.selected);
  select(ids[(at + way + ids.length) % ids.length]);
}

export function shiftAll(ids, shift, turn) {
  // One thing turns about itself, and its group is moved along with it; several turn about their middle.
  const leads = leadsOf(ids), pivot = pivotOf(ids), several = ids.length > 1;
  for (const id of leads) {
    const thing = now.geometry.things[id], lead = several && turn ? pivot : thing;
    redraw(id, shift, turn, lead);
    for (const carried of thing.carried) redraw(carried, shift, turn, lead);
    if (!several && (shift[0] || shift[1] || !turn)) for (const other of thing.along) redraw(other, [shift[0], shift[1], 0], 0);
  }
  clearOver("place"); // they come back with the answer, where they then are
  drawHandle();
  if (!several) drawMeasures(ids[0], shift);
}

export function movedValues(id, shift) {
  // What is sent of a shift: places in tenths of a millimetre; the height only when it changed.
  const thing = now.geometry.things[id];
  const values = { id, x: (thing.x + shift[0]).toFixed(1), y: (thing.y + shift[1]).toFixed(1) };
  if (shift[2]) values.z = (thing.z + shift[2]).toFixed(1);
  return values;
}
