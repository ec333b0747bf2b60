// What is wanted now and then comes when it is wanted, not with the page.

import { heldIds } from "./hand.js";
import { sent } from "./requests.js";
import { byId, stage } from "./state.js";

export function openFinder() {
  // Open at once, so that what is typed is typed there.
  const dialog = byId("keys"), field = dialog.querySelector('[type="search"]');
  field.value = "";
  dialog.showModal();
  field.focus();
  import("./later/finder.js").then((finder) => finder.fill());
}

export function listenToRows() {
  // The form of a row shows what it would lay as soon as it is come to.
  const come = (event) => {
    if (event.target.closest && event.target.closest(".row-form")) import("./later/rowing.js").then((rowing) => rowing.showRow());
  };
  for (const kind of ["focusin", "input", "pointerover"]) document.addEventListener(kind, come);
}

export function listenToProposing() {
  // Arrangements are asked for beside everything else; what was found is asked about by the strip itself.
  const asked = (path, values) => window.htmx.ajax("POST", stage().dataset.url + path, { target: "#proposals", swap: "outerHTML", values: sent(values) });
  document.addEventListener("submit", (event) => {
    if (!event.target.matches("[data-propose]")) return;
    event.preventDefault();
    const values = Object.fromEntries(new FormData(event.target));
    asked("propose/", { ...values, way: (event.submitter && event.submitter.value) || "", keep: values.keep ? heldIds().join(" ") : "" });
  });
  document.addEventListener("click", (event) => {
    const button = event.target.closest && event.target.closest("[data-stop]");
    if (button) asked(`proposals/${button.dataset.stop}/stop/`, { away: button.dataset.away || "" });
  });
}

export function listenToVersions() {
  document.addEventListener("click", (event) => {
    const button = event.target.closest && event.target.closest("[data-compare]");
    if (button) import("./later/versions.js").then((versions) => versions.compare(button.dataset.compare));
  });
}

export const listenToSide = () => import("./later/side.js").then((side) => side.listenToSide());

export const settleLight = () => import("./later/light.js").then((light) => light.settleLight());

export const settleProof = () => import("./later/proof.js").then((proof) => proof.settleProof());

export const listenToScheme = () => import("./later/scheme.js");
