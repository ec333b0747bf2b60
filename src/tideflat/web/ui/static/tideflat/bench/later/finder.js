// One line finds every act by its words and shows its key: those of the keys, and every button that is there now.

import { byId } from "../state.js";
import { DEEDS, LETTERS, lettersWork, SAID } from "../deeds.js";

const wordsOf = (node) => (node.getAttribute("aria-label") || node.textContent).replace(/\s+/g, " ").trim();

function buttons() {
  const found = [...document.querySelectorAll("#stage [data-do], #stage [data-act]")].filter((n) => n.localName === "button" && !n.disabled && !n.closest(".finding, .store, table") && n.offsetParent);
  return found.map((node) => ({ key: "", words: wordsOf(node), deed: () => node.click() })).filter((d) => d.words);
}

let listed = [];

function list(text) {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const fits = (d) => d.words && words.every((w) => d.words.toLowerCase().includes(w) || d.key.toLowerCase() === w);
  const now = DEEDS.filter((d) => d.words && d.when()), seen = new Set(now.map((d) => d.words));
  listed = [...now, ...(words.length ? buttons().filter((d) => !seen.has(d.words)) : []), ...SAID].filter(fits);
  const place = byId("deeds-found");
  place.replaceChildren(...listed.map((d, k) => {
    const line = document.createElement(d.deed ? "button" : "p");
    line.className = "found-deed";
    if (d.deed) { line.type = "button"; line.dataset.found = k; }
    const key = document.createElement("kbd"), said = document.createElement("span");
    key.textContent = d.key;
    key.hidden = !d.key;
    said.textContent = d.words;
    line.append(key, said);
    return line;
  }));
  byId("deeds-count").textContent = words.length ? (listed.length ? `${listed.length} found` : "No act is called that here.") : "";
}

function perform(deed) {
  byId("keys").close();
  if (deed && deed.deed) deed.deed();
}

export function fill() {
  // The dialog is open already, and something may have been typed.
  const field = byId("keys").querySelector('[type="search"]');
  listen();
  byId("letters").checked = lettersWork();
  list(field.value);
}

let isHeard = false;
function listen() {
  if (isHeard) return;
  isHeard = true;
  const dialog = byId("keys");
  dialog.addEventListener("input", (event) => { if (event.target.type === "search") list(event.target.value); });
  dialog.addEventListener("change", (event) => { if (event.target.id === "letters") localStorage.setItem(LETTERS, event.target.checked ? "on" : "off"); });
  dialog.addEventListener("submit", (event) => {
    event.preventDefault();
    perform(listed.find((d) => d.deed));
  });
  dialog.addEventListener("click", (event) => {
    if (event.target.closest("[data-close-keys]")) return dialog.close();
    const found = event.target.closest("[data-found]");
    if (found) perform(listed[Number(found.dataset.found)]);
  });
}
