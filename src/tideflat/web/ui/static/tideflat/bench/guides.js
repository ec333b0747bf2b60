// The set-up's own guides: lines across the frame, and where they run on the table; dragged in either view, dropped outside they are gone.

import { byId, mayChange, now } from "./state.js";
import { change } from "./requests.js";
import { clearOver, make } from "./overlays.js";
import { onPlane, viewsOf } from "./projection.js";

const STEPS = 24;

function lineOf(axis, at, view) {
  // Places of the line in one view; in the table view where the lens sees it on the table's top.
  const [w, h] = now.geometry.frame, found = [];
  for (let k = 0; k <= STEPS; k++) {
    const q = axis === "u" ? [at * w, (k / STEPS) * h] : [(k / STEPS) * w, at * h];
    const p = view === "frame" ? q : onPlane(now.geometry, q[0], q[1], [0, 0, 0], [0, 0, 1]);
    if (p) found.push(view === "frame" ? q : [p[0], now.geometry.table[1] - p[1]]);
  }
  return found.map((p) => p[0].toFixed(1) + " " + p[1].toFixed(1)).join(" ");
}

export function drawGuides() {
  clearOver("guide");
  if (!now.geometry) return;
  const held = now.drag && now.drag.grip === "guide" ? now.drag : null;
  now.geometry.guides.forEach(([axis, own, locked, ends], index) => {
    if (ends) return drawSlanted(ends);
    const at = held && held.index === index ? held.share : own;
    for (const view of ["frame", "table"]) {
      const points = lineOf(axis, at, view);
      if (!points) continue;
      byId(view + "-over").append(make("polyline", { class: "over-guide guide-own", points }));
      if (mayChange() && !locked) byId(view + "-over").append(make("polyline", { class: "over-guide own-catch", points, "data-grip": "guide", "data-index": index, "data-axis": axis }));
    }
  });
}

function drawSlanted(ends) {
  const [w, h] = now.geometry.frame;
  byId("frame-over").append(make("polyline", { class: "over-guide guide-own", points: ends.map(([u, v]) => (u * w).toFixed(1) + " " + (v * h).toFixed(1)).join(" ") }));
}

export function carryGuide(drag) {
  const [x, y] = drag.at, q = drag.view === "frame" ? [x, y] : viewsOf(now.geometry).frame.point([x, now.geometry.table[1] - y, 0]);
  if (!q) return;
  const k = drag.axis === "u" ? 0 : 1;
  drag.share = q[k] / now.geometry.frame[k];
  drawGuides();
}

export function dropGuide(drag) {
  const at = drag.share, isInside = at > 0 && at < 1;
  change("guide", isInside ? { index: drag.index, at: at.toFixed(5) } : { index: drag.index });
}
