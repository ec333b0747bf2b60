// While a thing is held: readings and findings as they would be here. One question under way, stale ones dropped, fewer under load.

import { byId, now, stage } from "./state.js";
import { sent } from "./requests.js";

const SLOW = 110; // ms: an answer that took longer is given as long a rest
let under = null; // what is asked now
let wanted = null; // the newest that has not been asked

export function follow(drag, verb, values) {
  wanted = { drag, verb, values };
  if (!under) ask();
}

export function stopFollowing() {
  wanted = null;
  if (under) under.abort();
  under = null;
  const on = byId("carried-on");
  if (on) on.textContent = "";
}

async function ask() {
  const { drag, verb, values } = wanted, asking = new AbortController(), began = performance.now();
  wanted = null;
  under = asking;
  try {
    const query = new URLSearchParams({ ...sent(values) });
    const answer = await fetch(`${stage().dataset.url}follow/${verb}/?${query}`, { signal: asking.signal, priority: "low" });
    const text = answer.status === 200 ? await answer.text() : "";
    if (under !== asking) return;
    if (text) show(text, drag);
  } catch { /* dropped, or the server is away: the release will tell */ }
  if (under !== asking) return;
  const took = performance.now() - began;
  setTimeout(() => {
    if (under !== asking) return;
    under = null;
    if (wanted) ask();
  }, took > SLOW ? took : 0);
}

function show(text, drag) {
  const fresh = new DOMParser().parseFromString(text, "text/html");
  for (const id of ["readings", "above", "below"]) {
    const next = fresh.getElementById(id);
    if (next && byId(id)) window.Idiomorph.morph(byId(id), next, { morphStyle: "outerHTML" });
  }
  drag.followed = (drag.followed || 0) + 1;
  const lies = fresh.querySelector("[data-on]").dataset, thing = drag.id && now.geometry.things[drag.id];
  if (thing && lies.z) drag.lift = Number(lies.z) - thing.z;
  byId("carried-on").textContent = lies.on ? "on the " + lies.on : "";
  light(drag);
}

function light(drag) {
  // Whatever a finding says of it and another lights the other.
  const ids = drag.ids || [];
  document.querySelectorAll(".thing.touched").forEach((n) => n.classList.remove("touched"));
  document.querySelectorAll("#above .finding").forEach((f) => {
    const things = JSON.parse(f.dataset.mark).things;
    if (things.some((i) => ids.includes(i))) for (const i of things) if (!ids.includes(i)) for (const v of ["t-", "f-"]) { const n = byId(v + i); if (n) n.classList.add("touched"); }
  });
}
