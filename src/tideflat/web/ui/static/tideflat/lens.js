// Projections and outlines for immediate feedback while something is dragged. No rules: the matrices and pieces come from the core.
(function () {
  "use strict";
  const CHORDS = 48;
  const COS = Array.from({ length: CHORDS }, (_, k) => Math.cos((2 * Math.PI * k) / CHORDS));
  const SIN = Array.from({ length: CHORDS }, (_, k) => Math.sin((2 * Math.PI * k) / CHORDS));

  function sampled(piece, move) {
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

  function toFrame(geometry, matrix, p) {
    // [x, y] in the frame's drawing units, or null behind the lens.
    const w = matrix[2][0] * p[0] + matrix[2][1] * p[1] + matrix[2][2] * p[2] + matrix[2][3];
    if (w <= 1) return null;
    const u = (matrix[0][0] * p[0] + matrix[0][1] * p[1] + matrix[0][2] * p[2] + matrix[0][3]) / w;
    const v = (matrix[1][0] * p[0] + matrix[1][1] * p[1] + matrix[1][2] * p[2] + matrix[1][3]) / w;
    return [u * geometry.frame[0], v * geometry.frame[1]];
  }

  function toTable(geometry, p) {
    return [p[0], geometry.table[1] - p[1]];
  }

  function ray(geometry, x, y) {
    // Direction from the lens through a place in the frame, one mm of depth long.
    const [r00, r10, r01] = geometry.camera.rays;
    const u = x / geometry.frame[0], v = y / geometry.frame[1];
    return [0, 1, 2].map((k) => r00[k] + u * (r10[k] - r00[k]) + v * (r01[k] - r00[k]));
  }

  function onPlane(geometry, x, y, point, normal) {
    // Where the ray through (x, y) meets a plane, or null.
    const d = ray(geometry, x, y), o = geometry.camera.position;
    const along = d[0] * normal[0] + d[1] * normal[1] + d[2] * normal[2];
    if (Math.abs(along) < 1e-9) return null;
    const t = ((point[0] - o[0]) * normal[0] + (point[1] - o[1]) * normal[1] + (point[2] - o[2]) * normal[2]) / along;
    return t > 0 ? [o[0] + t * d[0], o[1] + t * d[1], o[2] + t * d[2]] : null;
  }

  function hull(points) {
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

  function area(points) {
    let sum = 0;
    for (let i = 0; i < points.length; i++) {
      const a = points[i], b = points[(i + 1) % points.length];
      sum += a[0] * b[1] - b[0] * a[1];
    }
    return sum / 2;
  }

  function pathData(points, closed) {
    let d = "M";
    for (let i = 0; i < points.length; i++) d += (i ? "L" : "") + points[i][0].toFixed(1) + " " + points[i][1].toFixed(1);
    return closed ? d + "Z" : d;
  }

  function piecePath(piece, project, mask, move) {
    // The path of a piece in one view; "" when it is not seen there. Both drawings have y downward, so a front turns clockwise.
    if (!(piece[1] & mask)) return "";
    const flat = [];
    for (const p of sampled(piece, move)) {
      const q = project(p);
      if (!q) return "";
      flat.push(q);
    }
    if (flat.length < 2) return "";
    if (piece[0] === 0) return pathData(hull(flat), true);
    if (piece[0] === 3) {
      const mouth = flat.slice(-CHORDS);
      return pathData(hull(flat), true) + (area(mouth) <= 0 ? pathData(mouth, true) : "");
    }
    if (piece[2] && area(flat) > 0) return "";
    return pathData(flat, piece[0] === 1);
  }

  const UNITS = 64; // size of a picture in its pattern's own units

  function skinMatrix(piece, project, move) {
    // The affine map that lays a flat cell of a picture where its four corners are now; null when one is behind the lens.
    const uv = piece[5], q = piece[4].map((p) => project(move(p[0], p[1], p[2])));
    if (q.some((p) => !p)) return null;
    const du = uv[2][0] - uv[0][0], dv = uv[2][1] - uv[0][1], out = [];
    const a = [0, 1].map((k) => (q[3][k] - q[0][k] + q[2][k] - q[1][k]) / (2 * du));
    const d = [0, 1].map((k) => (q[1][k] - q[0][k] + q[2][k] - q[3][k]) / (2 * dv));
    const u = (uv[0][0] + uv[2][0]) / 2, v = (uv[0][1] + uv[2][1]) / 2;
    for (const side of [a, d]) out.push(side[0] / UNITS, side[1] / UNITS);
    for (const k of [0, 1]) out.push((q[0][k] + q[1][k] + q[2][k] + q[3][k]) / 4 - a[k] * u - d[k] * v);
    return "matrix(" + out.map((n) => n.toPrecision(7)).join(" ") + ")";
  }

  function nearest(first, second) {
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

  function inside(point, outline) {
    let is = false;
    for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
      const a = outline[i], b = outline[j];
      if (a[1] > point[1] !== b[1] > point[1] && point[0] < ((b[0] - a[0]) * (point[1] - a[1])) / (b[1] - a[1]) + a[0]) is = !is;
    }
    return is;
  }

  window.Lens = { sampled, toFrame, toTable, onPlane, hull, pathData, piecePath, skinMatrix, nearest, inside };
})();
