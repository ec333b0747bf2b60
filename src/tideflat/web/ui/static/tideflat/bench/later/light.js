// The scene's own light over both drawings; lights, cards and rig moved and turned from above. What is worked out comes from the server.

import { byId, mayChange, now, stage } from "../state.js";
import { change, sent } from "../requests.js";
import { easeOut } from "./easing.js";
import { settleMirrors } from "./mirrors.js";
import { begin as beginRelit, draw, end as endRelit, FINER, hasKit, HELD, keepKit, LET_GO } from "./relighting.js";

const WAIT = 40; // ms after the last change before the light is asked for
const LEAST = 3; // pixels: less is a press
let shown = "";
let asking = null;
let waiting = 0;
let held = null;

const key = () => [stage().dataset.revision, stage().dataset.setup, stage().dataset.tray === "light"].join(" ");

async function ask(values, isHeld) {
  let light = null, next = null;
  if (asking) { if (isHeld) return; asking.abort(); }
  const mine = (asking = new AbortController());
  try {
    const answer = await fetch(`${stage().dataset.url}light/?${new URLSearchParams(sent(values))}`, { signal: mine.signal, priority: "low" });
    light = answer.status === 200 ? await answer.json() : null;
    if (light && !values.told) show(light, isHeld);
    if (light && values.told) tell(light);
    else if (light && !isHeld && stage().dataset.tray === "light") next = { told: 1 };
    if (light && !isHeld && !next) settleMirrors();
  } catch { /* dropped, or the server is away */ }
  if (asking === mine) {
    asking = null;
    if (!light && !held) endRelit(); // what was drawn here does not stay without an answer
  }
  if (next && !asking) ask(next);
  if (held && held.wanted) { const next = held.wanted; held.wanted = null; ask(next, true); }
}

function put(name, address) {
  const image = byId(name);
  if (address) image.setAttribute("href", address);
  else image.removeAttribute("href");
}

function show(light, isHeld) {
  const [x0, y0, x1, y1] = light.table_box, depth = Number(byId("table-light-ground").getAttribute("height"));
  for (const name of ["frame_ground", "frame_things", "table_ground", "table_things"]) {
    const id = name.replace("_", "-light-");
    put(id, light[name]);
    put(id + "-more", light[name + "_more"]);
    if (name !== "table_things") continue;
    for (const node of [byId(id), byId(id + "-more")]) for (const [key, value] of [["x", x0], ["y", depth - y1], ["width", x1 - x0], ["height", y1 - y0]]) node.setAttribute(key, value);
  }
  if (!isHeld) for (const view of ["frame", "table"]) clip(view, light[view + "_clip"]);
  document.documentElement.classList.add("is-lit");
  if (!isHeld && !held) endRelit();
}

function tell(light) {
  // The words, and what lights are moved by, come after the picture.
  keepKit(light.live, `${light.revision} ${light.setup}`);
  if (byId("light-told")) byId("light-told").innerHTML = light.told;
}

function clip(view, outlines) {
  byId(view + "-lit-clip").replaceChildren(...Object.entries(outlines).map(([id, d]) => {
    const path = document.createElementNS("http://www.w3.org/2000/svg", "path");
    path.setAttribute("d", d);
    path.dataset.litOf = id;
    return path;
  }));
}

export function settleLight() {
  easeOut();
  if (key() === shown) return;
  clearTimeout(waiting);
  waiting = setTimeout(() => { shown = key(); ask({}); }, WAIT);
}

function place(event) {
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(byId("table-svg").getScreenCTM().inverse());
  return [p.x, Number(byId("table-light-ground").getAttribute("height")) - p.y];
}

function wish() {
  // What letting go here asks for.
  const { node, at, from, middle } = held, values = { key: node.dataset.list, id: node.dataset.light };
  if (held.turns) return { ...values, tx: (at[0] - middle[0]).toFixed(3), ty: (at[1] - middle[1]).toFixed(3) };
  return { ...values, x: (middle[0] + at[0] - from[0]).toFixed(1), y: (middle[1] + at[1] - from[1]).toFixed(1) };
}

