// A finding that is pointed at: its measure in both views, its remedy when there is one, and the ghost of that.

import { byId, stage } from "./state.js";
import { askInto } from "./requests.js";
import { clearOver, make } from "./overlays.js";
import { showGhost } from "./ghosts.js";

const SMALL = 14; // drawing units: what is smaller is ringed
const asked = new Map();
let pointing = 0;
let carried = null;

function light(ids) {
  document.querySelectorAll(".thing.lit").forEach((n) => n.classList.remove("lit"));
  for (const id of ids) for (const view of ["t-", "f-"]) { const n = byId(view + id); if (n) n.classList.add("lit"); }
}

function showMark(finding) {
  clearOver("mark");
  if (!finding) return light([]);
  const mark = JSON.parse(finding.dataset.mark);
  light(mark.things);
  for (const view of ["frame", "table"]) {
    const over = byId(view + "-over"), isSmall = mark[view].every(([x1, y1, x2, y2]) => Math.hypot(x2 - x1, y2 - y1) < SMALL);
    for (const [x1, y1, x2, y2] of mark[view]) over.append(make("line", { class: "over-mark mark", x1, y1, x2, y2 }));
    if (isSmall && mark[view].length) {
      const [x1, y1, x2, y2] = mark[view][0];
      over.append(make("circle", { class: "over-mark mark", cx: (x1 + x2) / 2, cy: (y1 + y2) / 2, r: 16 }));
    }
  }
  document.querySelectorAll("#frame-crops .crop").forEach((n) => n.classList.toggle("lit", mark.crop !== null && n.dataset.crop === mark.crop));
}

export function findRemedy(finding) {
  // Once for each finding and revision, when it is pointed at: a search costs the server a moment.
  const slot = finding.querySelector("[data-remedy]");
  if (!slot) return;
  const s = stage().dataset, key = finding.dataset.key, seen = s.revision + s.setup;
  if (asked.get(key) === seen) return;
  asked.set(key, seen);
  slot.dataset.looking = "yes";
  askInto(slot, "remedy/", { key, setup: s.setup }).finally(() => delete slot.dataset.looking);
}

const isHeldShown = () => document.querySelector('[data-act="show"][aria-pressed="true"]');

export function keepShown(button) {
  // Keeps a finding's mark in the views until it is pressed again, or another is.
  const on = button.getAttribute("aria-pressed") !== "true";
  document.querySelectorAll('[data-act="show"]').forEach((n) => n.setAttribute("aria-pressed", "false"));
  button.setAttribute("aria-pressed", String(on));
  showMark(on ? button.closest(".finding") : null);
}

function point(event) {
  const finding = event.target.closest && event.target.closest(".finding");
  clearTimeout(pointing);
  const ghostly = event.target.closest && event.target.closest("[data-ghost], [data-places]");
  if (ghostly || finding) showGhost(ghostly);
  if (!finding) return;
  if (!isHeldShown()) showMark(finding);
  pointing = setTimeout(() => findRemedy(finding), event.type === "focusin" ? 0 : 250);
}

function leave(event) {
  const finding = event.target.closest && event.target.closest(".finding");
  if (event.target.closest && event.target.closest("[data-ghost], [data-places]")) showGhost(null);
  if (finding && !finding.contains(event.relatedTarget)) {
    clearTimeout(pointing);
    showGhost(null);
    if (!isHeldShown()) showMark(null);
  }
}

function lightCarriers(event) {
  // A colour that is pointed at lights what carries it; what a finding has lit is its own affair.
  const carrier = event.target.closest && event.target.closest("[data-carriers]");
  if (carrier === carried) return;
  carried = carrier;
  light(carrier ? carrier.dataset.carriers.split(" ") : []);
}

export function listenToPointing() {
  for (const kind of ["mouseover", "focusin"]) {
    document.addEventListener(kind, lightCarriers);
    document.addEventListener(kind, point);
  }
  document.addEventListener("mouseout", leave);
}
