// Keys. Whatever has focus is asked first whether it uses the key itself; what it does not use works on what is in hand, or else on the crop.

import { byId, mayChange, now, stage } from "./state.js";
import { change, openTray, say, travel } from "./requests.js";
import { setDrawer } from "./drawer.js";
import { clearOver } from "./overlays.js";
import { chosenCrop, dropCrop, moveCrop } from "./crops.js";
import { movedValues, select, selectNext, shiftAll } from "./holding.js";
import { changeScope } from "./pressing.js";
import { stopDrawing, toggleDrawing } from "./places.js";

const WAIT_MS = 350; // after the last press of an arrow, before the move is sent
const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
const PRESSES = ["Enter", " "];
const STEPS = [...Object.keys(ARROWS), "Home", "End", "PageUp", "PageDown"];
// What each kind of field does with keys; a field that is not named here is typed in and uses every key.
const USED_BY_INPUT = { checkbox: PRESSES, radio: [...PRESSES, ...STEPS], range: STEPS, button: PRESSES, submit: PRESSES, file: PRESSES, color: PRESSES };

function usesKey(element, key) {
  // Whether what has focus does something with the key by itself.
  if (element.closest("dialog[open]")) return true;
  if (element.isContentEditable || element.localName === "textarea" || element.localName === "select") return true;
  if (element.localName === "input") return !USED_BY_INPUT[element.type] || USED_BY_INPUT[element.type].includes(key);
  return (element.localName === "button" || element.localName === "summary" || element.localName === "a") && PRESSES.includes(key);
}

function nudge(dx, dy, dz, turn) {
  const id = stage().dataset.selected, thing = now.geometry.things[id];
  if (!thing) return;
  if (thing.locked) return say(thing.name + " is locked. Unlock it to move it.");
  if (!now.keyed || now.keyed.id !== id) now.keyed = { id, shift: [0, 0, 0], turn: 0 };
  const keyed = now.keyed;
  keyed.shift = [keyed.shift[0] + dx, keyed.shift[1] + dy, Math.max(keyed.shift[2] + dz, -thing.z)];
  keyed.turn += turn;
  shiftAll(id, keyed.shift, keyed.turn);
  clearTimeout(keyed.timer);
  keyed.timer = setTimeout(keep, WAIT_MS);
}

function keep() {
  const done = now.keyed;
  now.keyed = null;
  clearOver("held");
  if (done.turn) change("turn", { id: done.id, turn: now.geometry.things[done.id].turn + done.turn });
  if (done.shift[0] || done.shift[1] || done.shift[2]) change("move", movedValues(done.id, done.shift));
}

let cropTimer = 0;
let cropShift = [0, 0];
function nudgeCrop(dx, dy) {
  cropShift = [cropShift[0] + dx, cropShift[1] + dy];
  const middle = moveCrop(cropShift[0], cropShift[1]);
  clearOver("grip");
  clearTimeout(cropTimer);
  cropTimer = setTimeout(() => { cropShift = [0, 0]; dropCrop(middle); }, WAIT_MS);
}

function searchStores() {
  setDrawer(true);
  openTray("store").then(() => document.querySelector("#tray [type=search]").focus());
}

const showView = (name) => document.querySelector(`.show-switch [data-view=${name}]`).click();

const ANYONE = {
  n: () => selectNext(1),
  p: () => selectNext(-1),
  "?": () => byId("keys").showModal(),
  u: () => { setDrawer(true); openTray("steps"); },
  1: () => showView("both"),
  2: () => showView("frame"),
  3: () => showView("table"),
};

const ON_WHAT_IS_HELD = {
  ",": () => nudge(0, 0, 0, 5),
  ".": () => nudge(0, 0, 0, -5),
  "[": (id, size) => nudge(0, 0, -size, 0),
  "]": (id, size) => nudge(0, 0, size, 0),
  d: (id) => change("duplicate", { id }),
  l: (id) => change("lock", { id }),
  h: (id) => change("hide", { id }),
  f: (id) => change("camera", { field: "focus", value: id }),
  m: () => { if (!toggleDrawing()) openTray("held").then(toggleDrawing); },
  Delete: (id) => change("remove", { id }),
  Backspace: (id) => change("remove", { id }),
};

function arrows(key, id, event) {
  const way = ARROWS[key];
  if (id) {
    const size = event.shiftKey ? 50 : event.altKey ? 1 : 5;
    return () => nudge(way[0] * size, way[1] * size, 0, 0);
  }
  if (!chosenCrop()) return null;
  const share = event.shiftKey ? 0.05 : 0.01, [w, h] = now.geometry.frame;
  return () => nudgeCrop(way[0] * share * w, -way[1] * share * h);
}

function deedOf(event) {
  // What a key does now; null for nothing.
  const key = event.key, id = stage().dataset.selected;
  if ((event.ctrlKey || event.metaKey) && key.toLowerCase() === "z") return () => { if (mayChange()) travel(event.shiftKey ? "redo" : "undo"); };
  if (event.ctrlKey || event.metaKey) return null;
  if (key === "Escape") return () => { if (!stopDrawing() && id) select(""); };
  if (ANYONE[key]) return ANYONE[key];
  if (!mayChange()) return null;
  if (key === "a") return searchStores;
  if (key === "o") return document.querySelector('[data-act="scope"]') ? changeScope : null;
  if (ARROWS[key]) return arrows(key, id, event);
  const deed = id && ON_WHAT_IS_HELD[key], size = event.shiftKey ? 50 : event.altKey ? 1 : 5;
  return deed ? () => deed(id, size) : null;
}

function leaves(event) {
  // Out of a field with Escape, or once what was typed is done with Enter: then keys work what is in hand again.
  if (event.key === "Enter" && event.target.dataset.doTyped) setTimeout(() => event.target.blur());
  else if (event.key !== "Escape") return false;
  else event.target.blur();
  return true;
}

export function listenToKeys() {
  document.addEventListener("keydown", (event) => {
    if (!now.geometry || document.querySelector("dialog[open]")) return;
    if (event.target.matches("input, select, textarea") && leaves(event)) return;
    if (usesKey(event.target, event.key)) return;
    const deed = deedOf(event);
    if (deed) { event.preventDefault(); deed(); }
  });
}
