// What is drawn over the views: measures of what is held, its handle, grips of crop and aim.

import { byId, length, mayChange, now, stage } from "./state.js";
import { heldIds, pivotOf } from "./hand.js";
import { viewsOf } from "./projection.js";
import { inside, nearest } from "./outlines.js";

const SVG = "http://www.w3.org/2000/svg";
export const LOW_CAMERA = 15; // degrees: under this a frame drag moves in the upright plane

const AIM_BELOW = 8; // pixels from the table's front edge to the aim's handle
// A finger needs 44 pixels of a handle.
const grasp = (radius) => (matchMedia("(pointer: coarse)").matches ? 22 : radius);

export function make(name, attributes, text) {
  const node = document.createElementNS(SVG, name);
  for (const key in attributes) node.setAttribute(key, attributes[key]);
  if (text) node.textContent = text;
  return node;
}

export function clearOver(kind) {
  document.querySelectorAll(".over-" + kind).forEach((n) => n.remove());
}

function pixelOf(name) {
  // Drawing units of one pixel on the screen.
  return 1 / byId(name + "-svg").getScreenCTM().a;
}

function measure(name, view, a, b, label) {
  const p = view.point(a), q = view.point(b), over = byId(name + "-over");
  if (!p || !q || !over) return;
  over.append(make("line", { class: "over-held measure", x1: p[0], y1: p[1], x2: q[0], y2: q[1] }));
  const [w, h] = now.geometry[name];
  const x = Math.min(Math.max((p[0] + q[0]) / 2, 60), w - 60), y = Math.min(Math.max((p[1] + q[1]) / 2 - 8, 26), h - 8);
  over.append(make("text", { class: "over-held measure-text", x: x, y: y, "text-anchor": "middle" }, label));
}

function isBeside(id, thing, other, o) {
  const apart = !thing.carried.includes(other) && !o.carried.includes(id);
  return other !== id && apart && o.role !== "cloth" && o.role !== "scatter" && o.role !== "filler";
}

function madeRoom(thing, id) {
  // Where it stands while it makes room for what is held.
  const at = now.drag && now.drag.room && now.drag.room.at[id];
  return at ? { ...thing, x: thing.x + at[0], y: thing.y + at[1], foot: thing.foot.map((p) => [p[0] + at[0], p[1] + at[1]]) } : thing;
}

export function drawMeasures(id, shift) {
  // To the two edges a tape measures from, and to the nearest neighbour; in both views.
  clearOver("held");
  const things = now.geometry.things, views = viewsOf(now.geometry);
  const thing = things[id], x = thing.x + shift[0], y = thing.y + shift[1], z = thing.z + shift[2];
  const foot = thing.foot.map((p) => [p[0] + shift[0], p[1] + shift[1]]);
  let best = [Infinity, null, null], called = "";
  for (const other in things) {
    const o = madeRoom(things[other], other);
    if (!isBeside(id, thing, other, o) || inside([x, y], o.foot) || inside([o.x, o.y], foot)) continue;
    const found = nearest(foot, o.foot);
    if (found[0] < best[0]) { best = found; called = o.name; }
  }
  for (const name of ["table", "frame"]) {
    measure(name, views[name], [0, y, z], [x, y, z], length(x));
    measure(name, views[name], [x, 0, z], [x, y, z], length(y));
    if (best[1]) measure(name, views[name], [best[1][0], best[1][1], z], [best[2][0], best[2][1], z], length(best[0]) + " to " + called);
  }
}

export function drawHandle() {
  // Of one thing, on the side that is its front turned by a quarter; of several, round their middle.
  clearOver("handle");
  const drag = now.drag, ids = heldIds(), things = ids.map((i) => now.geometry.things[i]);
  if (!ids.length || things.some((t) => !t || t.locked) || !mayChange()) return;
  const own = drag && drag.ids && ids.includes(drag.id), shift = own ? drag.shift : [0, 0, 0], turn = own ? drag.turn : 0, pivot = pivotOf(ids);
  const reach = Math.max(...things.flatMap((t) => t.foot.map((p) => Math.hypot(p[0] - pivot.x, p[1] - pivot.y)))) + 26;
  const t = ((pivot.turn + turn) * Math.PI) / 180, views = viewsOf(now.geometry);
  const out = (r) => [pivot.x + shift[0] + r * Math.cos(t), pivot.y + shift[1] + r * Math.sin(t), pivot.z + shift[2]];
  for (const name of ["table", "frame"]) {
    if (name === "frame" && now.geometry.camera.elevation < LOW_CAMERA) continue;
    const p = views[name].point(out(reach)), q = views[name].point(out(reach - 20));
    if (!p || !q) continue;
    const pixel = pixelOf(name);
    byId(name + "-over").append(
      make("line", { class: "over-handle handle-stem", x1: q[0], y1: q[1], x2: p[0], y2: p[1] }),
      make("circle", { class: "over-handle handle", cx: p[0], cy: p[1], r: 6 * pixel }),
      make("circle", { class: "over-handle handle-grip", cx: p[0], cy: p[1], r: grasp(15) * pixel, "data-handle": ids[0] }),
    );
  }
}

export function drawGrips() {
  // The chosen crop's grip while deliverables are open, the camera's aim while the camera is: else they would be in the way.
  clearOver("grip");
  if (!mayChange() || !now.geometry) return;
  const crop = document.querySelector("#frame-crops .crop.chosen");
  if (crop && stage().dataset.tray === "deliverables") {
    const box = crop.getBBox();
    grip("frame", "crop", box.x + box.width / 2, box.y + 16 * pixelOf("frame"), "move the crop " + crop.dataset.crop);
  } else if (stage().dataset.tray === "camera") {
    const aim = now.geometry.camera.aim, shift = now.drag && now.drag.grip === "aim" ? now.drag.shift : [0, 0, 0];
    const at = viewsOf(now.geometry).table.point([aim[0] + shift[0], aim[1] + shift[1], 0]), pixel = pixelOf("table");
    // Its handle is before the table's front edge, clear of what stands where the camera aims.
    const y = now.geometry.table[1] + AIM_BELOW * pixel;
    byId("table-over").append(
      make("line", { class: "over-grip aim-stem", x1: at[0], y1: at[1], x2: at[0], y2: y }),
      make("path", { class: "over-grip grip-ring", d: cross(at[0], at[1], pixel) }),
    );
    grip("table", "aim", at[0], y, "carry the camera with its aim");
  }
}

const cross = (x, y, pixel) => `M${x - 10 * pixel} ${y}h${20 * pixel}M${x} ${y - 10 * pixel}v${20 * pixel}`;

function grip(name, kind, x, y, words) {
  const pixel = pixelOf(name);
  const catcher = make("circle", { class: "over-grip handle-grip", cx: x, cy: y, r: grasp(13) * pixel, "data-grip": kind });
  catcher.append(make("title", {}, words));
  const shown = kind === "aim" ? "over-grip handle" : "over-grip grip-ring";
  byId(name + "-over").append(make("circle", { class: shown, cx: x, cy: y, r: 6 * pixel }));
  if (kind !== "aim") byId(name + "-over").append(make("path", { class: shown, d: cross(x, y, pixel) }));
  byId(name + "-over").append(catcher);
}
