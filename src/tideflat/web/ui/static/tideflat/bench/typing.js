// From the key that asks for the stores to the search in them: what is typed meanwhile is not lost, and works nothing else.

import { openTray } from "./requests.js";
import { setDrawer } from "./drawer.js";

let ahead = null; // what was typed while the stores were on their way

export function typedAhead(event) {
  // True when the key was taken for the search that is about to open.
  if (!ahead || event.ctrlKey || event.metaKey || event.altKey) return false;
  if (event.key === "Enter") ahead.enter = true;
  else if (event.key === "Backspace") ahead.text = ahead.text.slice(0, -1);
  else if (event.key.length === 1) ahead.text += event.key;
  else return false;
  return true;
}

export function searchStores() {
  const own = (ahead = { text: "", enter: false });
  setDrawer(true);
  openTray("store").finally(() => {
    const field = document.querySelector("#tray [type=search]");
    ahead = null;
    if (!field) return;
    field.focus();
    field.select();
    if (!own.text) return;
    field.value = own.text;
    field.dispatchEvent(new Event("input", { bubbles: true }));
    if (own.enter) field.form.requestSubmit();
  });
}
