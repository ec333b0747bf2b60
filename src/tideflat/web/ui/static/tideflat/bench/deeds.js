// Every act that has a key: what it is called, when it can be done, what it does. The keys and the finder read the same list.

import { byId, mayChange, now, stage } from "./state.js";
import { change, keepVersion, openTray, say } from "./requests.js";
import { setDrawer } from "./drawer.js";
import { heldIds } from "./hand.js";
import { select, selectAll, selectNext } from "./holding.js";
import { changeScope, showMore } from "./pressing.js";
import { toggleMagnets } from "./magnets.js";
import { toggleDrawing } from "./places.js";
import { searchStores } from "./typing.js";
import { lookInto, showAll, zoomStep } from "./zoom.js";

export const LETTERS = "tideflat-letters"; // "off": single letters do nothing (WCAG 2.1.4)
export const lettersWork = () => localStorage.getItem(LETTERS) !== "off";

const always = () => true;
const one = () => mayChange() && heldIds().length === 1;
const some = () => mayChange() && heldIds().length > 0;
const many = () => mayChange() && heldIds().length > 1;
const ids = () => ({ ids: heldIds().join(" ") });
const showView = (name) => document.querySelector(`.show-switch [data-view=${name}]`).click();

function openDecision(way) {
  const all = [...document.querySelectorAll(".decision")], at = all.findIndex((n) => n.hasAttribute("aria-current"));
  setDrawer(true);
  openTray(all[(at + way + all.length) % all.length].dataset.value);
}

const TRIES = 40, EACH_MS = 50; // the strip comes after its drawer
function openProposals(tries = TRIES) {
  if (tries === TRIES) { setDrawer(true); openTray("things"); }
  const press = document.querySelector(".propose-form .press");
  if (press) press.focus();
  else if (tries) setTimeout(() => openProposals(tries - 1), EACH_MS);
}

// What is done with one thing by its own verb, with several by another.
const both = (single, several) => () => (many() ? change(several, ids()) : change(single, { id: heldIds()[0] }));

export const DEEDS = [
  { key: "n", words: "take the next thing in hand", when: always, deed: () => selectNext(1) },
  { key: "p", words: "take the previous thing in hand", when: always, deed: () => selectNext(-1) },
  { key: "a", words: "add from the stores: search", when: mayChange, deed: searchStores },
  { key: "g", words: "again: one more of what was put down last", when: mayChange, deed: () => change("again", {}) },
  { key: "r", words: "arrangements proposed: how else it might stand", when: mayChange, deed: () => openProposals() },
  { key: "Enter", words: "all that can be done with what is in hand", when: () => heldIds().length > 0, deed: showMore },
  { key: "c", words: "look into it: it fills both views", when: () => heldIds().length === 1, deed: lookInto },
  { key: "d", words: "duplicate", when: some, deed: both("duplicate", "duplicate-all") },
  { key: "l", words: "lock where it is, or unlock", when: some, deed: both("lock", "lock-all") },
  { key: "h", words: "leave out of this set-up, or bring back", when: one, deed: () => change("hide", { id: heldIds()[0] }) },
  { key: "f", words: "focus on it", when: one, deed: () => change("camera", { field: "focus", value: heldIds()[0] }) },
  { key: "j", words: "register: guides on its outline, so that it comes back there", when: one, deed: () => change("register", { id: heldIds()[0] }) },
  { key: "z", words: "what will be sharp", when: always, deed: () => { setDrawer(true); openTray("sharp"); } },
  { key: "m", words: "draw over it, in the frame, a place that must be seen", when: one, deed: () => { setDrawer(true); if (!toggleDrawing()) openTray("held").then(toggleDrawing); } },
  { key: "i", words: "on one line, as the lens sees", when: many, deed: () => change("line-up", ids()) },
  { key: "s", words: "share out the gaps, as the lens sees", when: many, deed: () => change("share-out", ids()) },
  { key: "q", words: "square to the frame", when: some, deed: () => change("square-up", ids()) },
  { key: "v", words: "facing the lens", when: some, deed: () => change("face-lens", ids()) },
  { key: "w", words: "mirrored, as the lens sees", when: many, deed: () => change("mirror", ids()) },
  { key: "k", words: "keep together", when: many, deed: () => change("together", ids()) },
  { key: "Delete", words: "take away", when: some, deed: both("remove", "remove-all") },
  { key: "Backspace", words: "", when: some, deed: both("remove", "remove-all") },
  { key: "o", words: "change in this set-up only, or on the table shared by all", when: () => mayChange() && Boolean(document.querySelector('[data-act="scope"]')), deed: changeScope },
  { key: "y", words: "keep this as a version", when: mayChange, deed: () => { setDrawer(true); keepVersion(); } },
  { key: "e", words: "versions: choose between what was kept", when: always, deed: () => { setDrawer(true); openTray("versions"); } },
  { key: "u", words: "every step, with who and when", when: always, deed: () => { setDrawer(true); openTray("steps"); } },
  { key: "t", words: "open or close the drawer", when: always, deed: () => setDrawer(byId("bench").dataset.drawer !== "open") },
  { key: "(", words: "the decision before", when: always, deed: () => openDecision(-1) },
  { key: ")", words: "the next decision", when: always, deed: () => openDecision(1) },
  { key: "1", words: "both views", when: always, deed: () => showView("both") },
  { key: "2", words: "the frame alone", when: always, deed: () => showView("frame") },
  { key: "3", words: "the table alone", when: always, deed: () => showView("table") },
  { key: "4", words: "light: what gives it, what it does, and the proof", when: always, deed: () => { setDrawer(true); openTray("light"); } },
  { key: "x", words: "magnets on, or off", when: mayChange, deed: () => say(toggleMagnets() ? "Magnets are on: where a thing lingers near a line, it goes to it." : "Magnets are off.") },
  { key: "b", words: "the rest gives way to what is carried, or stands still", when: mayChange, deed: () => document.querySelector("[data-gives]").click() },
  { key: "+", words: "nearer, about what is in hand", when: always, deed: () => zoomStep(1.5) },
  { key: "-", words: "further", when: always, deed: () => zoomStep(1 / 1.5) },
  { key: "0", words: "show all of both views", when: always, deed: showAll },
];

// Said in the list of keys; done where they are pressed.
export const SAID = [
  { key: "← → ↑ ↓", words: "move 5 mm on the table; with Shift 50, with Alt 1; with nothing in hand, the chosen crop by 1 %" },
  { key: ", .", words: "turn by 5°" },
  { key: "[ ]", words: "lower, raise by 5 mm" },
  { key: "← , Del", words: "on a light, card or stand that has focus: carried 50 mm (with Shift 200, with Alt 5), turned, taken away" },
  { key: "Shift", words: "with a press: one more thing in hand; a press drawn round things takes them all" },
  { key: "Ctrl A", words: "everything in hand" },
  { key: "Ctrl Z", words: "undo; with Shift, redo" },
  { key: "Esc", words: "out of a field, then let go" },
  { key: "Alt", words: "with a drag: stays level on the table, whatever is under it" },
  { key: "Ctrl", words: "with a drag: without magnets" },
  { key: "Space", words: "with a drag: carry the view; the wheel brings it nearer" },
  { key: "Shift", words: "with a drag in the frame, low camera: in depth" },
];

export function letGo() {
  if (heldIds().length) select("");
}

export const everything = () => { if (now.geometry && stage()) selectAll(); };
