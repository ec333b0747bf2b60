// The bench in the browser: pointer and keys, immediate feedback in both views, one request on release.
(function () {
  "use strict";
  const L = window.Lens;
  const SVG = "http://www.w3.org/2000/svg";
  const LOW_CAMERA = 15; // degrees: under this a frame drag moves in the upright plane
  const LIFT_FROM = 18; // mm: a smaller upright move does not lift
  let geometry = null;
  let drag = null;
  let queue = Promise.resolve();
  let keyed = null;
  const asked = new Map();

  const $ = (id) => document.getElementById(id);
  const stage = () => $("stage");
  const mayChange = () => $("bench").dataset.mayChange === "yes";

  let read = "";
  function readGeometry() {
    // What the window has already is not sent again: it is taken over from before.
    const text = $("geometry").textContent;
    if (text === read) return true;
    const next = JSON.parse(text), things = {};
    for (const id of next.order) {
      things[id] = next.things[id] || (geometry && geometry.things[id]);
      if (!things[id]) return false;
    }
    next.things = things;
    geometry = next;
    read = text;
    return !document.querySelector("#stage [data-kept]");
  }

  // ---- requests

  function sent(values) {
    const s = stage().dataset;
    return Object.assign({ revision: s.revision, setup: s.setup, only: s.only, selected: s.selected, tray: s.tray, crop: s.crop }, values);
  }

  function ask(method, path, values, target, swap) {
    return window.htmx.ajax(method, stage().dataset.url + path, { target: target || "#stage", swap: swap || "morph:outerHTML", values: values });
  }

  function change(verb, values) {
    // One after the other, each with the newest revision, so that quick hands never overtake themselves.
    queue = queue.then(() => ask("POST", "do/" + verb + "/", sent(values))).catch(() => say("The server did not answer. Your last step may not be kept; it will be tried no further."));
    return queue;
  }

  function travel(way, values) {
    queue = queue.then(() => ask("POST", way + "/", sent(values || {}))).catch(() => say("The server did not answer."));
  }

  function refresh(values) {
    // In the same line as the changes: a change is answered for the set-up and the things that are shown.
    queue = queue.then(() => ask("GET", "stage/", sent(values || {}))).catch(() => {});
    return queue;
  }

  function openTray(kind, more) {
    const values = Object.assign(sent({}), { tray: kind }, more || {});
    stage().dataset.tray = kind;
    // In the same line as the changes, so that a late tray never shows what was before the newest of them.
    queue = queue.then(() => ask("GET", "tray/", values, "#tray", "morph:outerHTML")).catch(() => say("The server did not answer."));
    return queue;
  }

  function say(text) {
    const place = $("notice");
    place.textContent = "";
    if (text) {
      const line = document.createElement("p");
      line.className = "notice-line";
      line.textContent = text;
      place.append(line);
    }
  }

  // ---- drawing over the views

  function make(name, attributes, text) {
    const node = document.createElementNS(SVG, name);
    for (const key in attributes) node.setAttribute(key, attributes[key]);
    if (text) node.textContent = text;
    return node;
  }

  function clearOver(kind) {
    document.querySelectorAll(".over-" + kind).forEach((n) => n.remove());
  }

  function length(mm) {
    const unit = stage().dataset.unit;
    if (unit === "cm") return (mm / 10).toFixed(1) + " cm";
    if (unit === "in") return (mm / 25.4).toFixed(2) + " in";
    return Math.round(mm) + " mm";
  }

  const project = {
    frame: (p) => L.toFrame(geometry, geometry.matrix, p),
    table: (p) => L.toTable(geometry, p),
  };
  const MASK = { table: 1, frame: 2 };
  const PREFIX = { table: "t-", frame: "f-" };

  function movedBy(thing, shift, turn) {
    // The map of a thing's points: turned about its own (leaned) axis through its foot, then shifted.
    if (!turn) return (x, y, z) => [x + shift[0], y + shift[1], z + shift[2]];
    const t = (turn * Math.PI) / 180, a = (thing.lean * Math.PI) / 180, d = (thing.lean_toward * Math.PI) / 180;
    const k = [Math.sin(a) * Math.cos(d), Math.sin(a) * Math.sin(d), Math.cos(a)], c = Math.cos(t), s = Math.sin(t);
    return (x, y, z) => {
      const v = [x - thing.x, y - thing.y, z - thing.z], dot = (v[0] * k[0] + v[1] * k[1] + v[2] * k[2]) * (1 - c);
      return [
        thing.x + v[0] * c + (k[1] * v[2] - k[2] * v[1]) * s + k[0] * dot + shift[0],
        thing.y + v[1] * c + (k[2] * v[0] - k[0] * v[2]) * s + k[1] * dot + shift[1],
        thing.z + v[2] * c + (k[0] * v[1] - k[1] * v[0]) * s + k[2] * dot + shift[2],
      ];
    };
  }

  function redraw(id, shift, turn, lead) {
    // What a carrier carries goes round with it: by the carrier's own map.
    const thing = geometry.things[id];
    const move = movedBy(lead || thing, shift, turn);
    for (const view of ["table", "frame"]) {
      const group = $(PREFIX[view] + id);
      if (!group) continue;
      const paths = group.querySelectorAll(":scope > path");
      const all = [];
      thing.pieces.forEach((piece, i) => {
        if (!paths[i]) return;
        const d = L.piecePath(piece, project[view], MASK[view], move);
        paths[i].setAttribute("d", d);
        if (piece[5] && d) {
          const pattern = $(paths[i].getAttribute("fill").slice(5, -1)), matrix = L.skinMatrix(piece, project[view], move);
          if (pattern && matrix) pattern.setAttribute("patternTransform", matrix);
        }
      });
      const solid = view === "table" ? thing.foot.map((p) => project.table(move(p[0], p[1], thing.z))) : null;
      if (solid) all.push(...solid);
      else {
        thing.pieces.forEach((piece, i) => {
          if (paths[i] && !piece[5] && paths[i].getAttribute("fill") !== "#000000") {
            for (const p of L.sampled(piece, move)) {
              const q = project.frame(p);
              if (q) all.push(q);
            }
          }
        });
      }
      const outline = all.length > 2 ? L.pathData(L.hull(all), true) : "";
      group.querySelectorAll(":scope > .outline, :scope > .hero-line").forEach((p) => p.setAttribute("d", outline));
    }
  }

  function shiftAll(id, shift, turn) {
    redraw(id, shift, turn);
    const thing = geometry.things[id];
    for (const carried of thing.carried) redraw(carried, shift, turn, thing);
    if (shift[0] || shift[1] || !turn) for (const other of thing.along) redraw(other, [shift[0], shift[1], 0], 0);
    drawHandle();
    drawMeasures(id, shift);
  }

  function line(view, a, b, kind, label) {
    const p = project[view](a), q = project[view](b);
    const over = $(view + "-over");
    if (!p || !q || !over) return;
    over.append(make("line", { class: "over-" + kind + " measure", x1: p[0], y1: p[1], x2: q[0], y2: q[1] }));
    if (label) {
      const x = Math.min(Math.max((p[0] + q[0]) / 2, 60), geometry[view][0] - 60), y = Math.min(Math.max((p[1] + q[1]) / 2 - 8, 26), geometry[view][1] - 8);
      over.append(make("text", { class: "over-" + kind + " measure-text", x: x, y: y, "text-anchor": "middle" }, label));
    }
  }

  function drawMeasures(id, shift) {
    // To the two edges a tape measures from, and to the nearest neighbour; in both views.
    clearOver("held");
    const thing = geometry.things[id], x = thing.x + shift[0], y = thing.y + shift[1], z = thing.z + shift[2];
    const foot = thing.foot.map((p) => [p[0] + shift[0], p[1] + shift[1]]);
    let best = [Infinity, null, null], name = "";
    for (const other in geometry.things) {
      const o = geometry.things[other];
      if (other === id || thing.carried.includes(other) || o.carried.includes(id) || o.role === "cloth" || o.role === "scatter" || o.role === "filler") continue;
      if (L.inside([x, y], o.foot) || L.inside([o.x, o.y], foot)) continue;
      const found = L.nearest(foot, o.foot);
      if (found[0] < best[0]) { best = found; name = o.name; }
    }
    for (const view of ["table", "frame"]) {
      line(view, [0, y, z], [x, y, z], "held", length(x));
      line(view, [x, 0, z], [x, y, z], "held", length(y));
      if (best[1]) line(view, [best[1][0], best[1][1], z], [best[2][0], best[2][1], z], "held", length(best[0]) + " to " + name);
    }
  }

  function drawHandle() {
    clearOver("handle");
    const id = stage().dataset.selected, thing = geometry.things[id];
    if (!thing || !mayChange() || thing.locked) return;
    const shift = drag && drag.id === id ? drag.shift : [0, 0, 0], turn = drag && drag.id === id ? drag.turn : 0;
    const reach = Math.max(...thing.foot.map((p) => Math.hypot(p[0] - thing.x, p[1] - thing.y))) + 26;
    const t = ((thing.turn + turn) * Math.PI) / 180;
    const at = [thing.x + shift[0] + reach * Math.cos(t), thing.y + shift[1] + reach * Math.sin(t), thing.z + shift[2]];
    const from = [thing.x + shift[0] + (reach - 20) * Math.cos(t), thing.y + shift[1] + (reach - 20) * Math.sin(t), thing.z + shift[2]];
    for (const view of ["table", "frame"]) {
      if (view === "frame" && geometry.camera.elevation < LOW_CAMERA) continue;
      const p = project[view](at), q = project[view](from);
      if (!p || !q) continue;
      const pixel = 1 / $(view + "-svg").getScreenCTM().a;
      $(view + "-over").append(
        make("line", { class: "over-handle handle-stem", x1: q[0], y1: q[1], x2: p[0], y2: p[1] }),
        make("circle", { class: "over-handle handle", cx: p[0], cy: p[1], r: 6 * pixel }),
        make("circle", { class: "over-handle handle-grip", cx: p[0], cy: p[1], r: 15 * pixel, "data-handle": id }),
      );
    }
  }

  function drawGrips() {
    // The chosen crop's grip while deliverables are open, the camera's aim while the camera is: else they would be in the way.
    clearOver("grip");
    if (!mayChange() || !geometry) return;
    const crop = document.querySelector("#frame-crops .crop.chosen");
    if (crop && stage().dataset.tray === "deliverables") {
      const box = crop.getBBox(), pixel = 1 / $("frame-svg").getScreenCTM().a;
      grip("frame", "crop", box.x + box.width / 2, box.y + 16 * pixel, "move the crop " + crop.dataset.crop);
    } else if (stage().dataset.tray === "camera") {
      const aim = geometry.camera.aim, shift = drag && drag.grip === "aim" ? drag.shift : [0, 0, 0];
      const at = project.table([aim[0] + shift[0], aim[1] + shift[1], 0]);
      grip("table", "aim", at[0], at[1], "carry the camera with its aim");
    }
  }

  function grip(view, kind, x, y, words) {
    const pixel = 1 / $(view + "-svg").getScreenCTM().a;
    const catcher = make("circle", { class: "over-grip handle-grip", cx: x, cy: y, r: 13 * pixel, "data-grip": kind });
    catcher.append(make("title", {}, words));
    $(view + "-over").append(
      make("circle", { class: "over-grip grip-ring", cx: x, cy: y, r: 6 * pixel }),
      make("path", { class: "over-grip grip-ring", d: `M${x - 10 * pixel} ${y}h${20 * pixel}M${x} ${y - 10 * pixel}v${20 * pixel}` }),
      catcher,
    );
  }

  function moveCrop(dx, dy) {
    // The chosen crop shifted by drawing units, kept inside the frame; returns its middle as fractions.
    const crop = document.querySelector("#frame-crops .crop.chosen"), base = crop.base || (crop.base = crop.getBBox());
    const [w, h] = geometry.frame;
    const x = Math.min(Math.max(base.x + dx, 0), w - base.width), y = Math.min(Math.max(base.y + dy, 0), h - base.height);
    crop.setAttribute("x", x);
    crop.setAttribute("y", y);
    const veil = document.querySelector("#frame-crops .veil");
    if (veil) veil.setAttribute("d", `M0 0H${w}V${h}H0ZM${x} ${y}V${y + base.height}H${x + base.width}V${y}Z`);
    const copy = document.querySelector("#frame-crops .copy.chosen");
    if (copy) {
      const room = copy.base || (copy.base = copy.getBBox());
      copy.setAttribute("x", room.x + x - base.x);
      copy.setAttribute("y", room.y + y - base.y);
    }
    return [(x + base.width / 2) / w, (y + base.height / 2) / h];
  }

  function dropCrop(middle) {
    document.querySelectorAll("#frame-crops rect").forEach((n) => delete n.base);
    change("crop", { name: stage().dataset.crop, u: middle[0].toFixed(5), v: middle[1].toFixed(5) });
  }

  function light(selector) {
    document.querySelectorAll(".thing.lit").forEach((n) => n.classList.remove("lit"));
    for (const id of selector) for (const view of ["t-", "f-"]) { const n = $(view + id); if (n) n.classList.add("lit"); }
  }

  function showMark(finding) {
    clearOver("mark");
    if (!finding) return light([]);
    const mark = JSON.parse(finding.dataset.mark);
    light(mark.things);
    for (const view of ["frame", "table"]) {
      for (const [x1, y1, x2, y2] of mark[view]) {
        const over = $(view + "-over");
        if (Math.hypot(x2 - x1, y2 - y1) < 14) over.append(make("circle", { class: "over-mark mark", cx: (x1 + x2) / 2, cy: (y1 + y2) / 2, r: 16 }));
        over.append(make("line", { class: "over-mark mark", x1, y1, x2, y2 }));
      }
    }
    document.querySelectorAll("#frame-crops .crop").forEach((n) => n.classList.toggle("lit", mark.crop !== null && n.dataset.crop === mark.crop));
  }

  // A colour that is pointed at lights what carries it; what a finding has lit is its own affair.
  let carried = null;
  for (const kind of ["mouseover", "focusin"]) {
    document.addEventListener(kind, (event) => {
      const carrier = event.target.closest && event.target.closest("[data-carriers]");
      if (carrier === carried) return;
      carried = carrier;
      light(carrier ? carrier.dataset.carriers.split(" ") : []);
    });
  }

  function drawGhosts(matrix, ids, shiftOf, views) {
    clearOver("ghost");
    for (const id of ids) {
      const thing = geometry.things[id];
      if (!thing) continue;
      const move = movedBy(thing, shiftOf(id), 0);
      for (const view of views) {
        const to = view === "frame" ? (p) => L.toFrame(geometry, matrix, p) : project.table;
        const solid = thing.pieces.filter((p) => p[1] & 2).slice(thing.pieces.length > 4 ? 4 : 0).filter((p) => !p[5]); // without its shadow, and without pictures, which reach past it
        const source = view === "table" ? thing.foot.map((p) => move(p[0], p[1], thing.z)) : solid.flatMap((p) => L.sampled(p, move));
        const all = source.map(to).filter(Boolean);
        if (all.length > 2) $(view + "-over").append(make("path", { class: "over-ghost ghost", d: L.pathData(L.hull(all), true) }));
      }
    }
  }

  function showGhost(button) {
    clearOver("ghost");
    if (!button) return;
    const ghost = JSON.parse(button.dataset.ghost);
    const ids = ghost.matrix ? Object.keys(geometry.things) : Object.keys(ghost.moves);
    drawGhosts(ghost.matrix || geometry.matrix, ids, (id) => ghost.moves[id] || [0, 0, 0], ghost.matrix ? ["frame"] : ["frame", "table"]);
    for (const outline of ghost.outlines) {
      // What comes out of the stores: shown in its own colour where it would stand.
      for (const view of ["frame", "table"]) $(view + "-over").append(make("path", { class: "over-ghost ghost fresh", d: outline[view], fill: outline.colour }));
    }
    for (const [u0, v0, u1, v1] of ghost.crops) {
      $("frame-over").append(make("rect", { class: "over-ghost ghost", x: u0 * geometry.frame[0], y: v0 * geometry.frame[1], width: (u1 - u0) * geometry.frame[0], height: (v1 - v0) * geometry.frame[1] }));
    }
  }

  // ---- dragging

  function place(event, view) {
    const svg = $(view + "-svg");
    const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    return [p.x, p.y];
  }

  function grabbedPoint(thing, at) {
    // The point of the thing's upright axis plane under the pointer, kept between its foot and its top.
    const r = geometry.camera.right;
    const hit = L.onPlane(geometry, at[0], at[1], [thing.x, thing.y, thing.z], [-r[1], r[0], 0]);
    const z = hit ? Math.min(Math.max(hit[2], thing.z), thing.top) : thing.z;
    return hit ? [hit[0], hit[1], z] : [thing.x, thing.y, thing.z];
  }

  function startDrag(event, id, view, handle) {
    const thing = geometry.things[id];
    const at = place(event, view);
    drag = { id, view, handle, from: at, at, shift: [0, 0, 0], turn: 0, moved: false, waiting: false, grabbed: grabbedPoint(thing, at), pointer: event.pointerId, shiftKey: false, frames: 0, began: 0 };
    if (handle) drag.startAngle = angleAt(thing, at, view);
    document.documentElement.classList.add("dragging");
  }

  function angleAt(thing, at, view) {
    const p = view === "table" ? [at[0], geometry.table[1] - at[1]] : L.onPlane(geometry, at[0], at[1], [thing.x, thing.y, thing.z], [0, 0, 1]);
    return p ? (Math.atan2(p[1] - thing.y, p[0] - thing.x) * 180) / Math.PI : 0;
  }

  function shiftOf() {
    const thing = geometry.things[drag.id];
    if (drag.view === "table") return [drag.at[0] - drag.from[0], -(drag.at[1] - drag.from[1]), 0];
    const r = geometry.camera.right;
    if (geometry.camera.elevation < LOW_CAMERA) {
      const normal = [-r[1], r[0], 0];
      const a = L.onPlane(geometry, drag.from[0], drag.from[1], drag.grabbed, normal), b = L.onPlane(geometry, drag.at[0], drag.at[1], drag.grabbed, normal);
      if (!a || !b) return drag.shift;
      const across = (b[0] - a[0]) * r[0] + (b[1] - a[1]) * r[1];
      let up = b[2] - a[2];
      if (drag.shiftKey) return [across * r[0] - up * r[1], across * r[1] + up * r[0], 0]; // depth, on purpose
      if (Math.abs(up) < LIFT_FROM) up = 0;
      return [across * r[0], across * r[1], Math.max(up, -thing.z)];
    }
    const a = L.onPlane(geometry, drag.from[0], drag.from[1], drag.grabbed, [0, 0, 1]), b = L.onPlane(geometry, drag.at[0], drag.at[1], drag.grabbed, [0, 0, 1]);
    return a && b ? [b[0] - a[0], b[1] - a[1], 0] : drag.shift;
  }

  function tick() {
    if (!drag) return;
    drag.waiting = false;
    drag.frames += 1;
    if (drag.grip) return tickGrip();
    const thing = geometry.things[drag.id];
    if (drag.handle) drag.turn = Math.round(angleAt(thing, drag.at, drag.view) - drag.startAngle);
    else drag.shift = shiftOf();
    shiftAll(drag.id, drag.shift, drag.turn);
  }

  function tickGrip() {
    const dx = drag.at[0] - drag.from[0], dy = drag.at[1] - drag.from[1];
    clearOver("grip");
    if (drag.grip === "crop") drag.middle = moveCrop(dx, dy);
    else {
      drag.shift = [dx, -dy, 0];
      // Carrying the camera is the same, in the frame, as carrying everything the other way.
      drawGhosts(geometry.matrix, Object.keys(geometry.things), () => [-dx, dy, 0], ["frame"]);
      drawGrips();
    }
  }

  function dropGrip(done, kept) {
    clearOver("ghost");
    if (!kept || !done.moved) {
      if (done.grip === "crop" && done.moved) moveCrop(0, 0);
      drawGrips();
    } else if (done.grip === "crop") dropCrop(done.middle);
    else change("pan", { dx: done.shift[0].toFixed(1), dy: done.shift[1].toFixed(1) });
  }

  function thingUnder(event) {
    return event.target.closest ? event.target.closest(".thing") : null;
  }

  function select(id, tray) {
    stage().dataset.selected = id;
    markSelected();
    if (tray !== false) openTray(id ? "held" : "things", { selected: id });
  }

  function markSelected() {
    const id = stage().dataset.selected;
    document.querySelectorAll(".thing.held").forEach((n) => n.classList.remove("held"));
    document.querySelectorAll(".thing.apart").forEach((n) => n.classList.remove("apart"));
    document.querySelectorAll("[data-line]").forEach((n) => n.classList.toggle("held", n.dataset.line === id));
    if (id) for (const view of ["t-", "f-"]) { const n = $(view + id); if (n) n.classList.add("held"); }
    for (const id of geometry.apart) for (const view of ["t-", "f-"]) { const n = $(view + id); if (n) n.classList.add("apart"); }
    const station = stage().dataset.tray === "held" ? "things" : stage().dataset.tray;
    document.querySelectorAll(".decision").forEach((n) => {
      if (n.dataset.value === station) n.setAttribute("aria-current", "true");
      else n.removeAttribute("aria-current");
    });
    drawHandle();
    drawGrips();
  }

  document.addEventListener("pointerdown", (event) => {
    if (event.button !== 0 || !geometry) return;
    const handle = event.target.closest && event.target.closest("[data-handle]");
    const svg = event.target.closest && event.target.closest("svg.picture");
    if (!svg) return;
    const held = event.target.closest("[data-grip]");
    if (held) {
      const at = place(event, svg.dataset.view);
      drag = { grip: held.dataset.grip, view: svg.dataset.view, from: at, at, shift: [0, 0, 0], moved: false, waiting: false, pointer: event.pointerId, frames: 0, began: 0 };
      event.preventDefault();
      return;
    }
    const view = svg.dataset.view, thing = thingUnder(event);
    if (handle) { startDrag(event, handle.dataset.handle, view, true); event.preventDefault(); return; }
    if (!thing) { if (stage().dataset.selected) select(""); return; }
    const id = thing.dataset.id;
    if (stage().dataset.selected !== id) select(id);
    if (mayChange() && !geometry.things[id].locked) { startDrag(event, id, view, false); event.preventDefault(); }
    else if (mayChange()) say(geometry.things[id].name + " is locked. Unlock it to move it.");
  });

  document.addEventListener("pointermove", (event) => {
    if (!drag || event.pointerId !== drag.pointer) return;
    drag.at = place(event, drag.view);
    drag.shiftKey = event.shiftKey;
    if (!drag.moved) {
      const scale = $(drag.view + "-svg").getScreenCTM().a;
      if (Math.hypot(drag.at[0] - drag.from[0], drag.at[1] - drag.from[1]) * scale < 3) return;
      drag.moved = true;
      drag.began = performance.now();
    }
    if (!drag.waiting) { drag.waiting = true; requestAnimationFrame(tick); }
  });

  function endDrag(event) {
    if (!drag || event.pointerId !== drag.pointer) return;
    document.documentElement.classList.remove("dragging");
    if (drag.moved && event.type === "pointerup") tick();
    const done = drag;
    drag = null;
    if (done.grip) return dropGrip(done, event.type === "pointerup");
    clearOver("held");
    window.tideflatDrag = { frames: done.frames, ms: performance.now() - done.began };
    const thing = geometry.things[done.id];
    if (!done.moved) return;
    if (event.type !== "pointerup") { shiftAll(done.id, [0, 0, 0], 0); clearOver("held"); return; }
    if (done.handle) change("turn", { id: done.id, turn: (thing.turn + done.turn).toFixed(1) });
    else {
      const values = { id: done.id, x: (thing.x + done.shift[0]).toFixed(1), y: (thing.y + done.shift[1]).toFixed(1) };
      if (done.shift[2]) values.z = (thing.z + done.shift[2]).toFixed(1);
      change("move", values);
    }
  }
  document.addEventListener("pointerup", endDrag);
  document.addEventListener("pointercancel", endDrag);

  // ---- pressing

  const acts = {
    undo: () => travel("undo"),
    redo: () => travel("redo"),
    setup: (b) => refresh({ setup: b.dataset.value, only: "" }),
    scope: () => refresh({ only: stage().dataset.only ? "" : "1" }),
    "go-to": (b) => travel("go-to", { number: b.dataset.value }),
    "swap-for": (b) => openTray("store", { place: b.dataset.value }),
    crop: (b) => refresh({ crop: b.dataset.value }),
    tray: (b) => openTray(b.dataset.value),
    select: (b) => select(b.dataset.value),
    "let-go": () => select(""),
    ask: (b) => openTray("brief", { ask: b.dataset.value }),
    show: (b) => {
      const on = b.getAttribute("aria-pressed") !== "true";
      document.querySelectorAll('[data-act="show"]').forEach((n) => n.setAttribute("aria-pressed", "false"));
      b.setAttribute("aria-pressed", String(on));
      showMark(on ? b.closest(".finding") : null);
    },
    remedy: (b) => findRemedy(b.closest(".finding")),
  };

  function deed(button) {
    const d = button.dataset, values = {};
    for (const key of ["id", "field", "value", "preset", "item", "leaning", "key", "ratio", "at", "what", "seal"]) if (d[key] !== undefined) values[key] = d[key];
    if (d.nameValue !== undefined) values.name = d.nameValue;
    if (d.newName !== undefined) {
      const taken = new Set(Array.from(document.querySelectorAll('#tray input[name="was"]'), (n) => n.value));
      let name = d.newName;
      for (let n = 2; taken.has(name); n++) name = d.newName + " " + n;
      values.name = name;
    }
    showGhost(null);
    change(d.do, values);
  }

  document.addEventListener("click", (event) => {
    const button = event.target.closest && event.target.closest("[data-act], [data-do]");
    if (!button) return;
    if (button.dataset.act) acts[button.dataset.act](button);
    else deed(button);
  });

  document.addEventListener("change", (event) => {
    const d = event.target.dataset;
    if (d.doTyped) {
      const values = { typed: "1", id: d.id || "", field: d.field || "", at: d.at || "" };
      values[d.name || "value"] = event.target.value;
      if (d.also) { const [key, value] = d.also.split(":"); values[key] = value; }
      change(d.doTyped, values);
    } else if (d.doChoice) {
      const values = { id: d.id || "", at: d.at || "" };
      values[d.name] = event.target.value;
      change(d.doChoice, values);
    }
  });

  document.addEventListener("change", (event) => {
    const verb = event.target.dataset.doFile, file = event.target.files && event.target.files[0];
    if (verb && file) file.text().then((text) => change(verb, { text: text.slice(0, 60000) }));
  });

  document.addEventListener("submit", (event) => {
    const form = event.target;
    if (form.dataset.form) {
      event.preventDefault();
      change(form.dataset.form, Object.fromEntries(new FormData(form)));
    } else if (form.hasAttribute("data-find")) event.preventDefault();
  });

  // ---- findings

  function findRemedy(finding) {
    // Once for each finding and revision, when it is pointed at: a search costs the server a moment.
    const slot = finding.querySelector("[data-remedy]");
    if (!slot) return;
    const key = finding.dataset.key, now = stage().dataset.revision + stage().dataset.setup;
    if (asked.get(key) === now) return;
    asked.set(key, now);
    const s = stage().dataset;
    slot.dataset.looking = "yes";
    window.htmx.ajax("GET", s.url + "remedy/", { target: slot, swap: "innerHTML", values: { key, setup: s.setup } }).finally(() => delete slot.dataset.looking);
  }

  let pointing = 0;
  function point(event) {
    const finding = event.target.closest && event.target.closest(".finding");
    clearTimeout(pointing);
    if (!finding) return;
    if (!document.querySelector('[data-act="show"][aria-pressed="true"]')) showMark(finding);
    pointing = setTimeout(() => findRemedy(finding), event.type === "focusin" ? 0 : 250);
    const ghost = event.target.closest("[data-ghost]");
    showGhost(ghost);
  }
  document.addEventListener("mouseover", point);
  document.addEventListener("focusin", point);
  document.addEventListener("mouseout", (event) => {
    const finding = event.target.closest && event.target.closest(".finding");
    if (event.target.closest && event.target.closest("[data-ghost]")) showGhost(null);
    if (finding && !finding.contains(event.relatedTarget)) {
      clearTimeout(pointing);
      showGhost(null);
      if (!document.querySelector('[data-act="show"][aria-pressed="true"]')) showMark(null);
    }
  });

  // ---- keys

  function nudge(dx, dy, dz, turn) {
    const id = stage().dataset.selected, thing = geometry.things[id];
    if (!thing) return;
    if (thing.locked) return say(thing.name + " is locked. Unlock it to move it.");
    if (!keyed || keyed.id !== id) keyed = { id, shift: [0, 0, 0], turn: 0 };
    keyed.shift = [keyed.shift[0] + dx, keyed.shift[1] + dy, Math.max(keyed.shift[2] + dz, -thing.z)];
    keyed.turn += turn;
    shiftAll(id, keyed.shift, keyed.turn);
    clearTimeout(keyed.timer);
    keyed.timer = setTimeout(keep, 350);
  }

  function keep() {
    const done = keyed, thing = geometry.things[done.id];
    keyed = null;
    clearOver("held");
    if (done.turn) change("turn", { id: done.id, turn: thing.turn + done.turn });
    if (done.shift[0] || done.shift[1] || done.shift[2]) {
      const values = { id: done.id, x: (thing.x + done.shift[0]).toFixed(1), y: (thing.y + done.shift[1]).toFixed(1) };
      if (done.shift[2]) values.z = (thing.z + done.shift[2]).toFixed(1);
      change("move", values);
    }
  }

  let cropTimer = 0;
  let cropShift = [0, 0];
  function nudgeCrop(dx, dy) {
    cropShift = [cropShift[0] + dx, cropShift[1] + dy];
    const middle = moveCrop(cropShift[0], cropShift[1]);
    clearOver("grip");
    clearTimeout(cropTimer);
    cropTimer = setTimeout(() => { cropShift = [0, 0]; dropCrop(middle); }, 350);
  }

  function step(way) {
    const ids = Object.keys(geometry.things);
    if (!ids.length) return;
    const at = ids.indexOf(stage().dataset.selected);
    select(ids[(at + way + ids.length) % ids.length]);
  }

  document.addEventListener("keydown", (event) => {
    if (!geometry || event.target.matches("input, textarea, select") || document.querySelector("dialog[open]")) return;
    const size = event.shiftKey ? 50 : event.altKey ? 1 : 5, id = stage().dataset.selected;
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z") {
      event.preventDefault();
      if (mayChange()) travel(event.shiftKey ? "redo" : "undo");
      return;
    }
    if (event.ctrlKey || event.metaKey) return;
    const anyone = { n: () => step(1), p: () => step(-1), Escape: () => { if (id) select(""); }, "?": () => $("keys").showModal(), u: () => openTray("steps") };
    const hands = {
      ArrowLeft: () => nudge(-size, 0, 0, 0), ArrowRight: () => nudge(size, 0, 0, 0), ArrowUp: () => nudge(0, size, 0, 0), ArrowDown: () => nudge(0, -size, 0, 0),
      ",": () => nudge(0, 0, 0, 5), ".": () => nudge(0, 0, 0, -5), "[": () => nudge(0, 0, -size, 0), "]": () => nudge(0, 0, size, 0),
      d: () => change("duplicate", { id }), l: () => change("lock", { id }), h: () => change("hide", { id }), f: () => change("camera", { field: "focus", value: id }),
      Delete: () => change("remove", { id }), Backspace: () => change("remove", { id }),
    };
    const crop = document.querySelector("#frame-crops .crop.chosen"), step01 = event.shiftKey ? 0.05 : 0.01;
    const ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
    if (!id && crop && mayChange() && ways[event.key]) {
      event.preventDefault();
      const [a, b] = ways[event.key];
      nudgeCrop(a * step01 * geometry.frame[0], b * step01 * geometry.frame[1]);
      return;
    }
    const run = anyone[event.key] || (mayChange() && (event.key === "a" ? () => openTray("store") : event.key === "o" && document.querySelector('[data-act="scope"]') ? () => acts.scope() : id ? hands[event.key] : null));
    if (run) { event.preventDefault(); run(); }
  });

  // ---- keeping in step

  function settled() {
    if (!readGeometry()) return void refresh(); // something is missing here: have it all
    document.querySelectorAll("#frame-crops rect").forEach((n) => delete n.base);
    if (drag && (drag.grip || geometry.things[drag.id])) tick();
    else if (drag) { drag = null; document.documentElement.classList.remove("dragging"); }
    markSelected();
    document.querySelectorAll("[data-grid]").forEach((n) => { n.checked = gridsOn().includes(n.dataset.grid); });
  }

  document.addEventListener("htmx:afterSettle", settled);
  document.addEventListener("htmx:beforeRequest", (event) => { if (event.detail.requestConfig.verb === "post") say(""); });
  document.addEventListener("htmx:afterRequest", (event) => {
    const code = event.detail.xhr ? event.detail.xhr.status : 0;
    if (event.detail.requestConfig.verb !== "post" || (code >= 200 && code < 300) || code === 409) return;
    // Not taken: what was dragged goes back to where it is.
    for (const id in geometry.things) redraw(id, [0, 0, 0], 0);
    drawHandle();
  });
  document.addEventListener("htmx:responseError", (event) => {
    const code = event.detail.xhr.status;
    if (code === 403) say("Your role here does not allow this, or you were signed out. Sign in again in another window; nothing is lost.");
    else if (code === 404) say("This is no longer there. Go back to the shelf.");
    else say("That failed on our side. What was saved before is safe; reload and try once more.");
  });
  document.addEventListener("htmx:sendError", () => say("The server cannot be reached. Your last step is not kept; try it again when the server is back."));

  function isIdle() {
    return !drag && !keyed && document.visibilityState === "visible" && !(document.activeElement && document.activeElement.matches("input, textarea, select"));
  }
  setInterval(() => { if (stage() && isIdle()) refresh({ if_newer_than: stage().dataset.revision }); }, 4000);
  window.addEventListener("focus", () => { if (stage() && isIdle()) refresh({ if_newer_than: stage().dataset.revision }); });

  function gridsOn() {
    try { return JSON.parse(localStorage.getItem("tideflat-guides") || "[]"); } catch { return []; }
  }

  document.addEventListener("alpine:init", () => {
    window.Alpine.data("bench", () => ({
      show: "both",
      grids: gridsOn().join(" "),
      nine: localStorage.getItem("tideflat-table-nine") || "no",
      get isNine() { return this.nine === "yes"; },
      divide() {
        this.nine = this.nine === "yes" ? "no" : "yes";
        localStorage.setItem("tideflat-table-nine", this.nine);
      },
      init() { this.show = this.$root.dataset.show; },
      get isBoth() { return this.show === "both"; },
      get isFrame() { return this.show === "frame"; },
      get isTable() { return this.show === "table"; },
      view(event) { this.show = event.currentTarget.dataset.view; },
      help() { $("keys").showModal(); },
      grid(event) {
        const chosen = new Set(gridsOn());
        if (event.target.checked) chosen.add(event.target.dataset.grid);
        else chosen.delete(event.target.dataset.grid);
        localStorage.setItem("tideflat-guides", JSON.stringify([...chosen]));
        this.grids = [...chosen].join(" ");
      },
    }));
    window.Alpine.data("choice", () => ({
      open: false,
      toggle() { this.open = !this.open; },
      close() { this.open = false; },
    }));
  });

  document.addEventListener("DOMContentLoaded", () => {
    window.Idiomorph.defaults.callbacks.beforeNodeMorphed = (node, next) => !(next.nodeType === 1 && next.hasAttribute("data-kept"));
    window.Idiomorph.defaults.callbacks.beforeAttributeUpdated = (name, node) =>
      !(node.hasAttribute("x-bind:" + name) || node.hasAttribute(":" + name) || (name === "style" && node.hasAttribute("x-show")));
    settled();
  });
})();
