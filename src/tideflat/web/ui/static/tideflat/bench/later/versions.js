// A version over what stands now: faded, wiped across, only what differs, or its frame beside the frame.

import { byId, stage } from "../state.js";

const VIEWS = ["frame", "table"];
const pictures = () => Array.from(document.querySelectorAll(".laid-over[data-over]")).filter((n) => !n.closest("#compared"));
const controls = () => document.querySelector("#compared .compared-head");
let watching = null;

export function compare(address) {
  return window.htmx.ajax("GET", address, { target: "#compared", swap: "innerHTML", values: { setup: stage().dataset.setup } }).then(mount);
}

function mount() {
  pictures().forEach((n) => n.remove());
  const box = byId("compared");
  if (!controls()) return;
  for (const name of VIEWS) {
    const drawing = box.querySelector(`[data-over=${name}]`);
    byId(name + "-svg").parentNode.append(drawing);
  }
  if (watching) watching.disconnect();
  watching = new MutationObserver(place); // zoomed with the view that it lies over
  for (const name of VIEWS) watching.observe(byId(name + "-svg"), { attributes: true, attributeFilter: ["viewBox"] });
  place();
}

function place() {
  if (!controls()) return uncompare();
  const way = controls().querySelector("[name=way]:checked").value, much = Number(controls().querySelector("[name=much]").value);
  for (const drawing of pictures()) {
    const name = drawing.dataset.over, under = byId((way === "beside" && name === "frame" ? "table" : name) + "-svg");
    const at = under.getBoundingClientRect(), within = drawing.parentNode.getBoundingClientRect();
    if (way !== "beside") drawing.setAttribute("viewBox", byId(name + "-svg").getAttribute("viewBox"));
    else drawing.setAttribute("viewBox", byId(name + "-svg").dataset.box);
    Object.assign(drawing.style, {
      left: at.left - within.left + "px", top: at.top - within.top + "px", width: at.width + "px", height: at.height + "px",
      opacity: way === "over" ? much / 100 : 1,
      clipPath: way === "wipe" ? `inset(0 ${100 - much}% 0 0)` : "none",
      mixBlendMode: way === "differs" ? "difference" : "normal",
      display: way === "beside" && name === "table" ? "none" : "",
    });
    drawing.classList.toggle("is-beside", way === "beside");
  }
}

export function uncompare() {
  pictures().forEach((n) => n.remove());
  if (watching) watching.disconnect();
  watching = null;
  if (byId("compared")) byId("compared").replaceChildren();
}

document.addEventListener("input", (event) => { if (event.target.closest && event.target.closest(".compared-head")) place(); });
document.addEventListener("click", (event) => { if (event.target.closest && event.target.closest("[data-uncompare]")) uncompare(); });
document.addEventListener("htmx:afterSettle", () => { if (pictures().length && !controls()) uncompare(); });
window.addEventListener("resize", () => { if (pictures().length) place(); });
