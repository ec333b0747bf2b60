// The light of what is moved, summed from what the core sent (core/light_live.py): places that stand for a light, and the shadows of what stands in the way.

const NONE = 255; // the plane of what lies on none
const LEAST = 1e-6;
const TOUCHED = 10; // corners of a ball's outline
const COS = Array.from({ length: TOUCHED }, (_, k) => Math.cos((2 * Math.PI * k) / TOUCHED));
const SIN = Array.from({ length: TOUCHED }, (_, k) => Math.sin((2 * Math.PI * k) / TOUCHED));

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

function outlineOf(part, s) {
  // Corners of a part; of a ball the circle where rays from the place touch it.
  if (!part.ball) return part.points;
  const [x, y, z, r] = part.ball, far = Math.max(Math.hypot(s[0] - x, s[1] - y, s[2] - z), r * 1.01);
  const way = [(s[0] - x) / far, (s[1] - y) / far, (s[2] - z) / far], level = Math.hypot(way[0], way[1]);
  const along = level > 1e-6 ? [-way[1] / level, way[0] / level, 0] : [1, 0, 0];
  const up = [way[1] * along[2] - way[2] * along[1], way[2] * along[0] - way[0] * along[2], way[0] * along[1] - way[1] * along[0]];
  const sine = r / far, size = r * Math.sqrt(1 - sine * sine), found = part.points;
  for (let k = 0; k < TOUCHED; k++) for (let c = 0; c < 3; c++) found[3 * k + c] = part.ball[c] + r * sine * way[c] + size * (COS[k] * along[c] + SIN[k] * up[c]);
  return found;
}

export function ready(part) {
  // A part with what it takes to pass it over quickly.
  const points = part.ball ? new Float64Array(3 * TOUCHED) : Float64Array.from(part.points), found = { ...part, points, ring: part.ball ? TOUCHED : part.ring };
  const [x, y, z, r] = part.ball || [];
  const all = part.ball ? [x - r, y - r, z - r, x + r, y + r, z + r] : points, by = (c) => Array.from(all.filter((_, k) => k % 3 === c));
  found.bounds = [0, 1, 2].flatMap((c) => [Math.min(...by(c)), Math.max(...by(c))]);
  return found;
}

let flat = new Float64Array(256), from = new Float64Array(1), to = new Float64Array(1);

export function shadowed(plane, parts, s) {
  // The share of one place's light that comes through to each part of a level plane, its back row first.
  const [w, h] = plane.size, [x0, y0, x1, y1] = plane.box, z = plane.z, across = w / (x1 - x0), down = h / (y1 - y0);
  const through = new Float32Array(w * h).fill(1), high = s[2] - z, least = (high > 0 ? high : 1) / 128;
  for (const part of parts) {
    const [bx0, bx1, by0, by1, , top] = part.bounds;
    if (top <= z + 1 || (plane.of && part.of === plane.of)) continue; // a rim is no shadow on its own dish
    const most = (top - z) / Math.max(high - top + z, least);
    if (Math.max(bx1, bx1 + most * (bx1 - s[0])) < x0 || Math.min(bx0, bx0 + most * (bx0 - s[0])) > x1) continue;
    if (Math.max(by1, by1 + most * (by1 - s[1])) < y0 || Math.min(by0, by0 + most * (by0 - s[1])) > y1) continue;
    const points = outlineOf(part, s), count = points.length / 3;
    if (flat.length < 2 * count) flat = new Float64Array(4 * count);
    for (let k = 0; k < count; k++) {
      const x = points[3 * k], y = points[3 * k + 1], over = Math.max(0, points[3 * k + 2] - z), fall = over / Math.max(high - over, least);
      flat[2 * k] = (x + fall * (x - s[0]) - x0) * across;
      flat[2 * k + 1] = (y1 - y - fall * (y - s[1])) * down;
    }
    fill(through, w, h, count, part.ring, part.passes);
  }
  return through;
}

function edge(a, b, h) {
  // How far to the left and right an edge of the outline reaches on each row that it crosses.
  let ax = flat[2 * a], ay = flat[2 * a + 1], bx = flat[2 * b], by = flat[2 * b + 1];
  if (ay > by) { [ax, bx] = [bx, ax]; [ay, by] = [by, ay]; }
  const first = Math.max(0, Math.ceil(ay - 0.5)), last = Math.min(h - 1, Math.ceil(by - 0.5) - 1), slope = (bx - ax) / (by - ay || 1);
  for (let row = first; row <= last; row++) {
    const x = ax + (row + 0.5 - ay) * slope;
    if (x < from[row]) from[row] = x;
    if (x > to[row]) to[row] = x;
  }
}

function fill(through, w, h, count, ring, passes) {
  // The outline of a convex part is made of edges of it: those of its rings, and those between them.
  if (from.length < h) { from = new Float64Array(h); to = new Float64Array(h); }
  let low = Infinity, high = -Infinity;
  for (let k = 0; k < count; k++) { low = Math.min(low, flat[2 * k + 1]); high = Math.max(high, flat[2 * k + 1]); }
  const first = Math.max(0, Math.floor(low)), last = Math.min(h - 1, Math.ceil(high));
  for (let row = first; row <= last; row++) { from[row] = Infinity; to[row] = -Infinity; }
  for (let k = 0; k < count; k++) {
    edge(k, (k + 1) % ring === 0 ? k + 1 - ring : k + 1, h);
    if (k + ring < count) edge(k, k + ring, h);
  }
  for (let row = first; row <= last; row++) {
    const end = Math.min(w - 1, Math.floor(to[row] - 0.5));
    for (let column = Math.max(0, Math.ceil(from[row] - 0.5)); column <= end; column++) through[row * w + column] *= passes;
  }
}

export function onPlane(plane, light, places, parts) {
  // What comes straight to each part of a plane, and the share of it that comes through.
  const [w, h] = plane.size, [x0, y0, x1, y1] = plane.box, given = new Float32Array(w * h), free = new Float32Array(w * h);
  const [ox, oy, oz] = light.out, wide = (x1 - x0) / w, deep = (y1 - y0) / h, least = light.cosine === null ? 0 : light.cosine * light.cosine;
  for (const s of places) {
    const dz = s[2] - plane.z;
    if (dz <= 0) continue;
    const through = shadowed(plane, parts, s);
    // The same as falls, for a level face: by far the most places are here.
    for (let row = 0, k = 0; row < h; row++) {
      const dy = s[1] - y1 + (row + 0.5) * deep, level = dy * dy + dz * dz + LEAST, toward = -(dy * oy + dz * oz);
      for (let column = 0, dx = s[0] - x0 - wide / 2; column < w; column++, k++, dx -= wide) {
        const leaves = toward - dx * ox, square = level + dx * dx;
        if (leaves <= 0 || leaves * leaves < least * square) continue;
        const came = (s[3] * dz * leaves) / (square * square);
        given[k] += came * through[k];
        free[k] += came;
      }
    }
  }
  for (let k = 0; k < given.length; k++) free[k] = free[k] > 0 ? given[k] / free[k] : 1;
  return [given, free];
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
