// The plan: camera and lamps seen from above, the eye's side below. What is dragged there
// moves over the floor; its height stays.

import { drag } from "../lib/drag.js";
import { el } from "../lib/page.js";
import { gesture } from "../lib/keys.js";
import { figure } from "../lib/length.js";

const side = 210; // px
const svgNS = (name, attrs, ...kids) => el(name, attrs, ...kids);

// marksOf makes what is drawn of a path where to(place) says: the line, and for each peg and handle its mark, the line
// to it, and what is taken hold of with it.
export function marksOf(drawn, to) {
  const points = drawn.line.map((p) => to(p).map((v) => v.toFixed(1)).join(",")).join(" ");
  const line = svgNS("g", { class: "pathline" }, svgNS("polyline", { points, class: "grab" }), svgNS("polyline", { points }));
  const grips = drawn.handles.map((h) => {
    const [x, y] = to(h);
    const [x0, y0] = to({ at: h.of });
    const a = (Math.atan2(y - y0, x - x0) * 180) / Math.PI;
    const mark = svgNS(
      "g",
      { class: "pathhandle", transform: `translate(${x} ${y}) rotate(${a})`, "data-path-handle": h.side },
      svgNS("circle", { r: 9, class: "grab" }),
      svgNS("path", { d: "M0 -6v12" }),
    );
    return { mark, lever: svgNS("line", { class: "pathlever", x1: x0, y1: y0, x2: x, y2: y }), what: { point: h.point, side: h.side } };
  });
  for (const p of drawn.points) {
    const [x, y] = to(p);
    const mark = svgNS(
      "g",
      { class: `pathpoint${p.picked ? " picked" : ""}`, transform: `translate(${x} ${y})`, "data-path-point": p.point },
      svgNS("circle", { r: 10, class: "grab" }),
      svgNS("path", { d: "M-4 -11h8v7l-4 5l-4 -5z" }),
    );
    grips.push({ mark, what: { point: p.point } });
  }
  return { line, grips };
}

export class Plan {
  // act is {chosen, picked(name), tryLamp(lamp, done), tryCamera(patch, done), nudgeCamera(by, e), path}: path is
  // what pathbox.js makes
  constructor(act) {
    this.act = act;
    this.svg = svgNS("svg", { class: "plan", viewBox: `0 0 ${side} ${side}`, role: "group", "aria-label": "Camera and lamps from above" });
    this.element = el("div", { class: "planbox" }, el("span", { class: "plantitle" }, "From above"), this.svg);
    this.drag = null;
  }

  // show draws what there is: live as the server told it, camera as it stands now.
  show(live, camera, lamps) {
    this.live = live;
    this.camera = camera;
    this.lamps = lamps;
    const mid = { x: (live.lo.X + live.hi.X) / 2, z: (live.lo.Z + live.hi.Z) / 2 };
    this.mid = mid;
    const far = Math.max(
      live.reach * 1.6,
      ...lamps.filter((l) => l.kind !== "sun").map((l) => Math.hypot(l.at[0], l.at[2])),
      Math.min(live.reach * 7, Math.hypot(camera.eye.X - mid.x, camera.eye.Z - mid.z)),
      ...(this.act.path.drawing()?.line ?? []).map(({ at }) => Math.min(live.reach * 12, Math.hypot(at[0], at[2]))),
    );
    if (!this.drag) this.k = (side / 2 - 16) / far;
    this.draw();
  }

  // on returns where a place, mm from the middle, lies on the plan; too far ones at its rim.
  on(x, z) {
    const r = Math.hypot(x, z) * this.k;
    const most = side / 2 - 10;
    const s = r > most ? most / r : 1;
    return [side / 2 + x * this.k * s, side / 2 + z * this.k * s];
  }

