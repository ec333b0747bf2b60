// Which things are in hand, and what they turn about.

import { now, stage } from "./state.js";

export function heldIds() {
  const { selected, several } = stage().dataset;
  return several ? several.split(" ") : selected ? [selected] : [];
}

export function pivotOf(ids) {
  // What they are turned about: one thing's own place, or the middle of several, as core/table/together.py has it.
  const leads = leadsOf(ids).map((i) => now.geometry.things[i]);
  const mean = (key) => leads.reduce((sum, t) => sum + t[key], 0) / leads.length;
  return leads.length === 1 ? leads[0] : { x: mean("x"), y: mean("y"), z: 0, turn: 0, lean: 0, lean_toward: 0 };
}

export function leadsOf(ids) {
  // Without those that another of them carries.
  const things = now.geometry.things, carried = new Set(ids.flatMap((i) => (things[i] ? things[i].carried : [])));
  return ids.filter((i) => things[i] && !carried.has(i));
}