function begin(event) {
  const node = event.button === 0 && event.target.closest && event.target.closest("[data-light]");
  if (!node || node.dataset.at === "null" || !mayChange() || !now.geometry) return;
  event.preventDefault();
  event.stopPropagation();
  node.focus();
  const at = place(event), middle = JSON.parse(node.dataset.at);
  held = { node, from: at, at, middle, turns: Boolean(event.target.closest("[data-light-turn]")), pointer: event.pointerId, x: event.clientX, y: event.clientY, moved: false, wanted: null, relit: null, drawing: 0 };
}

function carry(event) {
  if (!held || event.pointerId !== held.pointer) return;
  held.at = place(event);
  held.moved = held.moved || Math.hypot(event.clientX - held.x, event.clientY - held.y) >= LEAST;
  if (!held.moved) return;
  const { node, at, from, middle } = held, depth = Number(byId("table-light-ground").getAttribute("height"));
  if (held.turns) {
    const was = Math.atan2(from[1] - middle[1], from[0] - middle[0]), is = Math.atan2(at[1] - middle[1], at[0] - middle[0]);
    node.setAttribute("transform", `rotate(${((was - is) * 180) / Math.PI} ${middle[0]} ${depth - middle[1]})`);
  } else node.setAttribute("transform", `translate(${at[0] - from[0]} ${from[1] - at[1]})`);
  follow();
}

function follow() {
  // Drawn here where the core has sent what that takes; else asked for, as often as it answers.
  if (!hasKit(`${stage().dataset.revision} ${stage().dataset.setup}`)) {
    if (asking) held.wanted = wish();
    else ask(wish(), true);
    return;
  }
  if (asking) asking.abort();
  held.relit = held.relit || beginRelit(held.node.dataset.list, held.node.dataset.light);
  if (!held.drawing) held.drawing = requestAnimationFrame(() => { if (held) { held.drawing = 0; draw(held.relit, moved(held), HELD); } });
}

function moved({ at, from, middle, turns }) {
  const angle = (p) => Math.atan2(p[1] - middle[1], p[0] - middle[0]);
  return { middle, turn: turns ? angle(at) - angle(from) : 0, shift: turns ? [0, 0] : [at[0] - from[0], at[1] - from[1]] };
}

function end(event) {
  if (!held || event.pointerId !== held.pointer) return;
  const done = held, asked = wish();
  held = null;
  cancelAnimationFrame(done.drawing);
  if (event.type === "pointerup" && done.moved) {
    change("light-move", asked);
    if (done.relit) letGo(done);
  } else { endRelit(); done.node.removeAttribute("transform"); if (done.moved) { shown = ""; settleLight(); } }
}

function letGo({ relit, ...done }) {
  // At once, and finer when that is seen, while the core works it out.
  draw(relit, moved(done), LET_GO);
  requestAnimationFrame(() => setTimeout(() => { if (!held && document.documentElement.classList.contains("relit")) draw(relit, moved(done), FINER); }));
}

const STEPS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

function byKey(event) {
  const node = event.target.closest && event.target.closest("[data-light]");
  if (!node || node.dataset.at === "null" || !mayChange()) return;
  const [x, y] = JSON.parse(node.dataset.at), values = { key: node.dataset.list, id: node.dataset.light }, far = event.shiftKey ? 200 : event.altKey ? 5 : 50;
  if (STEPS[event.key]) change("light-move", { ...values, x: x + STEPS[event.key][0] * far, y: y + STEPS[event.key][1] * far });
  else if (event.key === "," || event.key === ".") {
    const [tx, ty] = JSON.parse(node.dataset.toward), by = ((event.key === "," ? 5 : -5) * Math.PI) / 180;
    change("light-move", { ...values, tx: (tx * Math.cos(by) - ty * Math.sin(by)).toFixed(4), ty: (tx * Math.sin(by) + ty * Math.cos(by)).toFixed(4) });
  } else if (event.key === "Delete") change("light-remove", values);
  else return;
  event.preventDefault();
  event.stopPropagation();
}

document.addEventListener("pointerdown", begin, true);
document.addEventListener("pointermove", carry);
for (const kind of ["pointerup", "pointercancel"]) document.addEventListener(kind, end);
document.addEventListener("keydown", byKey, true);
document.addEventListener("change", (event) => { if (event.target.dataset.grid === "mirrors") requestAnimationFrame(settleMirrors); });
