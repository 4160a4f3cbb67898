// The profile drawing: a bevel of one's own on a square, points and curves.

import { drag, helpFingers } from "../lib/drag.js";
import { ask, el } from "../lib/page.js";
import { longestName } from "../lib/terms.js";
import { handle } from "../made/curves.js";
import { figures } from "../made/terms.js";
import { points } from "./profiles.js";

const S = 300; // the square
const pad = 18;
const size = S + 2 * pad;
const steps = 20; // of the grid that points snap to

const X = (t) => pad + t * S;
const Y = (f) => pad + (1 - f) * S;
const snap = (v) => Math.round(Math.max(0, Math.min(1, v)) * steps) / steps;
const first = [{ t: 0, f: 0 }, { t: 0.5, f: 0.3, bend: -1 }, { t: 1, f: 1, bend: 1 }];
const bent = (list) => list.map((k) => ({ bend: 0, ...k }));
const percent = (v) => `${Math.round(v * 100)} %`;
const arrows = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };

const button = (text, name, onclick) => el("button", { class: "button is-small", type: "button", "data-act": name, onclick }, text);

// drawProfile opens the drawing for the rim of the selected parts; which is "front" or "back".
export function drawProfile(act, which) {
  new Drawn(act, which).open();
}

class Drawn {
  constructor(act, which) {
    this.act = act;
    this.which = which;
    this.rim = act.targets()[0].how[which];
    this.knots = bent(this.rim.curve?.length ? this.rim.curve : first);
    this.picked = 0;
  }

  open() {
    this.layer = el("g");
    const label = "Profile: rim at the left, face at the right";
    this.svg = el(
      "svg",
      { class: "profiledraw", viewBox: `0 0 ${size} ${size}`, role: "group", "aria-label": label },
      el("path", { class: "grid", d: grid() }),
      this.layer,
    );
    helpFingers(this.svg, ".grip, .bendgrip");
    this.svg.addEventListener("dblclick", (e) => this.widen(...this.place(e)));
    this.warn = el("p", { class: "limited", hidden: true }, "It reaches back under itself there; that piece will stand upright.");
    this.dialog = ask("Profile", "profiledialog", this.svg, this.warn, this.tools(), this.names(), hint(), this.ends());
    this.draw();
  }

  tools() {
    return el(
      "div",
      { class: "buttons are-small mt-2 mb-2" },
      button("Add a point", "knot-add", () => this.add()),
      button("Delete the point", "knot-drop", () => this.drop(this.picked)),
      button("Mirror", "knot-mirror", () => this.mirror()),
    );
  }

  names() {
    const { curves } = this.act.piece.state.all;
    this.name = el("input", {
      class: "num wide",
      type: "text",
      maxlength: longestName,
      value: this.rim.name ?? "",
      placeholder: "Name, to save it",
      "aria-label": "Name of the profile",
    });
    const saved = el("select", { "aria-label": "Saved profiles" });
    saved.append(
      el("option", { value: "" }, curves.length ? "Saved profiles" : "None saved yet"),
      ...curves.map((c, i) => el("option", { value: i }, c.name)),
    );
    saved.addEventListener("change", () => {
      const c = curves[saved.value];
      if (!c) return;
      this.knots = bent(c.points);
      this.name.value = c.name;
      this.picked = 0;
      this.draw();
    });
    return el("div", { class: "profilename" }, this.name, saved);
  }

  ends() {
    const use = { class: "button is-primary", type: "button", "data-act": "knot-use", onclick: () => this.use() };
    const cancel = button("Cancel", "knot-cancel", () => this.dialog.close());
    return el("div", { class: "buttons mt-2 mb-0" }, el("button", use, "Use this profile"), cancel);
  }

  // flat is the profile as it will be built: where it would reach back it stands upright.
  flat() {
    let t = 0;
    return this.knots.map((k, i) => {
      t = i ? Math.max(t, k.t) : 0;
      return { ...k, t };
    });
  }

  draw() {
    const { knots } = this;
    const line = points({ profile: "custom", segments: 12, curve: this.flat() });
    const d = line.map(([t, f]) => `${X(t).toFixed(1)} ${Y(f).toFixed(1)}`);
    const end = Y(line[line.length - 1][1]);
    this.layer.replaceChildren(
      el("path", { class: "body", d: `M${X(0)} ${Y(0) + 12}L${d.join("L")}L${X(1) + 12} ${end}V${Y(0) + 12}Z` }),
      ...knots.slice(1).map((k, i) => this.bendGrip(i + 1)),
      ...knots.map((k, i) => this.knotGrip(i)),
    );
    this.warn.hidden = !knots.some((k, i) => i > 0 && k.t < knots[i - 1].t);
    this.layer.querySelector(`[data-knot="${this.picked}"]`)?.focus({ preventScroll: true });
  }

  // ---- the grips

  place(e) {
    const box = this.svg.getBoundingClientRect();
    const k = size / box.width;
    return [((e.clientX - box.left) * k - pad) / S, 1 - ((e.clientY - box.top) * k - pad) / S];
  }

  dragging(e, move) {
    e.preventDefault();
    const start = structuredClone(this.knots);
    drag(e, this.svg, {
      move: (ev) => {
        move(...this.place(ev));
        this.draw();
      },
      undo: () => {
        this.knots = start;
        this.draw();
      },
    });
  }

