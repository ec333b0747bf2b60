// The stores in the browser: keeps fields in step, and lets corners and outlines be moved by hand. No rules and no numbers of its own.
(function () {
  "use strict";
  const SVG = "http://www.w3.org/2000/svg";

  document.addEventListener("input", (event) => {
    const t = event.target;
    if (t.hasAttribute("data-colour-pick")) {
      const typed = t.form.querySelector("[data-colour]");
      typed.value = t.value;
      typed.dispatchEvent(new Event("input", { bubbles: true }));
    } else if (t.hasAttribute("data-colour") && /^#[0-9a-f]{6}$/i.test(t.value)) t.form.querySelector("[data-colour-pick]").value = t.value;
  });

  document.addEventListener("change", (event) => {
    // Another shape asks for other sizes: the page comes anew with what was typed kept in the address of nothing but the shape.
    if (!event.target.hasAttribute("data-shape")) return;
    const url = new URL(window.location.href);
    url.search = "?shape=" + encodeURIComponent(event.target.value);
    const kept = Object.fromEntries(new FormData(event.target.form));
    fetch(url, { headers: { "X-Requested-With": "fetch" } }).then((answer) => answer.text()).then((text) => {
      const fresh = new DOMParser().parseFromString(text, "text/html").querySelector(".prop-form");
      if (!fresh) return;
      for (const field of fresh.elements) if (kept[field.name] !== undefined && field.type !== "hidden" && field.type !== "checkbox" && field.name !== "shape") field.value = kept[field.name];
      event.target.form.replaceWith(document.importNode(fresh, true));
    });
  });

  document.addEventListener("submit", (event) => {
    const back = event.target.querySelector && event.target.querySelector('input[name="back"]');
    if (back) back.value = window.location.search;
  });

  document.addEventListener("DOMContentLoaded", () => {
    const photo = document.querySelector("[data-photo]");
    if (photo) moveByHand(photo);
  });

  function moveByHand(photo) {
    const svg = photo.querySelector("svg"), box = svg.viewBox.baseVal, form = photo.querySelector("form");
    const rings = { corners: JSON.parse(photo.dataset.corners), traced: JSON.parse(photo.dataset.traced) };
    const lines = { corners: svg.querySelector(".sheet-line"), traced: svg.querySelector(".traced-line") };
    const dots = svg.querySelector(".dots"), line = svg.querySelector(".stroke-line");
    const scale = Math.max(box.width, box.height);
    let held = null, kindOf = "", stroke = null;

    function draw() {
      for (const kind in rings) lines[kind].setAttribute("points", rings[kind].map((p) => p[0] * box.width + "," + p[1] * box.height).join(" "));
      dots.querySelectorAll("circle").forEach((dot) => {
        const p = rings[dot.dataset.kind][dot.dataset.at];
        dot.setAttribute("cx", p[0] * box.width);
        dot.setAttribute("cy", p[1] * box.height);
      });
    }

    function touched(kind) {
      // A moved corner measures anew from there; a moved outline is taken as it is.
      form.elements.corners.value = JSON.stringify(rings.corners);
      if (kind === "traced") form.elements.traced.value = JSON.stringify(rings.traced);
      draw();
    }

    function layDots(kind) {
      dots.querySelectorAll("." + kind).forEach((n) => n.remove());
      rings[kind].forEach((_, at) => {
        const dot = document.createElementNS(SVG, "circle");
        dot.setAttribute("r", scale * (kind === "corners" ? 0.013 : 0.008));
        dot.setAttribute("class", "dot " + kind);
        dot.setAttribute("tabindex", "0");
        dot.setAttribute("role", "button");
        dot.setAttribute("aria-label", kind === "corners" ? "corner of the sheet " + (at + 1) : "outline point " + (at + 1));
        dot.dataset.kind = kind;
        dot.dataset.at = at;
        dots.append(dot);
      });
    }

    const placeOf = (event) => {
      const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
      return [at.x / box.width, at.y / box.height];
    };

    // What a stroke of the finger says: "this too", "not this". The outline follows at once.
    photo.querySelectorAll("[data-stroke]").forEach((button) => button.addEventListener("click", () => {
      kindOf = kindOf === button.dataset.stroke ? "" : button.dataset.stroke;
      photo.querySelectorAll("[data-stroke]").forEach((b) => b.setAttribute("aria-pressed", String(b.dataset.stroke === kindOf)));
      photo.classList.toggle("stroking", Boolean(kindOf));
    }));

    function stroked() {
      form.elements.corners.value = JSON.stringify(rings.corners);
      form.elements.traced.value = JSON.stringify(rings.traced);
      form.elements.strokes.value = JSON.stringify([[kindOf === "too", stroke]]);
      form.requestSubmit();
    }

    function takeInHand(number) {
      svg.querySelectorAll(".piece-line").forEach((n) => n.classList.toggle("in-hand", n.dataset.number === number.dataset.number));
      rings.traced = JSON.parse(number.dataset.ring);
      layDots("traced");
      touched("traced");
    }
    svg.querySelectorAll("[data-ring]").forEach((number) => {
      number.addEventListener("click", () => takeInHand(number));
      number.addEventListener("keydown", (event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        takeInHand(number);
      });
    });

    layDots("traced");
    layDots("corners");
    form.elements.corners.value = ""; // dots that nobody has moved are nobody's corners
    draw();

    svg.addEventListener("pointerdown", (event) => {
      const dot = event.target.closest(".dot");
      if (kindOf && rings.traced.length) {
        stroke = [placeOf(event)];
        svg.setPointerCapture(event.pointerId);
        event.preventDefault();
        return;
      }
      if (!dot) return;
      held = dot;
      dot.setPointerCapture(event.pointerId);
      event.preventDefault();
      dot.focus();
    });
    svg.addEventListener("pointermove", (event) => {
      if (stroke) {
        if (stroke.length < 400) stroke.push(placeOf(event));
        line.setAttribute("points", stroke.map((p) => p[0] * box.width + "," + p[1] * box.height).join(" "));
        return;
      }
      if (!held) return;
      rings[held.dataset.kind][held.dataset.at] = placeOf(event);
      touched(held.dataset.kind);
    });
    for (const end of ["pointerup", "pointercancel"]) {
      svg.addEventListener(end, () => {
        if (stroke && end === "pointerup") stroked();
        held = stroke = null;
      });
    }
    svg.addEventListener("keydown", (event) => {
      const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
      const dot = event.target.closest(".dot");
      if (!way || !dot) return;
      event.preventDefault();
      const step = (event.shiftKey ? 10 : 1) / scale, p = rings[dot.dataset.kind][dot.dataset.at];
      rings[dot.dataset.kind][dot.dataset.at] = [p[0] + way[0] * step, p[1] + way[1] * step];
      touched(dot.dataset.kind);
    });
  }
})();
