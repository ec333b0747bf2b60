// A scheme that is bent by its handles: its line and what follows it are shown as they would be, and are taken on release.

import { byId, now, stage } from "../state.js";
import { change, sent } from "../requests.js";
import { clearOver } from "../overlays.js";
import { showPlaces } from "../ghosts.js";

let asked = 0; // the newest question; an older answer is dropped
let isAsking = false;
let wanted = null;

function valuesOf(drag) {
  const [w, h] = now.geometry.frame;
  return { key: drag.key, u: (drag.at[0] / w).toFixed(4), v: (drag.at[1] / h).toFixed(4) };
}

async function ask() {
  if (isAsking || !wanted) return;
  const values = wanted, own = asked;
  wanted = null;
  isAsking = true;
  const answer = await fetch(`${stage().dataset.url}follow/bend/?${new URLSearchParams(sent(values))}`).catch(() => null);
  const text = answer && answer.status === 200 ? await answer.text() : "";
  isAsking = false;
  const found = new DOMParser().parseFromString(text.split("<!--part-->")[0], "text/html").querySelector("[data-scheme]");
  if (own === asked && found && found.dataset.scheme) show(JSON.parse(found.dataset.scheme));
  if (wanted) ask();
}

function show(scheme) {
  const line = document.querySelector("#frame-scheme path"), table = byId("table-scheme");
  if (line) line.setAttribute("d", scheme.frame);
  if (table) table.setAttribute("d", scheme.table);
  showPlaces(scheme.places);
}

function carry(drag) {
  for (const n of document.querySelectorAll("#frame-scheme circle")) {
    const grip = n.dataset.key ? n : n.nextElementSibling;
    if (grip && grip.dataset.key === drag.key) { n.setAttribute("cx", drag.at[0]); n.setAttribute("cy", drag.at[1]); }
  }
  wanted = valuesOf(drag);
  ask();
}

function drop(drag, kept) {
  asked += 1;
  wanted = null;
  clearOver("ghost");
  if (kept) change("bend", valuesOf(drag));
}

now.scheme = { carry, drop };
