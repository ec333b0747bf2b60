// What the core sent for drawing light while it is moved (core/light_live.py), in arrays that are summed quickly.

import { ready } from "./litting.js";
import { spread } from "./lit-layers.js";

function bytes(text) {
  const read = atob(text), found = new Uint8Array(read.length);
  for (let k = 0; k < read.length; k++) found[k] = read.charCodeAt(k);
  return found.buffer;
}

const shares = (text, unit) => Float32Array.from(new Uint16Array(bytes(text)), (v) => v / unit);
const each = (values, work) => Object.fromEntries(Object.entries(values).map(([key, value]) => [key, work(value)]));

export function unpacked(live) {
  const light = (of) => ({ ...of, light: shares(of.light, live.unit), straight: each(of.straight || {}, (text) => shares(text, live.unit)) });
  const seen = (of) => ({
    ...light(of),
    hit: new Uint32Array(bytes(of.hit)),
    at: new Float32Array(bytes(of.at)),
    normal: Float32Array.from(new Int8Array(bytes(of.normal)), (v) => v / 127),
    plane: new Uint8Array(bytes(of.plane)),
    metal: new Uint8Array(bytes(of.metal)),
  });
  const table = seen(live.table), frame = seen(live.frame);
  return { ...live, parts: [...live.parts.parts, ...live.parts.balls].map(ready), ground: light(live.ground), frame_ground: light(live.frame_ground), table, frame, spread: { table: spread(table), frame: spread(frame) } };
}
