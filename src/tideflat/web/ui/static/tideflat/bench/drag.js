// The pointer: things, their handle, the crop's grip and the camera's aim follow it at every animation frame; one request on release.

import { byId, mayChange, now, stage } from "./state.js";
import { onPlane } from "./projection.js";
import { change, say } from "./requests.js";
import { clearOver, drawGrips, LOW_CAMERA } from "./overlays.js";
import { dropCrop, moveCrop } from "./crops.js";
import { drawGhosts } from "./ghosts.js";
import { movedValues, select, shiftAll } from "./holding.js";
import { finishStroke, isDrawing, stretch } from "./places.js";
import { awaitTap, mayScroll, startsAt } from "./taps.js";

const LIFT_FROM = 18; // mm: a smaller upright move does not lift

function place(event, view) {
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(byId(view + "-svg").getScreenCTM().inverse());
  return [p.x, p.y];
}

function grabbedPoint(thing, at) {
  // The point of the thing's upright axis plane under the pointer, kept between its foot and its top.
  const r = now.geometry.camera.right;
  const hit = onPlane(now.geometry, at[0], at[1], [thing.x, thing.y, thing.z], [-r[1], r[0], 0]);
  const z = hit ? Math.min(Math.max(hit[2], thing.z), thing.top) : thing.z;
  return hit ? [hit[0], hit[1], z] : [thing.x, thing.y, thing.z];
}

function begin(event, view, more) {
  const at = place(event, view);
  now.drag = { view, from: at, at, shift: [0, 0, 0], turn: 0, moved: false, waiting: false, shiftKey: false, pointer: event.pointerId, frames: 0, began: 0, ...more };
  event.preventDefault();
}

function beginWithThing(event, id, view, handle) {
  const thing = now.geometry.things[id], at = place(event, view);
  begin(event, view, { id, handle, grabbed: grabbedPoint(thing, at), startAngle: handle ? angleAt(thing, at, view) : 0 });
  document.documentElement.classList.add("dragging");
}

function angleAt(thing, at, view) {
  const p = view === "table" ? [at[0], now.geometry.table[1] - at[1]] : onPlane(now.geometry, at[0], at[1], [thing.x, thing.y, thing.z], [0, 0, 1]);
  return p ? (Math.atan2(p[1] - thing.y, p[0] - thing.x) * 180) / Math.PI : 0;
}

function shiftOf(drag) {
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

export function tick() {
  const drag = now.drag;
  if (!drag) return;
  drag.waiting = false;
  drag.frames += 1;
  if (drag.grip) return tickGrip(drag);
  if (drag.handle) drag.turn = Math.round(angleAt(now.geometry.things[drag.id], drag.at, drag.view) - drag.startAngle);
  else drag.shift = shiftOf(drag);
  shiftAll(drag.id, drag.shift, drag.turn);
}

function tickGrip(drag) {
  const dx = drag.at[0] - drag.from[0], dy = drag.at[1] - drag.from[1];
  if (drag.grip === "place") return stretch(drag.from, drag.at);
  clearOver("grip");
  if (drag.grip === "crop") drag.middle = moveCrop(dx, dy);
  else {
    drag.shift = [dx, -dy, 0];
    // Carrying the camera is the same, in the frame, as carrying everything the other way.
    drawGhosts(now.geometry, Object.keys(now.geometry.things), () => [-dx, dy, 0], ["frame"]);
    drawGrips();
  }
}

function dropGrip(done, kept) {
  clearOver("ghost");
  if (done.grip === "place") return finishStroke(kept && done.moved);
  if (!kept || !done.moved) {
    if (done.grip === "crop" && done.moved) moveCrop(0, 0);
    drawGrips();
  } else if (done.grip === "crop") dropCrop(done.middle);
  else change("pan", { dx: done.shift[0].toFixed(1), dy: done.shift[1].toFixed(1) });
}

function onDown(event) {
  if (event.button !== 0 || !now.geometry) return;
  const svg = event.target.closest && event.target.closest("svg.picture");
  if (!svg) return;
  const view = svg.dataset.view, grip = event.target.closest("[data-grip]"), handle = event.target.closest("[data-handle]");
  if (view === "frame" && isDrawing()) return begin(event, view, { grip: "place" });
  if (grip) return begin(event, view, { grip: grip.dataset.grip });
  if (handle) return beginWithThing(event, handle.dataset.handle, view, true);
  const thing = event.target.closest(".thing"), id = thing ? thing.dataset.id : "", held = stage().dataset.selected;
  const take = () => { if (held !== id) select(id); };
  if (mayScroll(event, id && held === id)) return awaitTap(event, take);
  take();
  if (!id) return;
  if (mayChange() && !now.geometry.things[id].locked) beginWithThing(event, id, view, false);
  else if (mayChange()) say(now.geometry.things[id].name + " is locked. Unlock it to move it.");
}

function onMove(event) {
  const drag = now.drag;
  if (!drag || event.pointerId !== drag.pointer) return;
  drag.at = place(event, drag.view);
  drag.shiftKey = event.shiftKey;
  if (!drag.moved) {
    const scale = byId(drag.view + "-svg").getScreenCTM().a;
    if (Math.hypot(drag.at[0] - drag.from[0], drag.at[1] - drag.from[1]) * scale < startsAt(event)) return;
    drag.moved = true;
    drag.began = performance.now();
  }
  if (!drag.waiting) { drag.waiting = true; requestAnimationFrame(tick); }
}

function onEnd(event) {
  const done = now.drag;
  if (!done || event.pointerId !== done.pointer) return;
  const isKept = event.type === "pointerup";
  document.documentElement.classList.remove("dragging");
  if (done.moved && isKept) tick();
  now.drag = null;
  if (done.grip) return dropGrip(done, isKept);
  clearOver("held");
  window.tideflatDrag = { frames: done.frames, ms: performance.now() - done.began };
  if (!done.moved) return;
  if (!isKept) { shiftAll(done.id, [0, 0, 0], 0); clearOver("held"); return; }
  if (done.handle) change("turn", { id: done.id, turn: (now.geometry.things[done.id].turn + done.turn).toFixed(1) });
  else change("move", movedValues(done.id, done.shift));
}

export function listenToPointer() {
  document.addEventListener("pointerdown", onDown);
  document.addEventListener("pointermove", onMove);
  document.addEventListener("pointerup", onEnd);
  document.addEventListener("pointercancel", onEnd);
}
