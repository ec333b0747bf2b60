// A row before it is laid: a ghost of each new one in both views, and a handle at its end that says how far apart and which way.

import { byId, length, mayChange, now, stage } from "../state.js";
import { sent } from "../requests.js";
import { ghostOf } from "../ghosts.js";
import { clearOver, make } from "../overlays.js";
import { onPlane, viewsOf } from "../projection.js";
import { movedBy } from "../redrawing.js";

const AFTER_MS = 120; // typing rests so long before it is asked what would come of it
let asked = 0; // the newest question; an older answer is dropped
let timer = null;
let spots = []; // [mm along x, mm along y, degrees] of each new one, from the first

const form = () => document.querySelector("#tray .row-form");
const field = (name) => form().elements[name];
const first = () => form() && now.geometry.things[field("id").value];

export function showRow() {
  now.row = { carry, drop, settled };
  clearTimeout(timer);
  timer = setTimeout(ask, AFTER_MS);
}

function hide() {
  asked += 1;
  clearTimeout(timer);
  spots = [];
  clearOver("row");
}

const isWanted = () => form() && mayChange() && (form().contains(document.activeElement) || form().matches(":hover") || (now.drag && now.drag.grip === "row"));

async function ask() {
  if (!isWanted()) return hide();
  const own = (asked += 1);
  const answer = await fetch(`${stage().dataset.url}follow/repeat/?${new URLSearchParams(sent(Object.fromEntries(new FormData(form()))))}`).catch(() => null);
  const text = answer && answer.status === 200 ? await answer.text() : "";
  if (own !== asked || !isWanted()) return;
  const found = new DOMParser().parseFromString(text.split("<!--part-->")[0], "text/html").querySelector("[data-row]");
  spots = found ? JSON.parse(found.dataset.row || "[]") : [];
  draw();
}

function draw() {
  clearOver("row");
  const thing = first();
  if (!thing || !spots.length) return;
  const views = viewsOf(now.geometry), end = spots[atEnd() ? spots.length - 1 : 0], words = `${spots.length + 1}, every ${length(stepOf())}`;
  for (const name of ["table", "frame"]) {
    for (const [dx, dy, turn] of spots) ghostOf(thing, movedBy(thing, [dx, dy, 0], turn), name, views[name], "row");
    const p = views[name].point([thing.x + end[0], thing.y + end[1], thing.z]);
    if (!p || !isDragged()) continue;
    const pixel = 1 / byId(name + "-svg").getScreenCTM().a, reach = (matchMedia("(pointer: coarse)").matches ? 22 : 14) * pixel;
    const grip = make("circle", { class: "over-row handle-grip", cx: p[0], cy: p[1], r: reach, "data-grip": "row" });
    grip.append(make("title", {}, "how far apart, and which way"));
    byId(name + "-over").append(make("circle", { class: "over-row handle", cx: p[0], cy: p[1], r: 6 * pixel }), grip);
    byId(name + "-over").append(make("text", { class: "over-row measure-text", x: p[0], y: p[1] - 14 * pixel, "text-anchor": "middle" }, words));
  }
}

const isDragged = () => ["line", "arc"].includes(field("form").value);
const atEnd = () => field("form").value === "line"; // an arc is told by its second
const stepOf = () => Math.hypot(spots[0][0], spots[0][1]);

function typed(mm) {
  const unit = stage().dataset.unit;
  return unit === "cm" ? (mm / 10).toFixed(2) : unit === "in" ? (mm / 25.4).toFixed(3) : mm.toFixed(1);
}

function carry(drag) {
  // The end of a line is where the pointer is, its others evenly before it; where even is, the form says.
  const thing = first(), { geometry } = now, top = [0, 0, 1], foot = [0, 0, thing.z], views = viewsOf(geometry);
  const met = drag.view === "table" ? [drag.at[0], geometry.table[1] - drag.at[1]] : onPlane(geometry, ...drag.at, foot, top);
  if (!met) return;
  const gaps = atEnd() ? Math.max(1, Number.parseInt(field("count").value, 10) - 1 || 1) : 1;
  let second = [thing.x + (met[0] - thing.x) / gaps, thing.y + (met[1] - thing.y) / gaps], angle = Math.atan2(met[1] - thing.y, met[0] - thing.x);
  if (field("through").value === "frame") {
    const p = views.frame.point([thing.x, thing.y, thing.z]), q = views.frame.point([met[0], met[1], thing.z]);
    if (!p || !q) return;
    second = onPlane(geometry, p[0] + (q[0] - p[0]) / gaps, p[1] + (q[1] - p[1]) / gaps, foot, top) || second;
    angle = Math.atan2(p[1] - q[1], q[0] - p[0]);
  }
  field("step").value = typed(Math.hypot(second[0] - thing.x, second[1] - thing.y));
  field("angle").value = ((angle * 180) / Math.PI).toFixed(2) + "°";
  ask();
}

function drop() {
  // Enter lays it.
  if (form()) form().querySelector("button").focus();
}

function settled() {
  // Laid, or something else came into hand: what is shown is of now.
  if (isWanted()) showRow();
  else hide();
}

for (const kind of ["focusout", "pointerdown", "pointerout"]) document.addEventListener(kind, () => { if (spots.length) setTimeout(() => { if (!isWanted()) hide(); }, 0); });
