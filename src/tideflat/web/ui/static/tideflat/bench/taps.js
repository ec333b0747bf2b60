// A finger on what is not in hand: it may be about to scroll. A tap takes the thing; held a moment it takes it and carries it.

import { now } from "./state.js";

const STILL = 8; // pixels: a finger that has moved less has tapped
const HOLD_MS = 320; // so long and still, and the finger carries the thing

let waiting = null;

// Until the finger is in hand of something, what it does is the page's: scrolling and zooming.
export const mayScroll = (event, isItsOwn) => event.pointerType === "touch" && !isItsOwn;

export function awaitTap(event, tap, hold) {
  drop();
  waiting = { pointer: event.pointerId, x: event.clientX, y: event.clientY, tap, timer: setTimeout(() => { drop(); hold(); }, HOLD_MS) };
}

function drop() {
  if (waiting) clearTimeout(waiting.timer);
  waiting = null;
}

const isStill = (event) => Math.hypot(event.clientX - waiting.x, event.clientY - waiting.y) < STILL;

function ended(event) {
  const tap = waiting;
  if (!tap || event.pointerId !== tap.pointer) return;
  const isTap = event.type === "pointerup" && isStill(event);
  drop();
  if (isTap) tap.tap();
}

// Less than this, in pixels, is a press and no drag.
export const startsAt = (event) => (event.pointerType === "touch" ? STILL : 3);

export function listenToTaps() {
  document.addEventListener("pointermove", (event) => { if (waiting && event.pointerId === waiting.pointer && !isStill(event)) drop(); });
  document.addEventListener("pointerdown", (event) => { if (waiting && event.pointerId !== waiting.pointer) drop(); }, true); // a second finger
  for (const kind of ["pointerup", "pointercancel"]) document.addEventListener(kind, ended);
  // What is in hand, and a handle, follow the finger: the page then does not. (touch-action does not reach into a drawing.)
  document.addEventListener("touchstart", (event) => { if (event.cancelable && event.target.closest(".thing.held, .handle-grip")) event.preventDefault(); }, { passive: false });
  document.addEventListener("touchmove", (event) => { if (event.cancelable && ((now.drag && now.drag.touch) || event.touches.length > 1) && event.target.closest("svg.picture")) event.preventDefault(); }, { passive: false });
  document.addEventListener("contextmenu", (event) => { if (event.target.closest("svg.picture") && now.drag && now.drag.touch) event.preventDefault(); });
}
