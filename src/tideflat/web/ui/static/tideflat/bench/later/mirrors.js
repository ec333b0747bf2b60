// Where gloss and metal show lights, cards and the camera, outlined on them; asked for when it is looked at, after the light is drawn.

import { byId, stage } from "../state.js";
import { sent } from "../requests.js";

const SVG = "http://www.w3.org/2000/svg";
let asking = null;
let shown = "";

const key = () => `${stage().dataset.revision} ${stage().dataset.setup}`;
const isLookedAt = () => stage().dataset.tray === "light" || (document.querySelector("[data-grids]")?.dataset.grids || "").split(" ").includes("mirrors");

export async function settleMirrors() {
  const place = byId("frame-mirrors");
  if (!place || key() === shown || !isLookedAt()) return;
  if (asking) asking.abort();
  const mine = (asking = new AbortController()), wanted = key();
  if (shown) place.replaceChildren(); // what was true before the change is not shown meanwhile
  try {
    const answer = await fetch(`${stage().dataset.url}light/mirrors/?${new URLSearchParams(sent({}))}`, { signal: mine.signal, priority: "low" });
    if (answer.status !== 200 || key() !== wanted) return;
    place.replaceChildren(...(await answer.json()).shown.flatMap(drawn));
    shown = wanted;
  } catch { /* dropped, or the server is away */ } finally { if (asking === mine) asking = null; }
}

function drawn({ of, kind, d, told, name, x, y }) {
  const path = document.createElementNS(SVG, "path"), title = document.createElementNS(SVG, "title"), text = document.createElementNS(SVG, "text");
  path.setAttribute("d", d);
  path.setAttribute("class", `is-${kind}`);
  path.dataset.mirrorOf = of;
  title.textContent = told;
  path.append(title);
  text.textContent = name;
  text.setAttribute("x", Number(x) + 6);
  text.setAttribute("y", Number(y) + 6);
  return [path, text];
}