  draw() {
    const { live, camera, mid } = this;
    const kids = [];
    for (const r of [1, 2, 4].map((n) => n * live.reach))
      if (r * this.k < side / 2) kids.push(svgNS("circle", { cx: side / 2, cy: side / 2, r: r * this.k, class: "ring" }));
    const [x0, y0] = this.on(live.lo.X - mid.x, live.lo.Z - mid.z);
    const [x1, y1] = this.on(live.hi.X - mid.x, live.hi.Z - mid.z);
    kids.push(svgNS("rect", { x: x0, y: y0, width: Math.max(2, x1 - x0), height: Math.max(2, y1 - y0), class: "foot" }));
    const [field, eye] = this.eye(camera);
    kids.push(field);
    for (const l of this.lamps) kids.push(...this.lamp(l));
    kids.push(eye, ...this.path());
    const held = this.svg.contains(document.activeElement) ? document.activeElement.dataset.plan : undefined;
    this.svg.replaceChildren(...kids);
    if (held !== undefined) [...this.svg.querySelectorAll("[data-plan]")].find((k) => k.dataset.plan === held)?.focus();
  }

  // path draws the path that is worked at: its line, pegs, and the handles of the one that is chosen.
  path() {
    const drawn = this.act.path.drawing();
    if (!drawn) return [];
    const to = ({ at }) => this.on(at[0], at[2]);
    const { line, grips } = marksOf(drawn, to);
    line.addEventListener("pointerdown", (e) => {
      const p = this.place(e);
      const far = (o) => Math.hypot(o.at[0] - p.x, o.at[2] - p.z);
      this.down(e, { held: { line: drawn.line.reduce((a, b) => (far(b) < far(a) ? b : a)) } });
    });
    for (const { mark, what } of grips) {
      mark.addEventListener("pointerdown", (e) => this.down(e, { held: what }));
      if (what.side) continue;
      const up = drawn.points[what.point].up;
      const says = `Point ${what.point + 1} of the path, ${figure(up)} mm up. Arrow keys and Page Up move it, Enter adds one, Delete removes it.`;
      const attributes = { "data-plan": `point ${what.point}`, tabindex: 0, role: "button", "aria-label": says };
      for (const [k, v] of Object.entries(attributes)) mark.setAttribute(k, v);
      mark.addEventListener("keydown", (e) => this.act.path.key(e, what.point));
    }
    return [line, ...grips.flatMap((g) => [g.lever, g.mark]).filter(Boolean)];
  }

  lamp(l) {
    const [x, y] = l.kind === "sun" ? this.far(l.at) : this.on(l.at[0], l.at[2]);
    const [ax, ay] = this.on(l.aim?.[0] ?? 0, l.aim?.[2] ?? 0);
    const picked = l.name === this.act.chosen.lamp;
    const kind = `lamp${picked ? " picked" : ""}${l.off ? " off" : ""}`;
    const line = svgNS("line", { x1: x, y1: y, x2: ax, y2: ay, class: `beam ${kind}` });
    // A panel is a bar across its beam, a spot a wedge, a sun a ball with rays.
    const a = (Math.atan2(ay - y, ax - x) * 180) / Math.PI;
    const d = { panel: "M-3 -8h4v16h-4z", spot: "M-3 -3L7 -8V8L-3 3z", sun: "M0 -5a5 5 0 1 0 .1 0zM8 0h4M6 6l3 3M6 -6l3 -3" }[l.kind];
    const mark = svgNS(
      "g",
      { class: kind, transform: `translate(${x} ${y}) rotate(${a})`, "data-plan": l.name, tabindex: 0, role: "button",
        "aria-label": `${l.name}, ${figure(l.at[1])} mm up. Arrow keys move it.` },
      svgNS("circle", { r: 11, class: "grab" }),
      svgNS("path", { d }),
    );
    mark.addEventListener("pointerdown", (e) => this.down(e, { lamp: l, path: "at" }));
    mark.addEventListener("keydown", (e) => this.key(e, l));
    const name = svgNS("text", { x: Math.max(4, Math.min(side - 40, x + 9)), y: Math.max(10, y - 8), class: kind }, l.name);
    if (!picked) return [line, mark, name];
    const aim = svgNS("circle", { cx: ax, cy: ay, r: 4, class: "aim" });
    aim.addEventListener("pointerdown", (e) => this.down(e, { lamp: l, path: "aim" }));
    return [line, aim, mark, name];
  }

  // far is where a sun is drawn: at the rim, in its direction.
  far(at) {
    const r = Math.hypot(at[0], at[2]) || 1;
    const k = (side / 2 - 12) / r;
    return [side / 2 + at[0] * k, side / 2 + at[2] * k];
  }

