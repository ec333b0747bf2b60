// The pointer: things, their handle, the crop's grip and the camera's aim follow it at every animation frame; one request on release.

import { byId, mayChange, now, stage } from "./state.js";
import { change, refresh, say } from "./requests.js";
import { clearOver, drawGrips } from "./overlays.js";
import { dropCrop, moveCrop } from "./crops.js";
import { drawGhosts } from "./ghosts.js";
import { carryGuide, drawGuides, dropGuide } from "./guides.js";
import { heldIds, pivotOf } from "./hand.js";
import { movedValues, select, shiftAll, take, toggle } from "./holding.js";
import { follow, stopFollowing } from "./live.js";
import { magnetised } from "./magnets.js";
import { finishStroke, isDrawing, stretch } from "./places.js";
import { angleAt, grabbedPoint, place, shiftOf } from "./reach.js";
import { givesWay, putBack } from "./room.js";
import { drawRound, takenRound } from "./round.js";
import { awaitTap, mayScroll, startsAt } from "./taps.js";
import { isPanning } from "./zoom.js";

function begin(event, view, more) {
  const at = place(event, view);
  now.drag = { view, from: at, at, shift: [0, 0, 0], lift: 0, turn: 0, moved: false, waiting: false, pointer: event.pointerId, touch: event.pointerType === "touch", tick, frames: 0, began: 0, ...keysOf(event), ...more };
  event.preventDefault();
}

const keysOf = (event) => ({ shiftKey: event.shiftKey, altKey: event.altKey, ctrlKey: event.ctrlKey || event.metaKey });

export function beginWithThing(event, id, view, handle) {
  const ids = heldIds().includes(id) ? heldIds() : [id], at = place(event, view), pivot = handle ? pivotOf(ids) : null;
  begin(event, view, { id, ids, handle, pivot, grabbed: grabbedPoint(now.geometry.things[id], at), startAngle: handle ? angleAt(pivot, at, view) : 0 });
}

function raise(ids) {
  // What is held hangs over everything else.
  document.documentElement.classList.add("dragging");
  for (const id of ids) for (const view of ["t-", "f-"]) { const n = byId(view + id); if (n) n.parentNode.append(n); }
}

export function releaseOf(drag) {
  // What letting go here asks for: the very same is tried while it is held.
  const { ids, id, shift, turn } = drag;
  if (ids.length > 1) return drag.handle ? ["spin", { ids: ids.join(" "), by: turn.toFixed(1) }] : ["shift", { ids: ids.join(" "), dx: shift[0].toFixed(1), dy: shift[1].toFixed(1) }];
  if (drag.handle) return ["turn", { id, turn: (now.geometry.things[id].turn + turn).toFixed(1) }];
  if (shift[2]) return ["move", movedValues(id, shift)];
  return ["let-go", { ...movedValues(id, shift), level: drag.altKey ? "1" : "", room: givesWay() ? "1" : "" }];
}

export function tick() {
  const drag = now.drag;
  if (!drag) return;
  drag.waiting = false;
  drag.frames += 1;
  if (drag.grip) return tickGrip(drag);
  if (drag.handle) drag.turn = Math.round(angleAt(drag.pivot, drag.at, drag.view) - drag.startAngle);
  else drag.shift = magnetised(drag, shiftOf(drag));
  shiftAll(drag.ids, [drag.shift[0], drag.shift[1], drag.shift[2] || drag.lift], drag.turn);
  if (drag.moved) follow(drag, ...releaseOf(drag));
}

function tickGrip(drag) {
  const dx = drag.at[0] - drag.from[0], dy = drag.at[1] - drag.from[1];
  const carried = { place: () => stretch(drag.from, drag.at), round: drawRound, guide: carryGuide, row: () => now.row.carry(drag), scheme: () => now.scheme && now.scheme.carry(drag) }[drag.grip];
  if (carried) return carried(drag);
  clearOver("grip");
  if (drag.grip === "crop") drag.middle = moveCrop(dx, dy);
  else {
    drag.shift = [dx, -dy, 0];
    // Carrying the camera is the same, in the frame, as carrying everything the other way.
    drawGhosts(now.geometry, Object.keys(now.geometry.things), () => [-dx, dy, 0], ["frame"]);
    drawGrips();
    follow(drag, "pan", { dx: dx.toFixed(1), dy: (-dy).toFixed(1) });
  }
}

