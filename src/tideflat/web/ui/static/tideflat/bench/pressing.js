// Buttons, fields and forms of the trays: what they say they do is asked of the server.

import { stage } from "./state.js";
import { change, copyThings, openTray, refresh, travel } from "./requests.js";
import { isOpen, setDrawer } from "./drawer.js";
import { findRemedy, keepShown } from "./findings.js";
import { onlyHeld, showGhost } from "./ghosts.js";
import { select, toggle } from "./holding.js";
import { wasCarried } from "./carrying.js";
import { lookInto } from "./zoom.js";
import { strokeOf, toggleDrawing } from "./places.js";

export function showMore() {
  setDrawer(true);
  openTray("held");
}

export const changeScope = () => refresh({ only: stage().dataset.only ? "" : "1" });

const acts = {
  undo: () => travel("undo"),
  redo: () => travel("redo"),
  setup: (b) => refresh({ setup: b.dataset.value, only: "" }),
  scope: changeScope,
  "go-to": (b) => travel("go-to", { number: b.dataset.value }),
  "swap-for": (b) => openTray("store", { place: b.dataset.value }),
  crop: (b) => refresh({ crop: b.dataset.value }),
  tray: (b) => {
    const isIts = b.classList.contains("decision") && stage().dataset.tray === b.dataset.value && isOpen();
    setDrawer(!isIts);
    if (!isIts) openTray(b.dataset.value);
  },
  select: (b, event) => (event.shiftKey || event.ctrlKey ? toggle(b.dataset.value) : select(b.dataset.value)),
  "let-go": () => select(""),
  more: showMore,
  "look-in": lookInto,
  "draw-place": toggleDrawing,
  ask: (b) => openTray("brief", { ask: b.dataset.value }),
  show: keepShown,
  remedy: (b) => findRemedy(b.closest(".finding")),
};

const SENT = ["id", "ids", "axis", "index", "through", "field", "value", "preset", "item", "leaning", "key", "ratio", "at", "what", "seal", "work", "number", "body", "lens", "way", "lock"];

function freshName(wanted) {
  const taken = new Set(Array.from(document.querySelectorAll('#tray input[name="was"]'), (n) => n.value));
  let name = wanted;
  for (let n = 2; taken.has(name); n++) name = wanted + " " + n;
  return name;
}

function deed(button) {
  const d = button.dataset, values = {};
  for (const key of SENT) if (d[key] !== undefined) values[key] = d[key];
  if (d.nameValue !== undefined) values.name = d.nameValue;
  if (d.newName !== undefined) values.name = freshName(d.newName);
  const kept = d.do === "swap" && document.getElementById("swap-keep");
  if (kept) values.keep = kept.value;
  if (d.do === "take-proposal" && onlyHeld()) values.part = "1";
  showGhost(null);
  change(d.do, values);
}

function onClick(event) {
  const button = event.target.closest && event.target.closest("[data-act], [data-do]");
  if (!button) return;
  if (wasCarried()) return; // a prop that was dragged onto a view has not been pressed
  if (button.dataset.act) acts[button.dataset.act](button, event);
  else deed(button);
}

function onChange(event) {
  const d = event.target.dataset, file = event.target.files && event.target.files[0];
  if (d.doTyped) {
    const values = { typed: "1", id: d.id || "", field: d.field || "", at: d.at || "", index: d.index || "" };
    values[d.name || "value"] = event.target.value;
    if (d.also) { const [key, value] = d.also.split(":"); values[key] = value; }
    change(d.doTyped, values, event.target);
  } else if (d.doChoice) {
    change(d.doChoice, { id: d.id || "", ids: d.ids || "", at: d.at || "", field: d.field || "", [d.name]: event.target.value });
    event.target.blur(); // so that arrows work what is in hand again, and do not choose on
  }
  else if (d.copyTo !== undefined && event.target.value) {
    copyThings(d.ids, event.target.value);
    event.target.value = "";
  } else if (d.doFile && file) file.text().then((text) => change(d.doFile, { text: text.slice(0, 60000) }));
}

function onSubmit(event) {
  const form = event.target;
  if (form.dataset.form) {
    event.preventDefault();
    const values = Object.fromEntries(new FormData(form, event.submitter));
    change(form.dataset.form, Object.assign(values, strokeOf(values)));
    const search = form.querySelector('input[type="search"]');
    if (search) search.select(); // the next name is typed over it
  } else if (form.hasAttribute("data-find")) event.preventDefault();
}

export function listenToPressing() {
  document.addEventListener("click", onClick);
  document.addEventListener("change", onChange);
  document.addEventListener("submit", onSubmit);
}
