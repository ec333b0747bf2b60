// Quiet magnets: a thing that comes near to lining up with another does, and says so. Off while Ctrl is held, while the rest gives way, and for who does not want them.

import { byId, now } from "./state.js";
import { clearOver } from "./overlays.js";
import { givesWay } from "./room.js";

const KEPT = "tideflat-magnets"; // "off": none at all
const LINGER_MS = 300, STILL = 4; // a hand that lingers within so many pixels feels them; one that passes does not
let pulls = null; // what finds the lines comes with the first hand that lingers

const areOn = () => localStorage.getItem(KEPT) !== "off";

export function toggleMagnets() {
  localStorage.setItem(KEPT, areOn() ? "off" : "on");
  return areOn();
}

function lingers(drag) {
  // Asked at every frame; a frame is asked for once the hand has lingered.
  const far = drag.rest ? Math.hypot(drag.at[0] - drag.rest.at[0], drag.at[1] - drag.rest.at[1]) * byId(drag.view + "-svg").getScreenCTM().a : Infinity;
  if (far <= STILL) return drag.rest.is;
  const rest = (drag.rest = { at: drag.at, is: false });
  setTimeout(async () => {
    if (now.drag !== drag || drag.rest !== rest) return;
    pulls = pulls || (await import("./later/pulls.js"));
    rest.is = true;
    requestAnimationFrame(drag.tick);
  }, LINGER_MS);
  return false;
}

export function magnetised(drag, shift) {
  // The shift, brought to the nearest line within the magnets' pull.
  if (!areOn() || givesWay() || !lingers(drag) || drag.ctrlKey || shift[2]) { clearOver("magnet"); return shift; }
  return pulls.pulled(drag, shift);
}
