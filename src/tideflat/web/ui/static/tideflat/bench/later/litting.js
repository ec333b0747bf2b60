// The light of what is moved, summed from what the core sent (core/light_live.py): places that stand for a light, and the shadows of what stands in the way.

import { hull } from "../outlines.js";

const NONE = 255; // the plane of what lies on none
const LEAST = 1e-6;

function bytes(text) {
  const read = atob(text), found = new Uint8Array(read.length);
  for (let k = 0; k < read.length; k++) found[k] = read.charCodeAt(k);
  return found.buffer;
}

const shares = (text, unit) => Float32Array.from(new Uint16Array(bytes(text)), (v) => v / unit);
const each = (values, work) => Object.fromEntries(Object.entries(values).map(([key, value]) => [key, work(value)]));

export function unpacked(live) {
  const light = (of) => ({ ...of, light: shares(of.light, live.unit), straight: each(of.straight || {}, (text) => shares(text, live.unit)) });
  const seen = (of) => ({ ...light(of), hit: new Uint32Array(bytes(of.hit)), at: new Float32Array(bytes(of.at)), normal: Float32Array.from(new Int8Array(bytes(of.normal)), (v) => v / 127), plane: new Uint8Array(bytes(of.plane)), metal: new Uint8Array(bytes(of.metal)) });
  const points = (part) => ({ ...part, points: part.points.flatMap((_, k, all) => (k % 3 ? [] : [all.slice(k, k + 3)])) });
  const parts = [...live.parts.parts.map(points), ...live.parts.balls.map((ball) => ({ ...ball, points: roundPoints(ball.ball) }))];
  for (const part of parts) part.top = Math.max(...part.points.map((p) => p[2]));
  return { ...live, parts, ground: light(live.ground), frame_ground: light(live.frame_ground), table: seen(live.table), frame: seen(live.frame) };
}

function roundPoints([x, y, z, r]) {
  const found = [];
  for (const height of [-0.7, 0, 0.7, 1]) for (let k = 0; k < (height === 1 ? 1 : 8); k++) {
    const level = r * Math.sqrt(1 - height * height), a = (k * Math.PI) / 4;
    found.push([x + level * Math.cos(a), y + level * Math.sin(a), z + height * r]);
  }
  return found;
}

export function evenly(places, count) {
  // So many of them, spread over all; together they weigh as much.
  const some = places.length > count ? Array.from({ length: count }, (_, k) => places[Math.floor(((k + 0.5) * places.length) / count)]) : places;
  return some.map(([x, y, z, weight]) => [x, y, z, (weight * places.length) / some.length]);
}

export function falls(light, s, x, y, z, nx, ny, nz) {
  // What one place of a light gives at a point that looks along n.
  const dx = s[0] - x, dy = s[1] - y, dz = s[2] - z, cos = dx * nx + dy * ny + dz * nz;
  if (cos <= 0) return 0;
  const out = light.out, leaves = -(dx * out[0] + dy * out[1] + dz * out[2]);
  if (leaves <= 0) return 0;
  const square = dx * dx + dy * dy + dz * dz + LEAST;
  if (light.cosine !== null && leaves < light.cosine * Math.sqrt(square)) return 0;
  return (s[3] * cos * leaves) / (square * square);
}

export function shadowed(plane, parts, s) {
  // The share of one place's light that comes through to each part of a level plane, its back row first.
  const [w, h] = plane.size, [x0, y0, x1, y1] = plane.box, z = plane.z, across = w / (x1 - x0), down = h / (y1 - y0);
  const through = new Float32Array(w * h).fill(1), high = s[2] - z;
  for (const part of parts) {
    if (part.top <= z + 1 || part.of === plane.of) continue; // a rim is no shadow on its own dish
    const flat = part.points.map((p) => {
      const over = Math.max(0, p[2] - z), fall = over / Math.max(high - over, (high > 0 ? high : 1) / 128);
      return [(p[0] + fall * (p[0] - s[0]) - x0) * across, (y1 - p[1] - fall * (p[1] - s[1])) * down];
    });
    fill(through, w, h, flat, part.passes);
  }
  return through;
}

function fill(through, w, h, points, passes) {
  let low = Infinity, high = -Infinity, left = Infinity, right = -Infinity;
  for (const [x, y] of points) { low = Math.min(low, y); high = Math.max(high, y); left = Math.min(left, x); right = Math.max(right, x); }
  if (high < 0 || low > h || right < 0 || left > w) return;
  const outline = hull(points), first = Math.max(0, Math.ceil(low - 0.5)), last = Math.min(h - 1, Math.floor(high - 0.5));
  for (let row = first; row <= last; row++) {
    const y = row + 0.5;
    let from = Infinity, to = -Infinity;
    for (let k = 0, b = outline[outline.length - 1]; k < outline.length; b = outline[k++]) {
      const a = outline[k];
      if ((a[1] <= y) === (b[1] <= y)) continue;
      const x = a[0] + ((y - a[1]) / (b[1] - a[1])) * (b[0] - a[0]);
      if (x < from) from = x;
      if (x > to) to = x;
    }
    const end = Math.min(w - 1, Math.floor(to - 0.5));
    for (let column = Math.max(0, Math.ceil(from - 0.5)); column <= end; column++) through[row * w + column] *= passes;
  }
}

export function onPlane(plane, light, places, parts, sums) {
  // Adds what comes straight to a plane: [light of each part, share that comes through].
  const [w, h] = plane.size, [x0, y0, x1, y1] = plane.box, given = sums || new Float32Array(w * h), free = new Float32Array(w * h);
  for (const s of places) {
    const through = shadowed(plane, parts, s);
    for (let row = 0, k = 0; row < h; row++) for (let column = 0; column < w; column++, k++) {
      const came = falls(light, s, x0 + ((column + 0.5) / w) * (x1 - x0), y1 - ((row + 0.5) / h) * (y1 - y0), plane.z, 0, 0, 1);
      given[k] += came * through[k];
      free[k] += came;
    }
  }
  return [given, Float32Array.from(given, (v, k) => (free[k] > 0 ? v / free[k] : 1))];
}

export function onThings(seen, light, places) {
  // What would come straight to where things are seen, were nothing in the way.
  const { at, normal, metal } = seen, count = metal.length, found = new Float32Array(count);
  for (let k = 0, j = 0; k < count; k++, j += 3) {
    if (metal[k]) continue;
    for (const s of places) found[k] += falls(light, s, at[j], at[j + 1], at[j + 2], normal[j], normal[j + 1], normal[j + 2]);
  }
  return found;
}

export function through(seen, k, planes, shares, was, usual) {
  // The share that comes to where a thing is seen: of a level top as its shadows have changed, else as it was.
  const plane = seen.plane[k];
  if (plane === NONE || !shares[plane]) return usual;
  const { box, size } = planes[plane], x = seen.at[3 * k], y = seen.at[3 * k + 1];
  const column = Math.min(size[0] - 1, Math.max(0, Math.floor(((x - box[0]) / (box[2] - box[0])) * size[0])));
  const row = Math.min(size[1] - 1, Math.max(0, Math.floor(((box[3] - y) / (box[3] - box[1])) * size[1])));
  const at = row * size[0] + column;
  return Math.min(1, Math.max(0, usual + shares[plane][at] - was[plane][at]));
}
