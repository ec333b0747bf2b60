// Letting the rest give way: whether it is on, and what makes room while a thing is held, eased to where the server says it would stand.

import { now } from "./state.js";
import { drawMeasures } from "./overlays.js";
import { redraw } from "./redrawing.js";
import { say } from "./requests.js";

const KEPT = "tideflat-room"; // "on": the rest gives way
const EASE = 0.4, NEAR = 0.3; // of the way at every frame; mm that nobody sees

export const givesWay = () => localStorage.getItem(KEPT) === "on";

export function letGiveWay(is) {
  localStorage.setItem(KEPT, is ? "on" : "off");
  say(is ? "The rest gives way to what you carry." : "The rest stands still.");
}

export function makeRoom(drag, shifts) {
  // shifts: how far each would be from where it stands, mm; what is not named goes back.
  const room = (drag.room = drag.room || { at: {}, to: {}, running: false });
  room.to = shifts;
  for (const id in shifts) room.at[id] = room.at[id] || [0, 0];
  if (!room.running && Object.keys(room.at).length) { room.running = true; requestAnimationFrame(() => step(drag)); }
}

function step(drag) {
  const { room } = drag, still = matchMedia("(prefers-reduced-motion: reduce)").matches;
  if (now.drag !== drag) return;
  let moving = false;
  for (const id in room.at) {
    const at = room.at[id], to = room.to[id] || [0, 0], off = [to[0] - at[0], to[1] - at[1]];
    const share = still || Math.hypot(...off) < NEAR ? 1 : EASE;
    room.at[id] = [at[0] + off[0] * share, at[1] + off[1] * share];
    moving = moving || share < 1;
    put(id, room.at[id]);
  }
  room.running = moving;
  if (drag.ids.length === 1) drawMeasures(drag.id, drag.shift);
  if (moving) requestAnimationFrame(() => step(drag));
}

export function putBack(drag) {
  for (const id in drag.room ? drag.room.at : {}) put(id, [0, 0]);
}

function put(id, [dx, dy]) {
  const thing = now.geometry.things[id];
  if (thing) for (const own of [id, ...thing.carried]) redraw(own, [dx, dy, 0], 0, thing);
}
