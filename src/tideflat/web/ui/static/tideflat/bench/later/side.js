// From the side: the lens, its aim, lights and the heights of things dragged in the section through camera and table.

import { byId, mayChange, now } from "../state.js";
import { change, refresh, say } from "../requests.js";
import { clearOver } from "../overlays.js";
import { follow, stopFollowing } from "../live.js";

const LEAST = 3; // pixels: less is a press
let held = null;

function place(event) {
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(byId("section-svg").getScreenCTM().inverse());
  return [p.x, -p.y];
}

function asked() {
  // What letting go here asks for; null for nothing.
  const [s, z] = [held.at[0] - held.from[0], held.at[1] - held.from[1]], { aim, heading, kind } = held;
  if (kind === "lens") {
    const x = held.start[0] + s, y = held.start[1] + z - aim[2];
    return ["stand", { elevation: ((Math.atan2(y, -x) * 180) / Math.PI).toFixed(1), distance: Math.hypot(x, y).toFixed(1) }];
  }
  if (kind === "aim") return ["stand", { aim_x: (aim[0] + s * heading[0]).toFixed(1), aim_y: (aim[1] + s * heading[1]).toFixed(1), aim_z: Math.max(0, aim[2] + z).toFixed(1) }];
  if (kind === "light") {
    const [x, y, up] = JSON.parse(held.node.dataset.at);
    return ["light-move", { key: held.node.dataset.list, id: held.node.dataset.sideLight, x: (x + s * heading[0]).toFixed(1), y: (y + s * heading[1]).toFixed(1), z: (up + z).toFixed(1) }];
  }
  const thing = now.geometry.things[kind];
  return ["move", { id: kind, x: thing.x, y: thing.y, z: Math.max(0, thing.z + z).toFixed(1) }];
}

function show() {
  const [verb, values] = asked(), dx = held.at[0] - held.from[0], dy = held.from[1] - held.at[1];
  if (held.kind === "lens") {
    // The camera goes round its aim, and nearer or further along its axis.
    const was = Math.atan2(held.start[1] - held.aim[2], -held.start[0]), far = Math.hypot(held.start[0], held.start[1] - held.aim[2]);
    const by = Number(values.elevation) - (was * 180) / Math.PI, along = Number(values.distance) - far, ux = held.start[0] / far, uy = -(held.start[1] - held.aim[2]) / far;
    byId("side-camera").setAttribute("transform", `rotate(${by} 0 ${-held.aim[2]}) translate(${along * ux} ${along * uy})`);
  }
  held.node.setAttribute("transform", ["lens", "aim", "light"].includes(held.kind) ? `translate(${dx} ${dy})` : `translate(0 ${Math.min(dy, now.geometry.things[held.kind].z)})`);
  if (held.kind !== "light") follow(held, verb, values);
}

function begin(event) {
  const node = event.button === 0 && event.target.closest && event.target.closest("#section-svg [data-side-grip], #section-svg [data-side], #section-svg [data-side-light]");
  if (!node || !mayChange() || !now.geometry) return;
  event.preventDefault();
  const kind = node.dataset.sideLight ? "light" : node.dataset.sideGrip || node.dataset.side, svg = byId("section-svg"), thing = now.geometry.things[kind];
  if (thing && thing.locked) return say(thing.name + " is locked. Unlock it to move it.");
  const at = place(event), start = kind === "lens" ? [Number(node.getAttribute("cx")), -Number(node.getAttribute("cy"))] : at;
  held = { kind, node, start, from: at, at, aim: JSON.parse(svg.dataset.aim), heading: JSON.parse(svg.dataset.heading), pointer: event.pointerId, x: event.clientX, y: event.clientY, moved: false };
}

function end(event) {
  if (!held || event.pointerId !== held.pointer) return;
  const done = held, isKept = event.type === "pointerup" && done.moved, wish = isKept ? asked() : null;
  held = null;
  stopFollowing();
  clearOver("ghost");
  if (wish) change(...wish);
  else if (done.moved) refresh();
}

let isHeard = false;
export function listenToSide() {
  if (isHeard) return;
  isHeard = true;
  document.addEventListener("pointerdown", begin);
  document.addEventListener("pointermove", (event) => {
    if (!held || event.pointerId !== held.pointer) return;
    held.at = place(event);
    held.moved = held.moved || Math.hypot(event.clientX - held.x, event.clientY - held.y) >= LEAST;
    if (held.moved) show();
  });
  for (const kind of ["pointerup", "pointercancel"]) document.addEventListener(kind, end);
}
