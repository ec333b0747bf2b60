// Canvases that lie over both drawings while light is moved: one is multiplied where there is less light than is exposed for, one dodges where there is more.

import { byId } from "../state.js";

const FINE = 0.5; // pixels of a canvas for one of the window
const STEPS = 512, MOST = 16; // light is looked up in steps of a share
const SPREAD = 6; // places that things' light is carried beyond their edges
const EXPONENT = 1 / 2.2;
const LESS = Uint8ClampedArray.from({ length: STEPS * MOST + 1 }, (_, k) => 255 * Math.min(1, (k / STEPS) ** EXPONENT));
const MORE = Uint8ClampedArray.from({ length: STEPS * MOST + 1 }, (_, k) => 255 * (1 - Math.max(1, k / STEPS) ** -EXPONENT));
const OVER = ["frame-crops", "frame-grids", "frame-lights", "frame-scheme", "frame-over"];
let views = null;

export function dress() {
  undress();
  views = ["table", "frame"].map((name) => ({ name, less: layer(name, ""), more: layer(name, " is-more"), outlines: outlines(name) }));
  views[1].over = over();
  document.documentElement.classList.add("relit");
}

function over() {
  // What lies over the frame's picture is not lit: it is shown over the canvases instead.
  const svg = byId("frame-svg"), inner = byId("frame-things").ownerSVGElement, found = svg.cloneNode(false), place = svg.getBoundingClientRect();
  const held = inner === svg ? found : found.appendChild(inner.cloneNode(false));
  for (const id of OVER) if (byId(id)) held.append(byId(id).cloneNode(true));
  for (const node of [found, ...found.querySelectorAll("[id]")]) node.removeAttribute("id");
  found.setAttribute("class", "relit-over");
  found.setAttribute("aria-hidden", "true");
  placed(found, place);
  return found;
}

function placed(node, place) {
  Object.assign(node.style, { left: `${place.left}px`, top: `${place.top}px`, width: `${place.width}px`, height: `${place.height}px` });
  document.body.append(node);
}

export function undress() {
  document.documentElement.classList.remove("relit");
  if (views) for (const { less, more, over } of views) for (const node of [less.canvas, more.canvas, over]) if (node) node.remove();
  views = null;
}

function layer(name, kind) {
  const canvas = document.createElement("canvas"), place = byId(name + "-svg").getBoundingClientRect();
  canvas.className = "relit-layer" + kind;
  canvas.setAttribute("aria-hidden", "true");
  canvas.width = Math.max(1, Math.round(place.width * FINE));
  canvas.height = Math.max(1, Math.round(place.height * FINE));
  placed(canvas, place);
  return { canvas, context: canvas.getContext("2d"), place };
}

function outlines(name) {
  const all = new Path2D();
  for (const path of byId(name + "-lit-clip").children) all.addPath(new Path2D(path.getAttribute("d")));
  return all;
}

const BLUR = [1, 2, 1, 2, 4, 2, 1, 2, 1];

export function spread(seen) {
  // nearest: for each place of a picture the number of the place with a thing that is nearest, -1 far from all; round: for each place with a thing the nine about it, itself where there is none.
  const [w, h] = seen.size, found = new Int32Array(w * h).fill(-1), round = new Int32Array(9 * seen.hit.length);
  seen.hit.forEach((at, k) => { found[at] = k; });
  seen.hit.forEach((at, k) => {
    for (let j = 0; j < 9; j++) {
      const x = (at % w) + (j % 3) - 1, y = Math.floor(at / w) + Math.floor(j / 3) - 1, other = x < 0 || x >= w || y < 0 || y >= h ? -1 : found[y * w + x];
      round[9 * k + j] = other < 0 ? k : other;
    }
  });
  for (let step = 0; step < SPREAD; step++) {
    const before = Int32Array.from(found);
    for (let k = 0; k < w * h; k++) {
      if (before[k] !== -1) continue;
      const x = k % w, near = [x > 0 ? k - 1 : -1, x < w - 1 ? k + 1 : -1, k - w, k + w].find((j) => j >= 0 && j < w * h && before[j] !== -1);
      if (near !== undefined) found[k] = before[near];
    }
  }
  return { nearest: found, round };
}

function smoothed(light, { round }) {
  // Grain taken off.
  const found = new Float32Array(light.length);
  for (let k = 0; k < light.length / 3; k++) for (let j = 0; j < 9; j++) for (let c = 0; c < 3; c++) found[3 * k + c] += (BLUR[j] / 16) * light[3 * round[9 * k + j] + c];
  return found;
}

function picture([w, h], light, exposed, number) {
  // Two small canvases: what is multiplied, and what is dodged (null where nothing is).
  const less = new ImageData(w, h), more = new ImageData(w, h);
  let isMore = false;
  for (let k = 0; k < w * h; k++) {
    const from = number ? number[k] : k;
    if (from < 0) continue;
    for (let c = 0; c < 3; c++) {
      const step = Math.min(STEPS * MOST, (light[3 * from + c] / exposed[c]) * STEPS) | 0;
      less.data[4 * k + c] = LESS[step];
      more.data[4 * k + c] = MORE[step];
      isMore = isMore || step > STEPS;
    }
    less.data[4 * k + 3] = more.data[4 * k + 3] = 255;
  }
  return { less: canvasOf(less), more: isMore ? canvasOf(more) : null };
}

function canvasOf(data) {
  const canvas = new OffscreenCanvas(data.width, data.height);
  canvas.getContext("2d").putImageData(data, 0, 0);
  return canvas;
}

export function painted(kit, light, exposed) {
  // The four pictures over both drawings, where they are shown now.
  if (!views) return;
  const [x0, y0, x1, y1] = kit.table_box, deep = kit.planes[0].box[3], wide = kit.planes[0].box[2], sheet = byId("frame-light-ground");
  const whole = [0, 0, Number(sheet.getAttribute("width")), Number(sheet.getAttribute("height"))];
  const table = { ground: picture(kit.ground.size, light.ground, exposed), at: [0, 0, wide, deep], things: picture(kit.table.size, smoothed(light.table, kit.spread.table), exposed, kit.spread.table.nearest), box: [x0, deep - y1, x1 - x0, y1 - y0] };
  const frame = { ground: picture(kit.frame_ground.size, light.frameGround, exposed), at: whole, things: picture(kit.frame.size, smoothed(light.frame, kit.spread.frame), exposed, kit.spread.frame.nearest), box: whole };
  for (const view of views) for (const kind of ["less", "more"]) laid(view, kind, view.name === "table" ? table : frame);
}

function laid(view, kind, { ground, at, things, box }) {
  const { canvas, context, place } = view[kind], matrix = byId(view.name + "-things").getScreenCTM();
  canvas.hidden = !ground[kind] && !things[kind];
  if (canvas.hidden) return;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, canvas.width, canvas.height);
  context.setTransform(matrix.a * FINE, 0, 0, matrix.d * FINE, (matrix.e - place.left) * FINE, (matrix.f - place.top) * FINE);
  if (ground[kind]) context.drawImage(ground[kind], ...at);
  context.save();
  context.clip(view.outlines);
  if (things[kind]) {
    context.globalCompositeOperation = "copy";
    context.drawImage(things[kind], ...box);
  } else context.clearRect(...box);
  context.restore();
}
