// Named places of the thing in hand: their outlines in the frame, and a new one drawn over the thing with the pointer.

import { byId, mayChange, now, stage } from "./state.js";
import { clearOver, make } from "./overlays.js";

const form = () => document.querySelector('#tray form[data-form="feature"]');
// A stroke is of the scene as it was when it was drawn; once something has changed it is over.
const isHeld = () => Boolean(now.place) && now.place.id === stage().dataset.selected && now.place.revision === stage().dataset.revision && mayChange();

// Whether the next stroke over the frame draws a place.
export const isDrawing = () => isHeld() && Boolean(form());

function outlined(corners, name, kind) {
  const over = byId("frame-over"), points = corners.map((p) => p.join(",")).join(" ");
  const lowest = corners.reduce((a, b) => (b[1] > a[1] ? b : a));
  over.append(make("polygon", { class: "over-place place" + kind, points }));
  if (name) over.append(make("text", { class: "over-place measure-text", x: lowest[0], y: lowest[1] + 30, "text-anchor": "middle" }, name));
}

export function drawPlaces() {
  // Of the thing in hand, while it is still; and the form as it is while one is drawn.
  clearOver("place");
  if (now.place && !isHeld()) now.place = null;
  for (const node of document.querySelectorAll("#tray [data-place]")) outlined(JSON.parse(node.dataset.place), node.dataset.placeName, "");
  const own = form();
  byId("frame-svg").style.touchAction = own && now.place ? "none" : ""; // a finger draws then, and does not scroll
  if (!own) return;
  const box = now.place && now.place.box;
  if (box) outlined([[box[0], box[1]], [box[2], box[1]], [box[2], box[3]], [box[0], box[3]]], "", " fresh");
  own.querySelector("[data-act]").setAttribute("aria-pressed", String(Boolean(now.place)));
  own.querySelector(".by-hand").disabled = own.querySelector(".by-hand").hidden = Boolean(now.place);
  own.querySelector(".by-stroke").hidden = !now.place;
  own.querySelector(".by-stroke").textContent = box ? "Drawn. Give it a name; draw again to change it." : "Draw a box over it, on the thing in the picture.";
}

export function toggleDrawing() {
  // False where its tray is not open yet.
  if (!form()) return false;
  now.place = now.place ? null : { id: stage().dataset.selected, revision: stage().dataset.revision };
  drawPlaces();
  return true;
}

export function stopDrawing() {
  // True when one was being drawn.
  if (!isHeld()) return false;
  now.place = null;
  drawPlaces();
  return true;
}

export function stretch(from, to) {
  now.place.box = [Math.min(from[0], to[0]), Math.min(from[1], to[1]), Math.max(from[0], to[0]), Math.max(from[1], to[1])];
  drawPlaces();
}

export function finishStroke(isKept) {
  if (!isKept) { delete now.place.box; drawPlaces(); return; }
  form().querySelector('[name="name"]').focus();
}

export function strokeOf(values) {
  // The stroke as fractions of the frame, for the form that names a place.
  if (!isHeld() || !now.place.box || values.id !== now.place.id) return {};
  const [w, h] = now.geometry.frame;
  return { stroke: now.place.box.map((v, k) => (v / (k % 2 ? h : w)).toFixed(5)).join(" ") };
}
