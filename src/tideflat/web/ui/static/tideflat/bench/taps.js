// A finger on what is not in hand: it may be about to scroll, so that only a tap takes the thing, or lets go of what is held.

const STILL = 8; // pixels: a finger that has moved less has tapped

let waiting = null;

// Until the finger is in hand of something, what it does is the page's: scrolling and zooming.
export const mayScroll = (event, isItsOwn) => event.pointerType === "touch" && !isItsOwn;

export function awaitTap(event, act) {
  waiting = { pointer: event.pointerId, x: event.clientX, y: event.clientY, act };
}

function ended(event) {
  const tap = waiting;
  if (!tap || event.pointerId !== tap.pointer) return;
  waiting = null;
  if (event.type === "pointerup" && Math.hypot(event.clientX - tap.x, event.clientY - tap.y) < STILL) tap.act();
}

// Less than this, in pixels, is a press and no drag.
export const startsAt = (event) => (event.pointerType === "touch" ? STILL : 3);

export function listenToTaps() {
  document.addEventListener("pointerup", ended);
  document.addEventListener("pointercancel", ended);
  // What is in hand, and a handle, follow the finger: the page then does not. (touch-action does not reach into a drawing.)
  document.addEventListener("touchstart", (event) => { if (event.cancelable && event.target.closest(".thing.held, .handle-grip")) event.preventDefault(); }, { passive: false });
}
