// A prop carried from the drawer onto either view: it is put on the table where it is let go.

import { byId, mayChange, now } from "./state.js";
import { change } from "./requests.js";
import { onTable } from "./reach.js";
import { startsAt } from "./taps.js";

let carried = null;
let ended = 0;

// Whether the press that ends now was the end of such a carrying.
export const wasCarried = () => performance.now() - ended < 60;

function picture(event) {
  const image = carried.button.querySelector("img").cloneNode();
  image.className = "carried-prop";
  byId("bench").append(image);
  carried.image = image;
  document.documentElement.classList.add("dragging");
  follow(event);
}

function follow(event) {
  carried.image.style.left = event.clientX + "px";
  carried.image.style.top = event.clientY + "px";
}

function end(event) {
  if (!carried || event.pointerId !== carried.pointer) return;
  const { image, button } = carried;
  carried = null;
  if (!image) return;
  ended = performance.now();
  image.remove();
  document.documentElement.classList.remove("dragging");
  const svg = document.elementsFromPoint(event.clientX, event.clientY).map((n) => n.closest("svg.picture")).find(Boolean);
  const at = event.type === "pointerup" && svg && onTable(event, svg.dataset.view);
  if (at) change("add", { item: button.dataset.item, x: at[0].toFixed(1), y: at[1].toFixed(1) });
}

export function listenToCarrying() {
  document.addEventListener("pointerdown", (event) => {
    const button = event.button === 0 && event.pointerType !== "touch" && event.target.closest && event.target.closest('.store-prop[data-do="add"]');
    if (button && mayChange() && now.geometry) carried = { button, pointer: event.pointerId, x: event.clientX, y: event.clientY };
  });
  document.addEventListener("pointermove", (event) => {
    if (!carried || event.pointerId !== carried.pointer) return;
    if (carried.image) follow(event);
    else if (Math.hypot(event.clientX - carried.x, event.clientY - carried.y) > 2 * startsAt(event)) picture(event);
  });
  for (const kind of ["pointerup", "pointercancel"]) document.addEventListener(kind, end);
}
