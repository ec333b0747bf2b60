// Aperture and focus slid: what will be sharp follows the hand, and is kept on release.

import { byId } from "./state.js";
import { change } from "./requests.js";
import { follow, stopFollowing } from "./live.js";

const drag = {}; // what is followed: nothing on the table

function valueOf(slide) {
  const at = Number(slide.value), said = slide.dataset.said.split("|")[at];
  slide.nextElementSibling.textContent = said;
  slide.setAttribute("aria-valuetext", said);
  return slide.dataset.values.split("|")[at];
}

function drawSharp(sharp) {
  for (const view of ["table", "frame"]) {
    const path = document.querySelector(`#${view}-svg .guide-sharp`);
    if (path) path.setAttribute("d", sharp[view]);
  }
  const words = byId("zone-words");
  if (words) words.textContent = sharp.words;
  document.querySelectorAll("#tray [data-line]").forEach((row) => {
    const thing = sharp.things[row.dataset.line];
    if (!thing || row.cells.length < 3) return;
    row.className = "is-" + thing[0];
    row.cells[1].textContent = thing[1];
    row.cells[2].textContent = thing[2];
  });
}

export function listenToSlides() {
  document.addEventListener("sharp", (event) => drawSharp(event.detail));
  document.addEventListener("input", (event) => {
    const slide = event.target;
    if (slide.dataset && slide.dataset.slide) follow(drag, "camera", { field: slide.dataset.slide, value: valueOf(slide) });
  });
  document.addEventListener("change", (event) => {
    const slide = event.target;
    if (!slide.dataset || !slide.dataset.slide) return;
    stopFollowing();
    change("camera", { field: slide.dataset.slide, value: valueOf(slide) });
  });
}
