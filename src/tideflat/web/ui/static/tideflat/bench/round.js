// A press held on bare ground and drawn round things: all of them are in hand then.

import { byId, now } from "./state.js";
import { clearOver, make } from "./overlays.js";

const boxOf = (drag) => [0, 1].map((k) => [Math.min(drag.from[k], drag.at[k]), Math.max(drag.from[k], drag.at[k])]);

export function drawRound(drag) {
  clearOver("round");
  const [[x0, x1], [y0, y1]] = boxOf(drag);
  byId(drag.view + "-over").append(make("rect", { class: "over-round round", x: x0, y: y0, width: x1 - x0, height: y1 - y0 }));
}

export function takenRound(drag) {
  // Those whose middle, as the view draws them, lies inside.
  const [[x0, x1], [y0, y1]] = boxOf(drag);
  return Object.keys(now.geometry.things).filter((id) => {
    const node = byId((drag.view === "table" ? "t-" : "f-") + id), outline = node && (node.querySelector(".outline") || node);
    if (!outline) return false;
    const b = outline.getBBox(), x = b.x + b.width / 2, y = b.y + b.height / 2;
    return x >= x0 && x <= x1 && y >= y0 && y <= y1;
  });
}
