// What is typed and not sent yet, or was refused, is not overtaken by an answer that was under way.

const settled = new WeakSet(); // forms with nothing of one's own in them: sent as they stand, or of another thing now

const isAltered = (field) => (field.matches("select") ? Array.from(field.options).some((o) => o.selected !== o.defaultSelected) : field.value !== field.defaultValue);
const ofWhat = (form) => [form.dataset.form, ...["id", "ids", "was", "key"].map((name) => { const field = form.querySelector(`[type=hidden][name=${name}]`); return field ? field.value : ""; })].join(" ");

// Fields that are sent by themselves. Only the answer to what was typed in one may put something else in its place.
const typedIn = new WeakSet();
const sayOf = (field) => ["doTyped", "id", "name", "field", "at", "index"].map((key) => field.dataset[key]).join(" ");

export async function whileAsked(field, ask) {
  typedIn.delete(field);
  await ask();
  typedIn.add(field); // refused, it stands as it was typed; taken, it is what the answer made of it
}

export function isUnsent(node, next) {
  // `next`: what the answer has in its place. A form comes before what is in it.
  if (node.nodeType !== 1) return false;
  if (node.matches("form") && next.matches && next.matches("form")) {
    if (ofWhat(node) !== ofWhat(next)) settled.add(node);
    return false;
  }
  if (typedIn.has(node)) return isAltered(node) && next.matches("[data-do-typed]") && sayOf(node) === sayOf(next);
  return node.matches("form[data-form] :is(input, select, textarea)") && !settled.has(node.form) && isAltered(node);
}

export function listenToTyping() {
  document.addEventListener("submit", (event) => settled.add(event.target));
  document.addEventListener("input", (event) => {
    if (event.target.form) settled.delete(event.target.form);
    if (event.target.dataset.doTyped) typedIn.add(event.target);
  });
}