  moveKnot(i, t, f) {
    this.knots[i].t = i === 0 ? 0 : snap(t);
    this.knots[i].f = snap(f);
  }

  knotGrip(i) {
    const { t, f } = this.knots[i];
    return el("circle", {
      class: `grip${i === this.picked ? " picked" : ""}`,
      cx: X(t),
      cy: Y(f),
      r: 7,
      tabindex: 0,
      role: "slider",
      "data-knot": i,
      "aria-label": `Point ${i + 1} of ${this.knots.length}`,
      "aria-valuenow": Math.round(f * 100),
      "aria-valuetext": `${percent(t)} inward, ${percent(f)} up`,
      onpointerdown: (e) => {
        this.picked = i;
        this.dragging(e, (x, y) => this.moveKnot(i, x, y));
      },
      onkeydown: (e) => this.press(e, i),
      onfocus: () => (this.picked = i),
    });
  }

  press(e, i) {
    const k = this.knots[i];
    const by = arrows[e.key];
    const bends = e.key.toLowerCase() === "b";
    if (e.key === "Delete") this.drop(i);
    if (!by && !bends) return;
    e.preventDefault();
    this.picked = i;
    if (bends) k.bend = { 0: 1, 1: -1 }[k.bend] ?? 0;
    else this.moveKnot(i, k.t + by[0] / steps, k.f + by[1] / steps);
    this.draw();
  }

  // bendGrip bends the piece that leads to a point.
  bendGrip(i) {
    const flat = this.flat();
    const [a, b] = [flat[i - 1], flat[i]];
    const h = handle(a.t, a.f, b.t, b.f, b.bend);
    const at = [(a.t + 2 * h[0] + b.t) / 4, (a.f + 2 * h[1] + b.f) / 4];
    const bend = (t, f) => {
      // How far from the middle of the piece, along the other diagonal.
      const [w, g] = [b.t - a.t, b.f - a.f];
      if (w <= 0 || g === 0) return;
      const s = (-(t - (a.t + b.t) / 2) / w + (f - (a.f + b.f) / 2) / g) * 2;
      const v = Math.max(figures.bend.min, Math.min(figures.bend.max, Math.round(s * 10) / 10));
      this.knots[i].bend = g < 0 ? -v : v;
    };
    const box = { x: X(at[0]) - 5, y: Y(at[1]) - 5, width: 10, height: 10 };
    return el("rect", { class: "bendgrip", ...box, onpointerdown: (e) => this.dragging(e, bend) });
  }

  // ---- what the buttons do

  get full() {
    return this.knots.length >= figures.knots.max;
  }

  insert(i, t, f) {
    this.knots.splice(i, 0, { t: snap(t), f: snap(f), bend: 0 });
    this.picked = i;
    this.draw();
  }

  widen(t, f) {
    if (this.full) return;
    const i = this.knots.findIndex((k) => k.t > t);
    this.insert(Math.max(1, i < 0 ? this.knots.length : i), t, f);
  }

  add() {
    if (this.full) return;
    const i = Math.min(this.picked, this.knots.length - 2);
    const [a, b] = [this.knots[i], this.knots[i + 1]];
    this.insert(i + 1, (a.t + b.t) / 2, (a.f + b.f) / 2);
  }

  drop(i) {
    if (i === 0 || this.knots.length < 3) return;
    this.knots.splice(i, 1);
    this.picked = Math.min(this.picked, this.knots.length - 1);
    this.draw();
  }

  mirror() {
    const turned = this.flat().map((k) => ({ t: snap(1 - k.t), f: k.f }));
    const bends = this.knots.map((k) => k.bend);
    this.knots = turned.reverse().map((k, i) => ({ ...k, bend: i ? bends[this.knots.length - i] : 0 }));
    if (this.knots[0].t > 0) this.knots.unshift({ t: 0, f: this.knots[0].f, bend: 0 });
    this.picked = 0;
    this.draw();
  }

  use() {
    const { act, rim, which } = this;
    const { piece } = act;
    const name = this.name.value.trim();
    const curve = this.knots.map(({ t, f, bend }) => (bend ? { t, f, bend } : { t, f }));
    const patch = { profile: "custom", curve, name };
    if (!rim.width || !rim.height) Object.assign(patch, { width: 1, height: 1 });
    /** @type {object[]} */
    const edits = [{ kind: "parts", parts: Object.fromEntries(act.targets().map((p) => [p.id, { [which]: patch }])) }];
    if (name) {
      const others = piece.state.all.curves.filter((c) => c.name !== name);
      edits.push({ kind: "allParts", curves: [...others, { name, points: curve }] });
    }
    this.dialog.close();
    return piece.change(`Profile of ${act.who()}`, ...edits);
  }
}

const hint = () =>
  el(
    "p",
    { class: "soft" },
    "The rim is at the left, the face at the right. Drag points; drag a small square to bend its piece (B); ",
    "double-click adds a point, Delete deletes one.",
  );

function grid() {
  let d = "";
  for (let i = 0; i <= 10; i++) {
    const at = pad + (S * i) / 10;
    d += `M${at} ${pad}v${S}M${pad} ${at}h${S}`;
  }
  return d;
}
