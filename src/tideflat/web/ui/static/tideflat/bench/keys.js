// Keys. Whatever has focus is asked first whether it uses the key itself; what it does not use works on what is in hand, or else on the crop.

import { mayChange, now, stage } from "./state.js";
import { change, say, travel } from "./requests.js";
import { clearOver } from "./overlays.js";
import { chosenCrop, dropCrop, moveCrop } from "./crops.js";
import { DEEDS, everything, letGo, lettersWork } from "./deeds.js";
import { openFinder } from "./later.js";
import { heldIds } from "./hand.js";
import { movedValues, shiftAll } from "./holding.js";
import { stopDrawing } from "./places.js";
import { typedAhead } from "./typing.js";

const WAIT_MS = 350; // after the last press of an arrow, before the move is sent
const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
const TURNS = { ",": 5, ".": -5 };
const RAISES = { "[": -1, "]": 1 };
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
  const ids = heldIds(), things = ids.map((i) => now.geometry.things[i]), fixed = things.find((t) => t && t.locked);
  if (!things.length || things.some((t) => !t)) return;
  if (fixed) return say(fixed.name + " is locked. Unlock it to move it.");
  if (ids.length > 1 && dz) return;
  const key = ids.join(" ");
  if (!now.keyed || now.keyed.key !== key) now.keyed = { key, ids, shift: [0, 0, 0], turn: 0 };
  const keyed = now.keyed;
  keyed.shift = [keyed.shift[0] + dx, keyed.shift[1] + dy, Math.max(keyed.shift[2] + dz, -things[0].z)];
  keyed.turn += turn;
  shiftAll(ids, keyed.shift, keyed.turn);
  clearTimeout(keyed.timer);
  keyed.timer = setTimeout(keep, WAIT_MS);
}

function keep() {
  const { ids, shift, turn } = now.keyed, [id] = ids, all = ids.join(" ");
  now.keyed = null;
  clearOver("held");
  if (turn) change(...(ids.length > 1 ? ["spin", { ids: all, by: turn }] : ["turn", { id, turn: now.geometry.things[id].turn + turn }]));
  if (!shift.some(Boolean)) return;
  change(...(ids.length > 1 ? ["shift", { ids: all, dx: shift[0], dy: shift[1] }] : ["move", movedValues(id, shift)]));
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

function arrows(key, event) {
  const way = ARROWS[key];
  if (heldIds().length) {
    const size = event.shiftKey ? 50 : event.altKey ? 1 : 5;
    return () => nudge(way[0] * size, way[1] * size, 0, 0);
  }
  if (!chosenCrop()) return null;
  const share = event.shiftKey ? 0.05 : 0.01, [w, h] = now.geometry.frame;
  return () => nudgeCrop(way[0] * share * w, -way[1] * share * h);
}

function withControl(event) {
  const key = event.key.toLowerCase();
  if (key === "z") return () => { if (mayChange()) travel(event.shiftKey ? "redo" : "undo"); };
  return key === "a" ? everything : null;
}

function deedOf(event) {
  // What a key does now; null for nothing.
  const key = event.key;
  if (event.ctrlKey || event.metaKey) return withControl(event);
  if (key === "Escape") return () => { if (!stopDrawing()) letGo(); };
  if (/^[\p{L}]$/u.test(key) && !lettersWork()) return null;
  if (key === "?") return openFinder;
  const named = DEEDS.find((d) => d.key === key);
  if (named) return named.when() ? named.deed : null;
  if (!mayChange()) return null;
  if (ARROWS[key]) return arrows(key, event);
  if (!stage().dataset.selected) return null;
  const size = event.shiftKey ? 50 : event.altKey ? 1 : 5;
  if (TURNS[key]) return () => nudge(0, 0, 0, TURNS[key]);
  return RAISES[key] ? () => nudge(0, 0, RAISES[key] * size, 0) : null;
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
    if (typedAhead(event)) return event.preventDefault();
    if (event.target.matches("input, select, textarea") && leaves(event)) return;
    if (usesKey(event.target, event.key)) return;
    const deed = deedOf(event);
    if (deed) { event.preventDefault(); deed(); }
  });
}