function dropGrip(done, kept) {
  clearOver("ghost");
  clearOver("round");
  if (done.grip === "place") return finishStroke(kept && done.moved);
  if (done.grip === "round") return kept && (done.moved ? take(takenRound(done)) : !done.shiftKey && heldIds().length && select(""));
  if (done.grip === "row") return now.row.drop();
  if (done.grip === "scheme") return now.scheme && now.scheme.drop(done, kept && done.moved);
  if (done.grip === "guide") return kept && done.moved ? dropGuide(done) : drawGuides();
  if (!kept || !done.moved) {
    if (done.grip === "crop" && done.moved) moveCrop(0, 0);
    drawGrips();
  } else if (done.grip === "crop") dropCrop(done.middle);
  else change("pan", { dx: done.shift[0].toFixed(1), dy: done.shift[1].toFixed(1) });
}

function onDown(event) {
  if (event.button !== 0 || !now.geometry || now.drag || isPanning(event)) return;
  const svg = event.target.closest && event.target.closest("svg.picture");
  if (!svg) return;
  if (document.activeElement) document.activeElement.blur(); // keys work the thing again
  const view = svg.dataset.view, grip = event.target.closest("[data-grip]"), handle = event.target.closest("[data-handle]");
  if (view === "frame" && isDrawing()) return begin(event, view, { grip: "place" });
  if (grip) return begin(event, view, { grip: grip.dataset.grip, index: Number(grip.dataset.index), axis: grip.dataset.axis, key: grip.dataset.key });
  if (handle) return beginWithThing(event, handle.dataset.handle, view, true);
  const thing = event.target.closest(".thing"), id = thing ? thing.dataset.id : "", isHeld = heldIds().includes(id);
  const pick = () => { if (!isHeld || !id) select(id); };
  const carry = () => {
    if (mayChange() && !now.geometry.things[id].locked) beginWithThing(event, id, view, false);
    else if (mayChange()) say(now.geometry.things[id].name + " is locked. Unlock it to move it.");
  };
  if (mayScroll(event, id && isHeld)) return awaitTap(event, pick, () => { if (id) { pick(); carry(); } });
  if (!id) return begin(event, view, { grip: "round" });
  if (!event.shiftKey) pick();
  carry();
  if (event.shiftKey && !now.drag) toggle(id);
}

function onMove(event) {
  const drag = now.drag;
  if (!drag || event.pointerId !== drag.pointer) return;
  drag.at = place(event, drag.view);
  Object.assign(drag, keysOf(event));
  if (!drag.moved) {
    const scale = byId(drag.view + "-svg").getScreenCTM().a;
    if (Math.hypot(drag.at[0] - drag.from[0], drag.at[1] - drag.from[1]) * scale < startsAt(event)) return;
    drag.moved = true;
    drag.began = performance.now();
    if (!drag.grip) {
      if (!heldIds().includes(drag.id)) select(drag.id);
      raise(drag.ids);
    }
  }
  if (!drag.waiting) { drag.waiting = true; requestAnimationFrame(tick); }
}

function onEnd(event) {
  const done = now.drag;
  if (!done || event.pointerId !== done.pointer) return;
  const isKept = event.type === "pointerup";
  if (done.moved && isKept) tick();
  stopFollowing();
  document.documentElement.classList.remove("dragging");
  now.drag = null; if (done.grip) return dropGrip(done, isKept);
  for (const kind of ["held", "magnet"]) clearOver(kind);
  window.tideflatDrag = { frames: done.frames, ms: performance.now() - done.began, followed: done.followed || 0 };
  if (!done.moved) return isKept && done.shiftKey && !done.handle ? toggle(done.id) : undefined;
  if (!isKept) { shiftAll(done.ids, [0, 0, 0], 0); putBack(done); clearOver("held"); refresh(); return; }
  change(...releaseOf(done));
}

export function listenToPointer() {
  document.addEventListener("pointerdown", onDown);
  document.addEventListener("pointermove", onMove);
  document.addEventListener("pointerup", onEnd);
  document.addEventListener("pointercancel", onEnd);
}
