// A proof in the place of the frame: begun, wiped across, its lights mixed anew, its cards swapped.

import { byId, stage } from "../state.js";
import { sent } from "../requests.js";

let shownFor = "", last = null, before = null, isAgainst = false, chosen = ""; // a proof is kept with the set-up that it shows
const about = () => [stage().dataset.revision, stage().dataset.setup].join(" ");

const asked = (method, path) => window.htmx.ajax(method, stage().dataset.url + path, { target: "#proof", swap: "morph:outerHTML", values: sent({}) });

export function settleProof() {
  const proof = byId("proof"), image = byId("frame-proof");
  if (proof && shownFor !== about()) { // what was proved or mixed before is of another state, and must not stand over this one
    shownFor = about();
    if (last) before = last;
    last = null;
    image.removeAttribute("href");
    image.dataset.mixed = "";
    asked("GET", "proof/");
    return;
  }
  const picture = proof && proof.dataset.picture;
  if (picture && image.dataset.mixed !== "yes") image.setAttribute("href", picture);
  if (!picture) { image.removeAttribute("href"); image.dataset.mixed = ""; }
  if (picture) last = { picture, setup: stage().dataset.setup };
  against(picture);
  wipe();
}

function against(picture) {
  // The proof of what stood here before, under this one, where that is asked for.
  const button = byId("proof-before"), under = byId("frame-proof-before"), may = Boolean(picture && before && before.setup === stage().dataset.setup && before.picture !== picture);
  if (button) { button.hidden = !may; button.setAttribute("aria-pressed", String(may && isAgainst)); }
  const choice = byId("proof-against");
  if (choice) choice.value = chosen = Array.from(choice.options, (o) => o.value).includes(chosen) ? chosen : "";
  const shown = picture && (choice && chosen ? chosen : may && isAgainst ? before.picture : "");
  if (shown) under.setAttribute("href", shown);
  else under.removeAttribute("href");
}

function wipe() {
  const slider = byId("proof-wipe"), rect = byId("proof-clip").firstElementChild, image = byId("frame-proof");
  rect.setAttribute("width", (Number(image.getAttribute("width")) * (slider ? Number(slider.value) : 100)) / 100);
}

let mixing = false, wanted = null;

async function mix(work) {
  const read = (mark, name) => Array.from(document.querySelectorAll(`[data-${name}]`), (n) => [mark + n.dataset[name], n.value]);
  const values = Object.fromEntries([...read("s-", "mix"), ...read("c-", "swap")]);
  if (mixing) { wanted = work; return; }
  mixing = true;
  const image = byId("frame-proof"), address = `${stage().dataset.url}proof/${work}/mixed.jpg?${new URLSearchParams(values)}`;
  const loader = new Image();
  loader.src = address;
  try { await loader.decode(); image.dataset.mixed = "yes"; image.setAttribute("href", address); } catch { /* asked too often, or gone */ }
  mixing = false;
  if (wanted) { const next = wanted; wanted = null; mix(next); }
}

document.addEventListener("click", (event) => {
  const prove = event.target.closest && event.target.closest("[data-prove]"), stop = event.target.closest && event.target.closest("[data-stop-proof]");
  if (event.target.closest && event.target.closest("#proof-before")) {
    isAgainst = !isAgainst;
    const slider = byId("proof-wipe");
    if (isAgainst && slider.value === "100") slider.value = 50;
    settleProof();
  }
  if (prove) { byId("frame-proof").dataset.mixed = ""; asked("POST", "proof/begin/"); }
  if (stop) asked("POST", `proof/${stop.dataset.stopProof}/stop/`);
});
document.addEventListener("change", (event) => {
  if (event.target.dataset && event.target.dataset.swap) mix(event.target.dataset.work);
  if (event.target.id !== "proof-against") return;
  chosen = event.target.value;
  const slider = byId("proof-wipe");
  if (chosen && slider.value === "100") slider.value = 50;
  settleProof();
});
document.addEventListener("input", (event) => {
  if (event.target.id === "proof-wipe") wipe();
  if (event.target.dataset && event.target.dataset.mix) mix(event.target.dataset.work);
});
