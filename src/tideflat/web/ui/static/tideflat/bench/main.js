// The bench in the browser: it listens, keeps in step with the server, and holds the small states of the page (Alpine). No rules are here.

import { byId, now, readGeometry, stage } from "./state.js";
import { refresh, say } from "./requests.js";
import { drawHandle } from "./overlays.js";
import { redraw } from "./redrawing.js";
import { forgetCropBases, listenToCrops, showCrops } from "./crops.js";
import { recallDrawer } from "./drawer.js";
import { markSelected } from "./holding.js";
import { listenToPointer, tick } from "./drag.js";
import { listenToTaps } from "./taps.js";
import { listenToPointing } from "./findings.js";
import { listenToPressing } from "./pressing.js";
import { listenToSlides } from "./slides.js";
import { givesWay, letGiveWay } from "./room.js";
import { listenToKeys } from "./keys.js";
import { listenToCarrying } from "./carrying.js";
import { applyZoom, listenToZoom } from "./zoom.js";
import { turnHeld } from "./turning.js";
import { isUnsent, listenToTyping } from "./unsent.js";
import { listenToProposing, listenToRows, listenToScheme, listenToSide, listenToVersions, openFinder, settleLight, settleProof } from "./later.js";

const LOOK_MS = 4000; // between looks whether somebody else changed something

function settled() {
  if (!readGeometry()) return void refresh(); // something is missing here: have it all
  forgetCropBases();
  const drag = now.drag;
  for (const view of ["frame", "table"]) applyZoom(view);
  if (drag && (drag.grip || now.geometry.things[drag.id])) tick();
  else if (drag) { now.drag = null; document.documentElement.classList.remove("dragging"); }
  markSelected();
  if (byId("section-svg")) listenToSide();
  if (byId("frame-scheme")) listenToScheme();
  if (now.row) now.row.settled();
  showCrops();
  settleLight();
  if (byId("proof")) settleProof();
  document.querySelectorAll("[data-grid]").forEach((n) => { n.checked = gridsOn().includes(n.dataset.grid); });
}

const WHEN_REFUSED = {
  403: "Your role here does not allow this, or you were signed out. Sign in again in another window; nothing is lost.",
  404: "This is no longer there. Go back to the shelf.",
};

function listenToAnswers() {
  document.addEventListener("htmx:afterSettle", settled);
  document.addEventListener("htmx:beforeRequest", (event) => { if (event.detail.requestConfig.verb === "post") say(""); });
  document.addEventListener("htmx:afterRequest", (event) => {
    const code = event.detail.xhr ? event.detail.xhr.status : 0;
    if (event.detail.requestConfig.verb !== "post" || (code >= 200 && code < 300) || code === 409) return;
    // Not taken: what was dragged goes back to where it is.
    for (const id in now.geometry.things) redraw(id, [0, 0, 0], 0);
    drawHandle();
    refresh(); // readings and findings followed the hand
  });
  document.addEventListener("htmx:responseError", (event) => {
    say(WHEN_REFUSED[event.detail.xhr.status] || "That failed on our side. What was saved before is safe; reload and try once more.");
  });
  document.addEventListener("htmx:sendError", () => say("The server cannot be reached. Your last step is not kept; try it again when the server is back."));
}

function isIdle() {
  return !now.drag && !now.keyed && document.visibilityState === "visible" && !(document.activeElement && document.activeElement.matches("input, textarea, select"));
}

function look() {
  if (stage() && isIdle()) refresh({ if_newer_than: stage().dataset.revision });
}

function gridsOn() {
  try { return JSON.parse(localStorage.getItem("tideflat-guides") || "[]"); } catch { return []; }
}

document.addEventListener("alpine:init", () => {
  window.Alpine.data("bench", () => ({
    show: "both",
    grids: gridsOn().join(" "),
    nine: localStorage.getItem("tideflat-table-nine") || "no",
    get isNine() { return this.nine === "yes"; },
    divide() {
      this.nine = this.nine === "yes" ? "no" : "yes";
      localStorage.setItem("tideflat-table-nine", this.nine);
    },
    gives: givesWay(),
    give() { this.gives = !this.gives; letGiveWay(this.gives); },
    init() { this.show = this.$root.dataset.show; },
    get isBoth() { return this.show === "both"; },
    get isFrame() { return this.show === "frame"; },
    get isTable() { return this.show === "table"; },
    view(event) { this.show = event.currentTarget.dataset.view; },
    help() { openFinder(); },
    grid(event) {
      const chosen = new Set(gridsOn());
      if (event.target.checked) chosen.add(event.target.dataset.grid);
      else chosen.delete(event.target.dataset.grid);
      localStorage.setItem("tideflat-guides", JSON.stringify([...chosen]));
      this.grids = [...chosen].join(" ");
    },
  }));
  window.Alpine.data("choice", () => ({
    open: false,
    toggle() { this.open = !this.open; },
    close() { this.open = false; },
  }));
});

document.addEventListener("DOMContentLoaded", () => {
  const morphs = window.Idiomorph.defaults.callbacks;
  // What is the same is not sent again; what looks after itself is not overwritten.
  morphs.beforeNodeMorphed = (node, next) => !(next.nodeType === 1 && (next.hasAttribute("data-kept") || next.hasAttribute("data-cared-for") || isUnsent(node, next)));
  const isZooms = (name, node) => (name === "viewBox" && node.matches("svg.picture")) || (name === "data-box" && node.id === "table-svg") || (name === "style" && node.matches("#frame-over, #table-over, #table-ruler"));
  morphs.beforeAttributeUpdated = (name, node) =>
    !(node.hasAttribute("x-bind:" + name) || node.hasAttribute(":" + name) || (name === "style" && node.hasAttribute("x-show")) || isZooms(name, node));
  // What is being searched for is not overtaken by an answer; of anything else that has focus, children would be kept too.
  for (const kind of ["focusin", "focusout"]) {
    document.addEventListener(kind, (event) => { window.Idiomorph.defaults.ignoreActiveValue = kind === "focusin" && event.target.type === "search"; });
  }
  listenToPointer();
  listenToCrops();
  listenToTaps();
  listenToCarrying();
  listenToRows();
  listenToTyping();
  listenToProposing();
  listenToVersions();
  listenToZoom(turnHeld);
  listenToPointing();
  listenToPressing();
  listenToSlides();
  listenToKeys();
  listenToAnswers();
  recallDrawer();
  setInterval(look, LOOK_MS);
  window.addEventListener("focus", look);
  document.addEventListener("eased", () => applyZoom("table"));
  settled();
});
