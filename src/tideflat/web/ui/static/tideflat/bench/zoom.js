// Near and far: each view zoomed about the pointer and panned. It is the window's, not the scene's: what is drawn is drawn anew, sharp.

import { byId, now } from "./state.js";
import { drawGrips, drawHandle } from "./overlays.js";

const MOST = 60, FILLS = 0.8;
const STEP = 1.0015; // of the size, for each pixel of the wheel
const near = { frame: { k: 1, x: 0, y: 0 }, table: { k: 1, x: 0, y: 0 } }; // x, y: of the left top corner, as a share of the whole
let pan = null;
let isSpace = false;

export const zoomOf = (view) => near[view].k;
export const isPanning = (event) => isSpace || event.button === 1 || fingers.size > 1;

export function applyZoom(view) {
  const svg = byId(view + "-svg"), { k, x, y } = near[view], [x0, y0, w, h] = svg.dataset.box.split(" ").map(Number);
  svg.setAttribute("viewBox", [x0 + x * w, y0 + y * h, w / k, h / k].join(" "));
  svg.classList.toggle("near", k > 1);
  for (const id of [view + "-over", "table-ruler"]) {
    const node = id.startsWith(view) && byId(id);
    if (node) node.style.fontSize = Number(node.getAttribute("font-size")) / k + "px"; // words keep their size
  }
}

function set(view, k, x, y) {
  const size = Math.min(MOST, Math.max(1, k)), most = 1 - 1 / size;
  Object.assign(near[view], { k: size, x: Math.min(most, Math.max(0, x)), y: Math.min(most, Math.max(0, y)) });
  applyZoom(view);
  if (now.geometry) { drawHandle(); drawGrips(); }
}

function shares(view, clientX, clientY) {
  // Where a place on the screen is in the whole drawing.
  const svg = byId(view + "-svg"), [x0, y0, w, h] = svg.dataset.box.split(" ").map(Number);
  const p = new DOMPoint(clientX, clientY).matrixTransform(svg.getScreenCTM().inverse());
  return [(p.x - x0) / w, (p.y - y0) / h];
}

export function zoomAt(view, clientX, clientY, by) {
  const { k, x, y } = near[view], [u, v] = shares(view, clientX, clientY), next = Math.min(MOST, Math.max(1, k * by));
  set(view, next, u - ((u - x) * k) / next, v - ((v - y) * k) / next);
}

function panBy(view, from, to) {
  const [a, b] = [shares(view, ...from), shares(view, ...to)], { k, x, y } = near[view];
  set(view, k, x - (b[0] - a[0]), y - (b[1] - a[1]));
}

export function showAll() {
  for (const view of ["frame", "table"]) set(view, 1, 0, 0);
}

export function zoomStep(by) {
  // By keys: about the thing in hand, or the middle.
  for (const view of ["frame", "table"]) {
    const held = document.querySelector(`#${view}-things .thing.held`), box = (held || byId(view + "-svg")).getBoundingClientRect();
    zoomAt(view, box.left + box.width / 2, box.top + box.height / 2, by);
  }
}

export function lookInto() {
  // What is in hand fills both views: a dish is a small table of its own.
  showAll();
  for (const view of ["frame", "table"]) {
    const held = document.querySelector(`#${view}-things .thing.held`), whole = byId(view + "-svg").getBoundingClientRect();
    if (!held) continue;
    const box = held.getBoundingClientRect(), by = FILLS * Math.min(whole.width / box.width, whole.height / box.height);
    const [u, v] = shares(view, box.left + box.width / 2, box.top + box.height / 2), k = Math.max(1, by);
    set(view, k, u - 0.5 / k, v - 0.5 / k);
  }
}

const viewUnder = (event) => { const svg = event.target.closest && event.target.closest("svg.picture"); return svg && svg.dataset.view; };

// Two fingers: apart and together they zoom, along they pan; turned, they turn what is in hand.
const fingers = new Map();
let pinch = null;

function onDown(event) {
  const view = viewUnder(event);
  if (!view) return;
  if (event.pointerType === "touch") {
    fingers.set(event.pointerId, [event.clientX, event.clientY]);
    if (fingers.size === 2) pinch = { view, ...spread(), turned: 0 };
    return;
  }
  if (!isSpace && event.button !== 1) return;
  event.preventDefault();
  pan = { view, pointer: event.pointerId, at: [event.clientX, event.clientY] };
}

function spread() {
  const [a, b] = [...fingers.values()];
  return { far: Math.hypot(b[0] - a[0], b[1] - a[1]), middle: [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2], angle: (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI };
}

function onMove(turnHeld) {
  return (event) => {
    if (pan && event.pointerId === pan.pointer) {
      panBy(pan.view, pan.at, [event.clientX, event.clientY]);
      pan.at = [event.clientX, event.clientY];
    }
    if (!fingers.has(event.pointerId)) return;
    fingers.set(event.pointerId, [event.clientX, event.clientY]);
    if (!pinch || fingers.size !== 2) return;
    const next = spread();
    if (pinch.far > 0) zoomAt(pinch.view, ...next.middle, next.far / pinch.far);
    panBy(pinch.view, pinch.middle, next.middle);
    const by = ((pinch.angle - next.angle + 540) % 360) - 180;
    Object.assign(pinch, next, { turned: pinch.turned + by });
    turnHeld(pinch.turned, false);
  };
}

function onEnd(turnHeld) {
  return (event) => {
    if (pan && event.pointerId === pan.pointer) pan = null;
    if (!fingers.delete(event.pointerId) || !pinch) return;
    turnHeld(pinch.turned, true);
    pinch = null;
  };
}

export function listenToZoom(turnHeld) {
  document.addEventListener("wheel", (event) => {
    const view = viewUnder(event), root = document.documentElement;
    if (!view || (root.scrollHeight > root.clientHeight + 1 && !event.ctrlKey)) return; // where the page itself scrolls, the wheel is the page's
    event.preventDefault();
    zoomAt(view, event.clientX, event.clientY, STEP ** -(event.deltaMode ? event.deltaY * 32 : event.deltaY * (event.ctrlKey ? 4 : 1)));
  }, { passive: false });
  document.addEventListener("keydown", (event) => { if (event.key === " " && !event.target.closest("input, textarea, select, button, a, summary, [tabindex], dialog")) { isSpace = true; document.documentElement.classList.add("panning"); event.preventDefault(); } });
  document.addEventListener("keyup", (event) => { if (event.key === " ") { isSpace = false; document.documentElement.classList.remove("panning"); } });
  document.addEventListener("pointerdown", onDown, true);
  document.addEventListener("pointermove", onMove(turnHeld));
  for (const kind of ["pointerup", "pointercancel"]) document.addEventListener(kind, onEnd(turnHeld));
}
