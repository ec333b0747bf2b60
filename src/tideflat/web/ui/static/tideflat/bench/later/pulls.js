// Where magnets pull to: edges, middles, equal gaps, thirds, guides and the rims of dishes, each told with its measure.

import { byId, length, now } from "../state.js";
import { viewsOf } from "../projection.js";
import { clearOver, make } from "../overlays.js";

const PULL = 5; // pixels

function spans(points) {
  const xs = points.map((p) => p[0]), ys = points.map((p) => p[1]);
  return [[Math.min(...xs), Math.max(...xs)], [Math.min(...ys), Math.max(...ys)]];
}

function others(drag) {
  const things = now.geometry.things, apart = new Set(drag.ids.flatMap((i) => [i, ...things[i].carried, ...things[i].along]));
  return Object.keys(things).filter((i) => !apart.has(i) && !["scatter", "cloth", "filler"].includes(things[i].role));
}

function lines(drag, axis) {
  // What there is to line up with, along one axis of the table: [place, words].
  const found = [];
  for (const id of others(drag)) {
    const thing = now.geometry.things[id], [low, high] = spans(thing.foot)[axis];
    found.push([(low + high) / 2, "middle of " + thing.name, "middle"], [low, "edge of " + thing.name, "edge"], [high, "edge of " + thing.name, "edge"]);
  }
  const size = now.geometry.table[axis];
  for (const third of [1 / 3, 2 / 3]) found.push([third * size, "a third of the table", "middle"]);
  return found;
}

const LEAST = 1; // mm, by which a place is moved to learn how the frame answers
function frameLines(axis, middle, z) {
  // Guides and thirds of the frame, as places along one axis of the table through the thing's middle; where the camera is not walked round.
  const { camera, frame, guides } = now.geometry, view = viewsOf(now.geometry).frame, found = [];
  if (Math.abs(camera.right[1]) > 0.3) return found;
  const lines = [...guides.filter(([a]) => a === "uv"[axis]).map(([, at]) => [at, "the guide"]), [1 / 3, "a third of the frame"], [2 / 3, "a third of the frame"]];
  const step = axis === 0 ? [LEAST, 0] : [0, LEAST], p = view.point([...middle, z]), q = view.point([middle[0] + step[0], middle[1] + step[1], z]);
  if (!p || !q || Math.abs(q[axis] - p[axis]) < 1e-6) return found;
  for (const [at, words] of lines) found.push([middle[axis] + ((at * frame[axis] - p[axis]) / (q[axis] - p[axis])) * LEAST, words, "middle"]);
  return found;
}

function equalGaps(drag, axis, own) {
  // Between two neighbours whose gaps would be alike; beside one, as far as it is from the next.
  const across = 1 - axis, rows = others(drag).map((i) => spans(now.geometry.things[i].foot)).filter((s) => s[across][0] < own[across][1] && s[across][1] > own[across][0]);
  const width = own[axis][1] - own[axis][0], found = [];
  for (const a of rows) for (const b of rows) {
    if (a[axis][1] >= b[axis][0]) continue;
    const gap = b[axis][0] - a[axis][1];
    if (gap > width) found.push([a[axis][1] + gap / 2, `equal gaps, ${length((gap - width) / 2)}`]);
    found.push([b[axis][1] + gap + width / 2, `equal gaps, ${length(gap)}`], [a[axis][0] - gap - width / 2, `equal gaps, ${length(gap)}`]);
  }
  return found;
}

function pull(drag, axis, own, reach) {
  const [low, high] = own[axis], middle = (low + high) / 2;
  let best = null;
  const consider = (by, at, words) => { if (Math.abs(by) < reach && (!best || Math.abs(by) < Math.abs(best.by))) best = { by, at, words, axis }; };
  const at0 = own.map(([a, b]) => (a + b) / 2), z = now.geometry.things[drag.id].z;
  for (const [at, words, kind] of [...lines(drag, axis), ...frameLines(axis, at0, z)]) {
    if (kind !== "edge") consider(at - middle, at, words);
    if (kind !== "middle") { consider(at - low, at, words); consider(at - high, at, words); }
  }
  for (const [at, words] of equalGaps(drag, axis, own)) consider(at - middle, at, words);
  return best;
}

