// A loop of set-ups in which one thing is swapped, played as it will be seen: at most three changes a second, and never unasked.

const MOST = 3; // changes a second: more may harm (WCAG 2.3.1)

function begin(section) {
  const names = section.dataset.loop.split("|"), button = section.querySelector("[data-play]"), speed = section.querySelector("input");
  const pictures = names.map((name) => document.querySelector(`[data-setup="${CSS.escape(name)}"] > svg`).cloneNode(true));
  const stage = section.querySelector(".loop-stage"), said = section.querySelector("[role=status]");
  let at = 0, timer = 0;
  const show = () => { stage.replaceChildren(pictures[at]); said.textContent = names[at]; };
  const step = () => { at = (at + 1) % pictures.length; show(); plan(); };
  const plan = () => { timer = setTimeout(step, 1000 / Math.min(MOST, Number(speed.value))); };
  const stop = () => { clearTimeout(timer); timer = 0; button.textContent = "Play it as it will be seen"; button.setAttribute("aria-pressed", "false"); };
  button.addEventListener("click", () => {
    if (timer) return stop();
    button.textContent = "Pause";
    button.setAttribute("aria-pressed", "true");
    plan();
  });
  document.addEventListener("visibilitychange", () => { if (document.hidden && timer) stop(); });
  show();
}

document.querySelectorAll("[data-loop]").forEach(begin);
