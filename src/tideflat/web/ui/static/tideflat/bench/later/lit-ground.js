// The surface's light as the frame sees it, and what a card gives on: the parts of drawing moved light that lie on the surface.

import { now } from "../state.js";
import { onPlane as meets } from "../projection.js";
import { falls } from "./litting.js";

export function frameToGround(kit) {
  // Where each place of the frame's picture lies on the surface's picture, in its columns and rows; -1 where it shows something else.
  const [w, h] = kit.frame_ground.size, [gw, gh] = kit.ground.size, [fw, fh] = now.geometry.frame, [, , wide, deep] = kit.planes[0].box;
  const found = new Float32Array(2 * w * h).fill(-1);
  for (let k = 0; k < w * h; k++) {
    const met = meets(now.geometry, (((k % w) + 0.5) / w) * fw, ((Math.floor(k / w) + 0.5) / h) * fh, [0, 0, 0], [0, 0, 1]);
    if (!met || met[0] < 0 || met[0] > wide || met[1] < 0 || met[1] > deep || (kit.backdrop_y !== null && met[1] > kit.backdrop_y)) continue;
    found[2 * k] = (met[0] / wide) * gw - 0.5;
    found[2 * k + 1] = (1 - met[1] / deep) * gh - 0.5;
  }
  return found;
}

const COARSE = 5; // a card's light changes slowly over the surface: every so many places

export function cardLight(kit, patches, point, way) {
  // What a card gives on, as it gave it, from where it is: to the surface, coarsely, and to the things of both views.
  const lamps = patches.map(([x, y, z, nx, ny, nz, ...rgb]) => ({ s: [...point([x, y, z]), 1], out: way([nx, ny, nz]), cosine: null, rgb })).filter((lamp) => Math.max(...lamp.rgb) > 0);
  const at = (found, k, ...place) => {
    for (const lamp of lamps) {
      const came = falls(lamp, lamp.s, ...place);
      if (came) for (let c = 0; c < 3; c++) found[3 * k + c] += came * lamp.rgb[c];
    }
  };
  const things = (seen) => {
    const { at: p, normal: n, metal } = seen, found = new Float32Array(p.length);
    for (let k = 0, j = 0; j < p.length; k++, j += 3) if (!metal[k]) at(found, k, p[j], p[j + 1], p[j + 2], n[j], n[j + 1], n[j + 2]);
    return found;
  };
  const [w, h] = kit.ground.size, [, , wide, deep] = kit.planes[0].box, columns = Math.ceil(w / COARSE), rows = Math.ceil(h / COARSE), coarse = new Float32Array(3 * columns * rows);
  for (let k = 0; k < columns * rows; k++) at(coarse, k, (((k % columns) + 0.5) / columns) * wide, (1 - (Math.floor(k / columns) + 0.5) / rows) * deep, 0, 0, 0, 1);
  return { ground: finer(coarse, columns, rows, w, h), table: things(kit.table), frame: things(kit.frame) };
}

function finer(coarse, columns, rows, w, h) {
  const found = new Float32Array(3 * w * h), pixel = [0, 0, 0];
  for (let k = 0; k < w * h; k++) {
    blended(coarse, columns, rows, (((k % w) + 0.5) / w) * columns - 0.5, ((Math.floor(k / w) + 0.5) / h) * rows - 0.5, pixel);
    for (let c = 0; c < 3; c++) found[3 * k + c] = pixel[c];
  }
  return found;
}

function blended(light, w, h, u, v, into) {
  // Between the four places about (u, v).
  const x = Math.min(w - 1.001, Math.max(0, u)), y = Math.min(h - 1.001, Math.max(0, v)), i = Math.floor(x), j = Math.floor(y), a = x - i, b = y - j, at = 3 * (j * w + i), below = at + 3 * w;
  for (let c = 0; c < 3; c++) into[c] = (light[at + c] * (1 - a) + light[at + 3 + c] * a) * (1 - b) + (light[below + c] * (1 - a) + light[below + 3 + c] * a) * b;
}

export function frameGround(kit, on, ground) {
  const found = Float32Array.from(kit.frame_ground.light), [gw, gh] = kit.ground.size, pixel = [0, 0, 0];
  for (let k = 0; k < on.length / 2; k++) {
    if (on[2 * k] === -1 && on[2 * k + 1] === -1) continue;
    blended(ground, gw, gh, on[2 * k], on[2 * k + 1], pixel);
    for (let c = 0; c < 3; c++) found[3 * k + c] = pixel[c];
  }
  return found;
}
