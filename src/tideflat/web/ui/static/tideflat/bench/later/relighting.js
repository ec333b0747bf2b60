// While a light, card or piece of the rig is moved: both views lit by it where it is now, in canvases over the drawings, which stay as they are.

import { unpacked } from "./light-kit.js";
import { cardLight, frameGround, frameToGround } from "./lit-ground.js";
import { dress, painted, undress } from "./lit-layers.js";
import { evenly, falls, onPlane, onThings, ready, through } from "./litting.js";

export const HELD = 9, LET_GO = 16, FINER = 36; // places of a light that are looked at
const DARK = 1e-4;
let kit = null, of = "";

export const keepKit = (live, key) => { of = key; kit = live ? unpacked(live) : null; };
export const hasKit = (key) => kit !== null && of === key;

const turned = ([x, y, ...rest], c, s) => [x * c - y * s, x * s + y * c, ...rest];

function carried(move) {
  // A map of points, and one of ways, of what is moved.
  const [mx, my] = move.middle, c = Math.cos(move.turn), s = Math.sin(move.turn), [dx, dy] = move.shift;
  const point = ([x, y, ...rest]) => { const [a, b] = turned([x - mx, y - my], c, s); return [mx + a + dx, my + b + dy, ...rest]; };
  return { point, way: (v) => turned(v, c, s) };
}

const pointwise = (points, point) => Array.from({ length: points.length / 3 }, (_, k) => point([...points.subarray(3 * k, 3 * k + 3)])).flat();

export function begin(list, id) {
  // What is lit by what moves, before it moves: what is left when its own light is taken away.
  const lights = list === "lights" ? (kit.sources[id] ? { [id]: kit.sources[id] } : {}) : kit.sources;
  const rest = (part) => {
    const found = Float32Array.from(part.light);
    for (const [name, light] of Object.entries(lights)) for (let k = 0, n = part.straight[name].length; k < n; k++) for (let c = 0; c < 3; c++) found[3 * k + c] = Math.max(0, found[3 * k + c] - part.straight[name][k] * light.rgb[c]);
    return found;
  };
  const seen = (part) => ({
    rest: rest(part),
    seen: Object.fromEntries(Object.entries(lights).map(([name, light]) => {
      const free = onThings(part, light, evenly(light.places, LET_GO));
      return [name, Float32Array.from(free, (v, k) => (v > DARK ? Math.min(1, part.straight[name][k] / v) : 1))];
    })),
  });
  const held = { list, id, lights, ground: rest(kit.ground), table: seen(kit.table), frame: seen(kit.frame), on: frameToGround(kit) };
  held.tops = Object.fromEntries(Object.entries(lights).map(([name, light]) => [name, kit.planes.map((plane, k) => k && onPlane(plane, light, evenly(light.places, HELD), kit.parts)[1])]));
  held.card = list === "cards" ? (kit.cards[id] || []) : [];
  held.before = held.card.length ? cardLight(kit, held.card, (p) => p, (v) => v) : null;
  dress();
  return held;
}

export function draw(held, move, count) {
  // The light of both views where what is held is now, by so many places of each light.
  const { point, way } = carried(move), mine = `${{ lights: "light", cards: "card", rig: "rig" }[held.list]} ${held.id}`;
  const moved = ([name, light]) => [name, held.list === "lights" ? { ...light, places: light.places.map(point), finer: light.finer.map(point), out: way(light.out) } : light];
  const lights = Object.fromEntries(Object.entries(held.lights).map(moved));
  const parts = held.list === "lights" ? kit.parts : kit.parts.map((part) => (part.of === mine ? ready({ ...part, points: pointwise(part.points, point) }) : part));
  const card = held.before && cardLight(kit, held.card, point, way);
  let grown = 1;
  const tops = {}, sums = { ground: Float32Array.from(held.ground), table: Float32Array.from(held.table.rest), frame: Float32Array.from(held.frame.rest) };
  for (const [name, light] of Object.entries(lights)) {
    const places = count === FINER ? light.finer : evenly(light.places, count);
    const planes = kit.planes.map((plane) => onPlane(plane, light, places, parts));
    tops[name] = planes.map(([, share]) => share);
    // What is given back of a light grows and shrinks with what of it reaches the surface.
    grown = held.list !== "lights" ? 1 : 1 + light.back * (mean(planes[0][0]) / Math.max(DARK, mean(kit.ground.straight[name])) - 1);
    for (const sum of Object.values(sums)) for (let k = 0; k < sum.length; k++) sum[k] *= grown;
    add(sums.ground, planes[0][0], light.rgb);
    for (const view of ["table", "frame"]) {
      const free = onThings(kit[view], light, places), usual = held[view].seen[name];
      for (let k = 0; k < free.length; k++) free[k] *= through(kit[view], k, kit.planes, tops[name], held.tops[name], usual[k]);
      add(sums[view], free, light.rgb);
    }
  }
  if (card) for (const [part, sum] of Object.entries(sums)) for (let k = 0; k < sum.length; k++) sum[k] = Math.max(0, sum[k] + card[part][k] - held.before[part][k]);
  painted(kit, { ...sums, frameGround: frameGround(kit, held.on, sums.ground) }, exposure(held, lights, grown));
}

const mean = (light) => light.reduce((all, v) => all + v, 0) / light.length;

function add(sum, given, rgb) {
  for (let k = 0; k < given.length; k++) for (let c = 0; c < 3; c++) sum[3 * k + c] += given[k] * rgb[c];
}

function exposure(held, lights, grown) {
  // The picture stays exposed for its subject.
  const { at, faces, straight } = kit.subject, rest = [1, 1, 1], come = [0, 0, 0];
  for (const [name, light] of Object.entries(lights)) faces.forEach((face, k) => {
    const sum = (of) => evenly(of.places, LET_GO).reduce((all, s) => all + falls(of, s, ...at, ...face), 0), was = sum(held.lights[name]);
    const seen = was > DARK ? Math.min(1, straight[name][k] / was) : 1, is = sum(light) * seen;
    for (let c = 0; c < 3; c++) {
      rest[c] -= (straight[name][k] * light.rgb[c]) / faces.length;
      come[c] += (is * light.rgb[c]) / faces.length;
    }
  });
  return come.map((v, c) => Math.max(0.02, v + Math.max(0, rest[c]) * grown));
}

export const end = () => undress();