  eye(c) {
    const [x, y] = this.on(c.eye.X - this.mid.x, c.eye.Z - this.mid.z);
    const a = (Math.atan2(c.aim.Z - c.eye.Z, c.aim.X - c.eye.X) * 180) / Math.PI;
    const half = (Math.atan(18 / c.focal) * 180) / Math.PI;
    const ray = (t) => {
      const r = ((a + t) * Math.PI) / 180;
      return `L${x + 300 * Math.cos(r)} ${y + 300 * Math.sin(r)}`;
    };
    const field = svgNS("path", { d: `M${x} ${y}${ray(-half)}${ray(half)}z`, class: "field" });
    const mark = svgNS(
      "g",
      {
        class: "eye",
        transform: `translate(${x} ${y}) rotate(${a})`,
        "data-plan": "camera",
        tabindex: 0,
        role: "button",
        "aria-label": "Camera. Arrow keys turn it.",
      },
      svgNS("circle", { r: 12, class: "grab" }),
      svgNS("path", { d: "M-7 -5h9v10h-9zM2 -2l5 -3v10l-5 -3z" }),
    );
    mark.addEventListener("pointerdown", (e) => this.down(e, { camera: true }));
    mark.addEventListener("keydown", (e) => {
      const by = { ArrowLeft: -5, ArrowRight: 5 }[e.key];
      if (!by) return;
      e.preventDefault();
      e.stopPropagation();
      this.act.nudgeCamera(by, e);
    });
    return [field, mark];
  }

  place(e) {
    const b = this.svg.getBoundingClientRect();
    return { x: (((e.clientX - b.left) / b.width) * side - side / 2) / this.k, z: (((e.clientY - b.top) / b.height) * side - side / 2) / this.k };
  }

  down(e, what) {
    e.preventDefault();
    e.stopPropagation();
    this.drag = { ...what, from: this.place(e) };
    if (what.lamp) this.act.picked(what.lamp.name);
    if (what.held) this.act.path.take(what.held);
    drag(e, this.svg, { move: (f) => this.move(f), end: (f, moved) => this.up(f, moved), undo: () => this.back() });
  }

  move(e) {
    const d = this.drag;
    const to = this.place(e);
    if (d.held) {
      this.act.path.drag([to.x - d.from.x, 0, to.z - d.from.z], e.altKey);
      return;
    }
    if (d.camera) {
      this.act.tryCamera(this.turned(to), false);
      return;
    }
    this.act.tryLamp(this.moved(d, to), false);
  }

  // back gives up what is dragged.
  back() {
    this.drag = null;
    this.act.path.giveUp();
    this.act.forget();
  }

  up(e, moved) {
    const d = this.drag;
    this.drag = null;
    if (d.held) {
      this.act.path.let();
      return;
    }
    if (!moved) return;
    const to = this.place(e);
    if (d.camera) this.act.tryCamera(this.turned(to), true);
    else this.act.tryLamp(this.moved(d, to), true);
  }

  turned({ x, z }) {
    return { turn: Math.round((Math.atan2(x, z) * 180) / Math.PI) };
  }

  moved(d, to) {
    const l = { ...d.lamp, at: [...d.lamp.at], aim: [...(d.lamp.aim ?? [0, 0, 0])] };
    const round = (v) => Math.round(v * 10) / 10;
    l[d.path][0] = round(d.lamp[d.path]?.[0] ?? 0) + round(to.x - d.from.x);
    l[d.path][2] = round(d.lamp[d.path]?.[2] ?? 0) + round(to.z - d.from.z);
    return l;
  }

  key(e, l) {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
    if (e.key === "Enter" || e.key === " ") this.act.picked(l.name);
    if (!by) return;
    e.preventDefault();
    e.stopPropagation();
    const step = (e.shiftKey ? 0.2 : 0.04) * this.live.reach;
    const round = (v) => Math.round(v * 10) / 10;
    const from = this.way?.name === l.name ? this.way : l;
    this.way = { ...l, at: [round(from.at[0] + by[0] * step), l.at[1], round(from.at[2] + by[1] * step)] };
    this.act.tryLamp(this.way, false);
    gesture(e, l.name, () => {
      const lamp = this.way;
      this.way = null;
      this.act.tryLamp(lamp, true);
    });
  }
}
