// Two fingers turned on a view turn what is in hand; it is kept when they are lifted.

import { mayChange, now } from "./state.js";
import { change } from "./requests.js";
import { heldIds } from "./hand.js";
import { shiftAll } from "./holding.js";
import { releaseOf } from "./drag.js";

const FROM = 6; // degrees: fingers that only zoom turn so much by themselves

export function turnHeld(degrees, isEnd) {
  const ids = heldIds();
  if (now.drag && now.drag.touch) now.drag = null; // the first finger's own drag gives way
  if (!ids.length || !mayChange() || ids.some((i) => now.geometry.things[i].locked)) return;
  const turn = Math.abs(degrees) < FROM ? 0 : Math.round(degrees);
  shiftAll(ids, [0, 0, 0], turn);
  if (isEnd && turn) change(...releaseOf({ ids, id: ids[0], handle: true, turn, shift: [0, 0, 0] }));
}
