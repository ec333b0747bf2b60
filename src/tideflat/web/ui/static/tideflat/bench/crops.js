// The chosen crop under the hand: shown where it would be, sent when it is let go.

import { now, stage } from "./state.js";
import { change } from "./requests.js";

export const chosenCrop = () => document.querySelector("#frame-crops .crop.chosen");

export function forgetCropBases() {
  document.querySelectorAll("#frame-crops rect").forEach((n) => delete n.base);
}

export function moveCrop(dx, dy) {
  // The chosen crop shifted by drawing units, kept inside the frame; returns its middle as fractions.
  const crop = chosenCrop(), base = crop.base || (crop.base = crop.getBBox());
  const [w, h] = now.geometry.frame;
  const x = Math.min(Math.max(base.x + dx, 0), w - base.width), y = Math.min(Math.max(base.y + dy, 0), h - base.height);
  crop.setAttribute("x", x);
  crop.setAttribute("y", y);
  const veil = document.querySelector("#frame-crops .veil");
  if (veil) veil.setAttribute("d", `M0 0H${w}V${h}H0ZM${x} ${y}V${y + base.height}H${x + base.width}V${y}Z`);
  const copy = document.querySelector("#frame-crops .copy.chosen");
  if (copy) {
    const room = copy.base || (copy.base = copy.getBBox());
    copy.setAttribute("x", room.x + x - base.x);
    copy.setAttribute("y", room.y + y - base.y);
  }
  return [(x + base.width / 2) / w, (y + base.height / 2) / h];
}

export function dropCrop(middle) {
  forgetCropBases();
  change("crop", { name: stage().dataset.crop, u: middle[0].toFixed(5), v: middle[1].toFixed(5) });
}

// Crops whose lines are not shown in this window, by name.
const unshown = new Set();

export function showCrops() {
  document.querySelectorAll("[data-of-crop]").forEach((n) => { n.style.display = unshown.has(n.dataset.ofCrop) ? "none" : ""; });
  document.querySelectorAll("[data-crop-shown]").forEach((n) => { n.checked = !unshown.has(n.dataset.cropShown); });
}

export function listenToCrops() {
  document.addEventListener("change", (event) => {
    const name = event.target.dataset.cropShown;
    if (name === undefined) return;
    if (event.target.checked) unshown.delete(name);
    else unshown.add(name);
    showCrops();
  });
}
