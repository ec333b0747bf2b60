// The drawer under the views: open with one decision's tools, or closed, its room left to the findings. It is the window's, not the scene's.

import { byId, stage } from "./state.js";

const KEPT = "tideflat-drawer";
// What was there before a thing was taken in hand: it comes back when the thing is let go.
let before = null;

export const isOpen = () => byId("bench").dataset.drawer === "open";

function show(open) {
  byId("bench").dataset.drawer = open ? "open" : "closed";
  document.querySelectorAll(".decision").forEach((n) => n.setAttribute("aria-expanded", String(open && n.hasAttribute("aria-current"))));
}

export function setDrawer(open) {
  before = null;
  localStorage.setItem(KEPT, open ? "open" : "closed");
  show(open);
}

export function openForHand() {
  if (!before) before = { open: isOpen(), tray: stage().dataset.tray === "held" ? "things" : stage().dataset.tray };
  show(true);
}

export function trayAfterHand() {
  // The tray that was open before the thing was taken, and whether it was.
  const was = before || { open: isOpen(), tray: "things" };
  before = null;
  show(was.open);
  return was.tray;
}

export const markDrawer = () => show(isOpen());

export function recallDrawer() {
  // An address that names a tray asks for it to be seen.
  show(localStorage.getItem(KEPT) === "open" || new URLSearchParams(location.search).has("tray"));
}
