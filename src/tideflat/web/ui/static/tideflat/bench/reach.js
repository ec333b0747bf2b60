// From the pointer to the table: where it is in a view, and how far what it holds has been carried or turned.

import { byId, now } from "./state.js";
import { onPlane } from "./projection.js";
import { LOW_CAMERA } from "./overlays.js";

const LIFT_FROM = 18; // mm: a smaller upright move does not lift

export function place(event, view) {
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(byId(view + "-svg").getScreenCTM().inverse());
  return [p.x, p.y];
}

export function onTable(event, view, z = 0) {
  // The place on the table under the pointer, mm; null where the lens sees none.
  const [x, y] = place(event, view);
  return view === "table" ? [x, now.geometry.table[1] - y] : onPlane(now.geometry, x, y, [0, 0, z], [0, 0, 1]);
}

export function grabbedPoint(thing, at) {
  // The point of the thing's upright axis plane under the pointer, kept between its foot and its top.
  const r = now.geometry.camera.right;
  const hit = onPlane(now.geometry, at[0], at[1], [thing.x, thing.y, thing.z], [-r[1], r[0], 0]);
  const z = hit ? Math.min(Math.max(hit[2], thing.z), thing.top) : thing.z;
  return hit ? [hit[0], hit[1], z] : [thing.x, thing.y, thing.z];
}

export function angleAt(pivot, at, view) {
  const p = view === "table" ? [at[0], now.geometry.table[1] - at[1]] : onPlane(now.geometry, at[0], at[1], [pivot.x, pivot.y, pivot.z], [0, 0, 1]);
  return p ? (Math.atan2(p[1] - pivot.y, p[0] - pivot.x) * 180) / Math.PI : 0;
}

export function shiftOf(drag) {
  const geometry = now.geometry, thing = geometry.things[drag.id];
  if (drag.view === "table") return [drag.at[0] - drag.from[0], -(drag.at[1] - drag.from[1]), 0];
  const r = geometry.camera.right, isLow = geometry.camera.elevation < LOW_CAMERA, normal = isLow ? [-r[1], r[0], 0] : [0, 0, 1];
  const a = onPlane(geometry, drag.from[0], drag.from[1], drag.grabbed, normal), b = onPlane(geometry, drag.at[0], drag.at[1], drag.grabbed, normal);
  if (!a || !b) return drag.shift;
  if (!isLow) return [b[0] - a[0], b[1] - a[1], 0];
  const across = (b[0] - a[0]) * r[0] + (b[1] - a[1]) * r[1];
  let up = b[2] - a[2];
  if (drag.shiftKey) return [across * r[0] - up * r[1], across * r[1] + up * r[0], 0]; // depth, on purpose
  if (Math.abs(up) < LIFT_FROM) up = 0;
  return [across * r[0], across * r[1], Math.max(up, -thing.z)];
}