function rimPull(drag, foot, reach) {
  // The nearest rim that what is held all but touches, from inside or from outside: { by, thing, words }, or null.
  const xs = spans(foot), middle = xs.map(([a, b]) => (a + b) / 2), things = now.geometry.things;
  let best = null;
  for (const id of others(drag)) {
    const thing = things[id];
    if (!thing.rim) continue;
    const way = [middle[0] - thing.x, middle[1] - thing.y], far = Math.hypot(...way) || 1, out = [way[0] / far, way[1] / far];
    const outs = foot.map((p) => (p[0] - thing.x) * out[0] + (p[1] - thing.y) * out[1]);
    const furthest = Math.max(...foot.map((p) => Math.hypot(p[0] - thing.x, p[1] - thing.y)));
    for (const [off, words] of [[thing.rim - furthest, "just inside the rim of "], [thing.rim - Math.min(...outs), "just outside the rim of "]]) {
      if (Math.abs(off) < reach && (!best || Math.abs(off) < Math.abs(best.off))) best = { off, by: [out[0] * off, out[1] * off], thing, words: words + thing.name };
    }
  }
  return best;
}

function drawRim({ thing, words }) {
  const views = viewsOf(now.geometry), round = Array.from({ length: 73 }, (_, k) => (k * Math.PI) / 36);
  for (const name of ["table", "frame"]) {
    const points = round.map((t) => views[name].point([thing.x + thing.rim * Math.cos(t), thing.y + thing.rim * Math.sin(t), thing.top]));
    if (points.some((p) => !p)) continue;
    byId(name + "-over").append(make("polyline", { class: "over-magnet magnet", fill: "none", points: points.map((p) => p.map((v) => v.toFixed(1)).join(" ")).join(" ") }));
    if (name === "table") byId("table-over").append(make("text", { class: "over-magnet measure-text", x: points[18][0], y: points[18][1], "text-anchor": "middle", dy: "-0.4em" }, words));
  }
}

function draw(found) {
  const views = viewsOf(now.geometry), [w, d] = now.geometry.table;
  for (const { at, words, axis } of found) {
    const ends = axis === 0 ? [[at, 0, 0], [at, d, 0]] : [[0, at, 0], [w, at, 0]];
    for (const name of ["table", "frame"]) {
      const p = views[name].point(ends[0]), q = views[name].point(ends[1]);
      if (!p || !q) continue;
      byId(name + "-over").append(make("line", { class: "over-magnet magnet", x1: p[0], y1: p[1], x2: q[0], y2: q[1] }));
      if (name === "table") byId("table-over").append(make("text", { class: "over-magnet measure-text", x: axis ? q[0] : p[0], y: axis ? p[1] : q[1], "text-anchor": axis ? "end" : "middle", dy: "-0.3em" }, words));
    }
  }
}

export function pulled(drag, shift) {
  // The shift, brought to the nearest line within the magnets' pull, each axis for itself.
  const foot = drag.ids.flatMap((i) => now.geometry.things[i].foot), own = spans(foot.map((p) => [p[0] + shift[0], p[1] + shift[1]]));
  const reach = PULL / byId("table-svg").getScreenCTM().a;
  clearOver("magnet");
  const rim = rimPull(drag, foot.map((p) => [p[0] + shift[0], p[1] + shift[1]]), reach);
  if (rim) { drawRim(rim); return [shift[0] + rim.by[0], shift[1] + rim.by[1], shift[2]]; }
  const found = [0, 1].map((axis) => pull(drag, axis, own, reach)).filter(Boolean);
  draw(found);
  const by = [0, 0];
  for (const f of found) by[f.axis] = f.by;
  return [shift[0] + by[0], shift[1] + by[1], shift[2]];
}
