// Outlines of drawn pieces, for immediate feedback while something is dragged: points, hulls, paths, the nearest ways between them.

const CHORDS = 48;
const STEP = 10; // drawing units between the points of an edge that the lens bends
const COS = Array.from({ length: CHORDS }, (_, k) => Math.cos((2 * Math.PI * k) / CHORDS));
const SIN = Array.from({ length: CHORDS }, (_, k) => Math.sin((2 * Math.PI * k) / CHORDS));

export function sampled(piece, move) {
  // All points of a piece in space, each put through move(x, y, z).
  const points = [];
  for (const c of piece[3]) {
    for (let k = 0; k < CHORDS; k++) {
      points.push(move(c[0] + COS[k] * c[3] + SIN[k] * c[6], c[1] + COS[k] * c[4] + SIN[k] * c[7], c[2] + COS[k] * c[5] + SIN[k] * c[8]));
    }
  }
  for (const p of piece[4]) points.push(move(p[0], p[1], p[2]));
  return points;
}

export function hull(points) {
  // Andrew's monotone chain.
  const sorted = points.slice().sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const half = (list) => {
    const out = [];
    for (const p of list) {
      while (out.length > 1) {
        const a = out[out.length - 2], b = out[out.length - 1];
        if ((b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0) break;
        out.pop();
      }
      out.push(p);
    }
    out.pop();
    return out;
  };
  return half(sorted).concat(half(sorted.reverse()));
}

export function curved(points, curve, closed) {
  // A path of straight edges as the lens bends it, in steps of a hundredth of the frame; untouched where nothing is bent.
  if (!curve) return points;
  const out = [], last = closed ? points.length : points.length - 1;
  for (let i = 0; i < last; i++) {
    const a = points[i], b = points[(i + 1) % points.length], steps = Math.min(200, Math.max(1, Math.ceil(Math.hypot(b[0] - a[0], b[1] - a[1]) / STEP)));
    for (let k = 0; k < steps; k++) out.push(curve([a[0] + ((b[0] - a[0]) * k) / steps, a[1] + ((b[1] - a[1]) * k) / steps]));
  }
  if (!closed) out.push(curve(points[points.length - 1]));
  return out;
}

function area(points) {
  let sum = 0;
  for (let i = 0; i < points.length; i++) {
    const a = points[i], b = points[(i + 1) % points.length];
    sum += a[0] * b[1] - b[0] * a[1];
  }
  return sum / 2;
}

export function pathData(points, closed) {
  let d = "M";
  for (let i = 0; i < points.length; i++) d += (i ? "L" : "") + points[i][0].toFixed(1) + " " + points[i][1].toFixed(1);
  return closed ? d + "Z" : d;
}

export function piecePath(piece, view, mask, move) {
  // The path of a piece in one view; "" when it is not seen there. Both drawings have y downward, so a front turns clockwise.
  if (!(piece[1] & mask)) return "";
  const flat = [];
  for (const p of sampled(piece, move)) {
    const q = view.straight(p);
    if (!q) return "";
    flat.push(q);
  }
  if (flat.length < 2) return "";
  const drawn = (points, closed) => pathData(piece[5] && view.curve ? points.map(view.curve) : curved(points, view.curve, closed), closed);
  if (piece[0] === 0) return drawn(hull(flat), true);
  if (piece[0] === 3) {
    const mouth = flat.slice(-CHORDS);
    return drawn(hull(flat), true) + (area(mouth) <= 0 ? drawn(mouth, true) : "");
  }
  if (piece[2] && area(flat) > 0) return "";
  return drawn(flat, piece[0] === 1);
}

const UNITS = 64; // size of a picture in its pattern's own units

export function skinMatrix(piece, view, move) {
  // The affine map that best lays a flat part of a picture where its corners are now; null when one is behind the lens.
  const uv = piece[5], q = piece[4].map((p) => view.point(move(p[0], p[1], p[2])));
  if (q.some((p) => !p)) return null;
  const mean = (points, k) => points.reduce((sum, p) => sum + p[k], 0) / points.length;
  const u = mean(uv, 0), v = mean(uv, 1), x = mean(q, 0), y = mean(q, 1);
  const sum = (f) => uv.reduce((total, at, i) => total + f(at[0] - u, at[1] - v, q[i]), 0);
  const uu = sum((a) => a * a), uw = sum((a, b) => a * b), ww = sum((a, b) => b * b), det = uu * ww - uw * uw, out = [];
  const along = [0, 1].map((k) => [sum((a, b, p) => a * p[k]), sum((a, b, p) => b * p[k])]);
  const a = along.map(([du, dv]) => (du * ww - dv * uw) / det), d = along.map(([du, dv]) => (dv * uu - du * uw) / det);
  for (const side of [a, d]) out.push(side[0] / UNITS, side[1] / UNITS);
  for (const k of [0, 1]) out.push((k ? y : x) - a[k] * u - d[k] * v);
  return "matrix(" + out.map((n) => n.toPrecision(7)).join(" ") + ")";
}

export function nearest(first, second) {
  // [mm, point, point]: the shortest way between two outlines on the table.
  let best = [Infinity, null, null];
  const consider = (points, edges, flip) => {
    for (const p of points) {
      for (let i = 0; i < edges.length; i++) {
        const a = edges[i], b = edges[(i + 1) % edges.length];
        const dx = b[0] - a[0], dy = b[1] - a[1], size = dx * dx + dy * dy;
        const t = size ? Math.min(1, Math.max(0, ((p[0] - a[0]) * dx + (p[1] - a[1]) * dy) / size)) : 0;
        const q = [a[0] + t * dx, a[1] + t * dy], gap = Math.hypot(p[0] - q[0], p[1] - q[1]);
        if (gap < best[0]) best = flip ? [gap, q, p] : [gap, p, q];
      }
    }
  };
  consider(first, second, false);
  consider(second, first, true);
  return best;
}

export function inside(point, outline) {
  let is = false;
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const a = outline[i], b = outline[j];
    if (a[1] > point[1] !== b[1] > point[1] && point[0] < ((b[0] - a[0]) * (point[1] - a[1])) / (b[1] - a[1]) + a[0]) is = !is;
  }
  return is;
}
