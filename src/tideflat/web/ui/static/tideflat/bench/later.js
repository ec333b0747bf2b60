// What is wanted now and then comes when it is wanted, not with the page.

import { byId } from "./state.js";

export function openFinder() {
  // Open at once, so that what is typed is typed there.
  const dialog = byId("keys"), field = dialog.querySelector('[type="search"]');
  field.value = "";
  dialog.showModal();
  field.focus();
  import("./later/finder.js").then((finder) => finder.fill());
}

export const listenToSide = () => import("./later/side.js").then((side) => side.listenToSide());
