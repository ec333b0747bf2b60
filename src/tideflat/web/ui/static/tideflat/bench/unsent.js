// What is typed in a form and not sent yet is not overtaken by an answer that was under way.

const settled = new WeakSet(); // forms with nothing of one's own in them: sent as they stand, or of another thing now

const isAltered = (field) => (field.matches("select") ? Array.from(field.options).some((o) => o.selected !== o.defaultSelected) : field.value !== field.defaultValue);
const ofWhat = (form) => [form.dataset.form, ...["id", "ids", "was", "key"].map((name) => { const field = form.querySelector(`[type=hidden][name=${name}]`); return field ? field.value : ""; })].join(" ");

export function isUnsent(node, next) {
  // `next`: what the answer has in its place. A form comes before what is in it.
  if (node.nodeType !== 1) return false;
  if (node.matches("form") && next.matches && next.matches("form")) {
    if (ofWhat(node) !== ofWhat(next)) settled.add(node);
    return false;
  }
  return node.matches("form[data-form] :is(input, select, textarea)") && !settled.has(node.form) && isAltered(node);
}

export function listenToTyping() {
  document.addEventListener("submit", (event) => settled.add(event.target));
  document.addEventListener("input", (event) => { if (event.target.form) settled.delete(event.target.form); });
}
