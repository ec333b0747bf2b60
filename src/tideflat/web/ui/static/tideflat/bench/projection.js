// From the table to the two views and back, by the core's own numbers. No rules: matrix, rays and what the lens bends come with the geometry.

const STEPS = 12; // of the way back through what the lens bends
const LEAST = 1e-6; // focal lengths: width of a difference

function toFrame(geometry, through, p) {
  // [x, y] in the frame's drawing units, or null behind the lens. through: the geometry itself, or another camera's matrix and bend.
  const matrix = through.matrix;
  const w = matrix[2][0] * p[0] + matrix[2][1] * p[1] + matrix[2][2] * p[2] + matrix[2][3];
  if (w <= 1) return null;
  const u = (matrix[0][0] * p[0] + matrix[0][1] * p[1] + matrix[0][2] * p[2] + matrix[0][3]) / w;
  const v = (matrix[1][0] * p[0] + matrix[1][1] * p[1] + matrix[1][2] * p[2] + matrix[1][3]) / w;
  return [u * geometry.frame[0], v * geometry.frame[1]];
}

function toTable(geometry, p) {
  return [p[0], geometry.table[1] - p[1]];
}

function bentPlace(bend, x, y) {
  // Brown's model with OpenCV's terms, as core/camera/distortion.py states it; past its reach straight outward.
  const [, , , , k1, k2, p1, p2, k3, reach] = bend;
  const radius = Math.hypot(x, y), inward = radius > reach ? reach / radius : 1, a = x * inward, b = y * inward;
  const r2 = a * a + b * b, radial = 1 + r2 * (k1 + r2 * (k2 + r2 * k3));
  return [
    a * radial + 2 * p1 * a * b + p2 * (r2 + 2 * a * a) + x - a,
    b * radial + p1 * (r2 + 2 * b * b) + 2 * p2 * a * b + y - b,
  ];
}

function straightPlace(bend, x, y) {
  let a = x, b = y;
  for (let step = 0; step < STEPS; step++) {
    const [fx, fy] = bentPlace(bend, a, b), dx = fx - x, dy = fy - y;
    if (Math.abs(dx) + Math.abs(dy) < 1e-11) break;
    const [px, py] = bentPlace(bend, a + LEAST, b), [qx, qy] = bentPlace(bend, a, b + LEAST);
    const xx = (px - fx) / LEAST, yx = (py - fy) / LEAST, xy = (qx - fx) / LEAST, yy = (qy - fy) / LEAST;
    const determinant = xx * yy - xy * yx || 1;
    a -= (dx * yy - dy * xy) / determinant;
    b -= (dy * xx - dx * yx) / determinant;
  }
  return [a, b];
}

export function bent(geometry, through, q) {
  // Where the lens puts what a pinhole draws at q, both in drawing units.
  const bend = through.bend;
  if (!bend || !q) return q;
  const [w, h] = geometry.frame, [cu, cv, su, sv] = bend;
  const [x, y] = bentPlace(bend, (q[0] / w - cu) / su, (q[1] / h - cv) / sv);
  return [(x * su + cu) * w, (y * sv + cv) * h];
}

function straightened(geometry, x, y) {
  const bend = geometry.bend, [w, h] = geometry.frame;
  if (!bend) return [x / w, y / h];
  const [cu, cv, su, sv] = bend, [a, b] = straightPlace(bend, (x / w - cu) / su, (y / h - cv) / sv);
  return [a * su + cu, b * sv + cv];
}

function ray(geometry, x, y) {
  // Direction from the lens through a place in the frame, one mm of depth long.
  const [r00, r10, r01] = geometry.camera.rays;
  const [u, v] = straightened(geometry, x, y);
  return [0, 1, 2].map((k) => r00[k] + u * (r10[k] - r00[k]) + v * (r01[k] - r00[k]));
}

export function onPlane(geometry, x, y, point, normal) {
  // Where the ray through (x, y) meets a plane, or null.
  const d = ray(geometry, x, y), o = geometry.camera.position;
  const along = d[0] * normal[0] + d[1] * normal[1] + d[2] * normal[2];
  if (Math.abs(along) < 1e-9) return null;
  const t = ((point[0] - o[0]) * normal[0] + (point[1] - o[1]) * normal[1] + (point[2] - o[2]) * normal[2]) / along;
  return t > 0 ? [o[0] + t * d[0], o[1] + t * d[1], o[2] + t * d[2]] : null;
}

// The two views: straight is what a pinhole draws, in which straight lines stay so; point is where a place is shown; curve bends a whole path.
export function viewsOf(geometry, through = geometry) {
  const bends = through.bend ? (q) => bent(geometry, through, q) : null;
  return {
    frame: { straight: (p) => toFrame(geometry, through, p), point: (p) => bent(geometry, through, toFrame(geometry, through, p)), curve: bends },
    table: { straight: (p) => toTable(geometry, p), point: (p) => toTable(geometry, p), curve: null },
  };
}
