// The drawer under the views: open with one decision's tools, or closed, its room left to the findings. It is the window's, not the scene's.

import { byId } from "./state.js";

const KEPT = "tideflat-drawer";

export const isOpen = () => byId("bench").dataset.drawer === "open";

function show(open) {
  byId("bench").dataset.drawer = open ? "open" : "closed";
  document.querySelectorAll(".decision").forEach((n) => n.setAttribute("aria-expanded", String(open && n.hasAttribute("aria-current"))));
}

export function setDrawer(open) {
  localStorage.setItem(KEPT, open ? "open" : "closed");
  show(open);
}

export const markDrawer = () => show(isOpen());

export function recallDrawer() {
  // An address that names a tray asks for it to be seen.
  show(localStorage.getItem(KEPT) === "open" || new URLSearchParams(location.search).has("tray"));
}
