// The table view opens out to the room while Light is open.

import { byId, stage } from "../state.js";

const EASE = 320; // ms
let eased = null;

export function easeOut() {
  const svg = byId("table-svg"), wanted = stage().dataset.tray === "light" ? svg.dataset.roomBox : svg.dataset.tableBox;
  if (svg.dataset.box === wanted && !eased) return;
  const from = svg.dataset.box.split(" ").map(Number), to = wanted.split(" ").map(Number), began = performance.now();
  const still = matchMedia("(prefers-reduced-motion: reduce)").matches ? 0 : EASE;
  cancelAnimationFrame(eased);
  const step = (time) => {
    const share = still ? Math.min(1, (time - began) / still) : 1, s = share * share * (3 - 2 * share);
    svg.dataset.box = share < 1 ? from.map((v, k) => v + (to[k] - v) * s).join(" ") : wanted;
    document.dispatchEvent(new Event("eased"));
    eased = share < 1 ? requestAnimationFrame(step) : null;
  };
  eased = requestAnimationFrame(step);
}
