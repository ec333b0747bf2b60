// What is asked of the server: one after the other, each with the newest revision, so that quick hands never overtake themselves.

import { byId, stage } from "./state.js";
import { whileAsked } from "./unsent.js";

let queue = Promise.resolve();

export function say(text) {
  const place = byId("notice");
  place.textContent = "";
  if (text) {
    const line = document.createElement("p");
    line.className = "notice-line";
    line.textContent = text;
    place.append(line);
  }
}

export function sent(values) {
  const s = stage().dataset;
  return Object.assign({ revision: s.revision, setup: s.setup, only: s.only, selected: s.selected, several: s.several, tray: s.tray, crop: s.crop }, values);
}

function ask(method, path, values, target, swap) {
  return window.htmx.ajax(method, stage().dataset.url + path, { target: target || "#stage", swap: swap || "morph:outerHTML", values: values });
}

export function change(verb, values, field) {
  // `field`: the one it was typed in.
  const post = () => ask("POST", "do/" + verb + "/", sent(values));
  queue = queue.then(() => (field ? whileAsked(field, post) : post())).catch(() => say("The server did not answer. Your last step may not be kept; it will be tried no further."));
  return queue;
}

export function travel(way, values) {
  queue = queue.then(() => ask("POST", way + "/", sent(values || {}))).catch(() => say("The server did not answer."));
}

export function copyThings(ids, to) {
  queue = queue.then(() => ask("POST", "copy-things/", { ids, to, setup: stage().dataset.setup }, "#notice", "none")).catch(() => say("The server did not answer."));
}

export function refresh(values) {
  // In the same line as the changes: a change is answered for the set-up and the things that are shown.
  queue = queue.then(() => ask("GET", "stage/", sent(values || {}))).catch(() => {});
  return queue;
}

export function openTray(kind, more) {
  stage().dataset.tray = kind;
  // In the same line as the changes, and asked for as things stand when its turn comes: a set-up or a change may be on its way still, and
  // its answer opens the tray that was open when it was asked for.
  queue = queue.then(() => {
    stage().dataset.tray = kind;
    return ask("GET", "tray/", { ...sent({}), ...more }, "#tray", "morph:outerHTML");
  }).catch(() => say("The server did not answer."));
  return queue;
}

export function keepVersion() {
  stage().dataset.tray = "versions";
  queue = queue.then(() => ask("POST", "versions/keep/", sent({}), "#tray", "morph:outerHTML")).catch(() => say("The server did not answer."));
  return queue;
}

export function askInto(slot, path, values) {
  // Beside the line: what changes nothing need not wait.
  return window.htmx.ajax("GET", stage().dataset.url + path, { target: slot, swap: "innerHTML", values });
}
