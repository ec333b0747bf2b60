// While a thing is held: readings and findings as they would be here. One question under way, stale ones dropped, fewer under load.

import { byId, now, stage } from "./state.js";
import { drawGhosts } from "./ghosts.js";
import { sent } from "./requests.js";
import { makeRoom } from "./room.js";

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
  rest();
  const on = byId("carried-on");
  if (on) on.textContent = "";
}

async function ask() {
  const { drag, verb, values } = wanted, asking = new AbortController(), began = performance.now();
  wanted = null;
  under = asking;
  stage().dataset.following = ""; // the figures on the page lag behind the hand
  let text = "";
  try {
    const answer = await fetch(`${stage().dataset.url}follow/${verb}/?${new URLSearchParams(sent(values))}`, { signal: asking.signal, priority: "low" });
    text = answer.status === 200 ? await answer.text() : "";
  } catch { /* dropped, or the server is away: the release will tell */ }
  if (under !== asking) return;
  const took = performance.now() - began;
  // The next is asked before this one is shown: the server works while the window draws.
  const next = () => { if (under !== asking) return; if (wanted) ask(); else rest(); };
  if (took > SLOW) setTimeout(next, took);
  else next();
  if (text) show(text, drag);
}

function rest() {
  under = null;
  delete stage().dataset.following;
}

let shown = ["", "", ""];

function show(text, drag) {
  const parts = text.split("<!--part-->"), lies = new DOMParser().parseFromString(parts[0], "text/html").querySelector("[data-on]").dataset;
  const fresh = new DOMParser().parseFromString(parts.filter((part, k) => k && part !== shown[k]).join(""), "text/html");
  shown = drag.followed ? parts : ["", "", ""];
  for (const id of ["readings", "above", "below"]) {
    const next = fresh.getElementById(id);
    if (next && byId(id)) window.Idiomorph.morph(byId(id), next, { morphStyle: "outerHTML" });
  }
  drag.followed = (drag.followed || 0) + 1;
  if (lies.through) drawGhosts(JSON.parse(lies.through), Object.keys(now.geometry.things), () => [0, 0, 0], ["frame"]);
  if (lies.sharp) document.dispatchEvent(new CustomEvent("sharp", { detail: JSON.parse(lies.sharp) }));
  const thing = drag.id && now.geometry.things[drag.id];
  if (thing && lies.z) drag.lift = Number(lies.z) - thing.z;
  if (lies.room) makeRoom(drag, JSON.parse(lies.room));
  byId("carried-on").textContent = lies.on ? "on the " + lies.on : "";
  light(drag);
}

function light(drag) {
  // What a finding says of it and one other lights the other: the neighbour that it touches, hides or kisses.
  const ids = drag.ids || [];
  document.querySelectorAll(".thing.touched").forEach((n) => n.classList.remove("touched"));
  document.querySelectorAll("#above .finding").forEach((f) => {
    const things = JSON.parse(f.dataset.mark).things;
    if (things.length === 2 && things.some((i) => ids.includes(i))) for (const i of things) if (!ids.includes(i)) for (const v of ["t-", "f-"]) { const n = byId(v + i); if (n) n.classList.add("touched"); }
  });
}
