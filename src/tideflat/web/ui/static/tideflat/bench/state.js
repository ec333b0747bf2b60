// What the bench knows now: the geometry that the core made, what is being dragged or moved by keys, and what the page says of itself.

export const now = { geometry: null, drag: null, keyed: null, place: null, row: null };

export const byId = (id) => document.getElementById(id);
export const stage = () => byId("stage");
export const mayChange = () => byId("bench").dataset.mayChange === "yes";

export const MASK = { table: 1, frame: 2 };
export const PREFIX = { table: "t-", frame: "f-" };

let read = "";

export function readGeometry() {
  // What the window has already is not sent again: it is taken over from before. False when something is missing here.
  const text = byId("geometry").textContent;
  if (text === read) return true;
  const next = JSON.parse(text), things = {};
  for (const id of next.order) {
    things[id] = next.things[id] || (now.geometry && now.geometry.things[id]);
    if (!things[id]) return false;
  }
  next.things = things;
  now.geometry = next;
  read = text;
  return !document.querySelector("#stage [data-kept]");
}

export function length(mm) {
  const unit = stage().dataset.unit;
  if (unit === "cm") return (mm / 10).toFixed(1) + " cm";
  if (unit === "in") return (mm / 25.4).toFixed(2) + " in";
  return Math.round(mm) + " mm";
}
