// The picture in the middle: the live view, the traced picture over it, and what can be
// taken hold of: the camera, lamps, the path of what moves.

import { Vector3 } from "../../vendor/three.min.js";
import { drag, pinch } from "../lib/drag.js";
import { el, plain } from "../lib/page.js";
import { gesture } from "../lib/keys.js";
import { several, tell } from "../lib/told.js";
import { within } from "../lib/terms.js";
import { drawsSolids } from "../stand/painter.js";
import { Live } from "./live.js";
import { placed, ratioOf } from "./cameras.js";
import { stanceOf } from "../made/curves.js";
import { marksOf, Plan } from "./plan.js";

const degrees = Math.PI / 180;
const hidden = "visibility";

export class Stage {
  // act is {piece, scene(patch, label), chosen, picked(name), lamps(), putLamp(lamp, label),
  // path (see pathbox.js)}.
  constructor(act) {
    this.act = act;
    this.margins = false; // whether the safe margins are shown
    this.path = null; // places along the path of what moves, seen as a ghost
    const says = "The piece through the camera. Arrow keys turn it, plus and minus near it.";
    this.canvas = el("canvas", { tabindex: 0, role: "img", "aria-label": says });
    this.image = el("img", { alt: "The piece as it will be", hidden: true });
    this.overlay = el("svg", { class: "over", "aria-hidden": "true" });
    this.frame = el("div", { class: "showframe" }, this.canvas, this.image, this.overlay);
    this.plan = new Plan({
      chosen: act.chosen,
      path: act.path,
      picked: act.picked,
      tryLamp: (l, done) => this.tryLamp(l, done),
      tryCamera: (c, done) => this.tryCamera(c, done),
      forget: () => this.forget(),
      nudgeCamera: (by, e) => {
        this.turn(by, 0, false);
        gesture(e, "camera", () => this.keep());
      },
    });
    this.element = el("div", { class: "showstage" }, this.frame, this.plan.element);
    this.live = new Live(this.canvas);
    this.data = null; // of the server: frames from the first on
    this.at = 0; // the frame that is shown
    this.tried = null; // figures of the camera while it is dragged
    this.slow = 1; // how much smaller the view is drawn while it moves
    this.watch = new ResizeObserver(() => this.resize());
    this.watch.observe(this.element);
    this.pointer();
  }

  dispose() {
    this.watch.disconnect();
    cancelAnimationFrame(this.wanted);
    this.live.dispose();
  }

  // take takes what the server told of the scene.
  take(data, scene) {
    this.data = data;
    this.scene = scene;
    this.tried = null;
    this.live.stage(data, scene);
    this.hush(true);
    this.resize();
  }

  get now() {
    const i = Math.max(0, Math.min(this.data.frames.length - 1, Math.round(this.at) - this.data.from));
    return this.data.frames[i];
  }

  // go shows a frame; moving says that more follow.
  go(frame, moving = false) {
    this.at = frame;
    if (this.data) this.draw(moving);
  }

  resize() {
    const [w, h] = [this.element.clientWidth - 36, this.element.clientHeight - 20];
    if (w <= 0 || h <= 0) return;
    const ratio = ratioOf(this.act.piece.state?.scene.camera?.aspect);
    this.ratio = ratio;
    this.w = Math.round(Math.min(w, h * ratio));
    this.h = Math.round(this.w / ratio);
    this.frame.style.width = `${this.w}px`;
    this.frame.style.height = `${this.h}px`;
    this.overlay.setAttribute("viewBox", `0 0 ${this.w} ${this.h}`);
    if (this.data) this.draw(false, true);
  }

  // draw draws the live view soon. A traced picture over it is of another moment then, unless
  // it shows the same as before.
  draw(moving = false, same = false) {
    if (moving) this.moving = true;
    if (!same) this.hush(true);
    this.wanted ??= requestAnimationFrame(() => {
      this.wanted = null;
      this.paint(this.moving);
      this.moving = false;
    });
  }

  paint(moving) {
    const frame = this.tried ? { ...this.now, ...this.tried } : this.now;
    const begin = performance.now();
    const k = moving ? this.slow : Math.min(devicePixelRatio, 1.5);
    this.live.size(Math.max(1, this.w), Math.max(1, this.h), k);
    this.live.show(frame, this.data.bodies);
    this.live.look(frame.camera, this.ratio);
    this.live.draw();
    this.finish();
    const took = performance.now() - begin;
    // A view that moves is drawn as large as some twelve of them a second allow.
    if (moving) this.slow = Math.max(0.35, Math.min(1, this.slow * Math.sqrt(80 / Math.max(took, 1))));
    this.furnish(frame);
    this.plan.show(this.data, frame.camera, frame.lamps);
    const { piece } = this.act;
    const lit = frame.lamps.filter((l) => !l.off).length;
    tell(
      this.canvas,
      `${piece.state.name} through the camera at frame ${Math.round(this.at)}: ${several(piece.state.parts.length, "part")}, ${several(lit, "lamp")}`,
      "Arrow keys turn it, plus and minus zoom",
    );
    document.body.dataset.live = String(Number(document.body.dataset.live ?? 0) + 1);
  }

  // finish waits until the picture is there, so that its time is known.
  finish() {
    this.live.renderer.getContext().finish();
  }

  // hush hides the traced picture, which is of another moment.
  hush(on) {
    // Without a live view beneath, the picture of before stays till the next one is there.
    this.image.style[hidden] = on && drawsSolids() ? "hidden" : "visible";
  }

  // furnish draws what can be taken hold of.
  furnish(frame) {
    const kids = [];
    if (this.margins) kids.push(...this.safe());
    if (this.path?.length > 1) kids.push(...this.ghost());
    kids.push(...this.pathOf());
    if (this.act.holds() === "light") for (const l of frame.lamps) kids.push(...this.mark(l));
    this.overlay.replaceChildren(...kids);
  }

  // safe draws the margins within which screens show everything: nine tenths for what moves,
  // eight tenths for words (SMPTE RP 218).
  safe() {
    return [0.05, 0.1].map((m) =>
      el("rect", { class: "safe", x: m * this.w, y: m * this.h, width: (1 - 2 * m) * this.w, height: (1 - 2 * m) * this.h }),
    );
  }

  ghost() {
    const at = this.path.map((p) => this.live.project(new Vector3(...p)));
    const points = at.filter((p) => p.ahead).map((p) => `${(p.x * this.w).toFixed(1)},${(p.y * this.h).toFixed(1)}`);
    const now = Math.round(this.at) - this.data.from;
    const dots = at.map((p, i) => {
      const here = i === now;
      return el("circle", { class: here ? "here" : "step", cx: p.x * this.w, cy: p.y * this.h, r: here ? 4 : 1.6 });
    });
    return [el("polyline", { class: "ghost", points: points.join(" ") }), ...dots];
  }

  // pathOf draws the path that is worked at, as far as it is before the camera. What is dragged moves alongside the
  // picture.
  pathOf() {
    const drawn = this.act.path.drawing();
    if (!drawn) return [];
    const mid = this.live.middle;
    const placed = (at) => new Vector3(mid.x + at[0], mid.y + at[1], mid.z + at[2]);
    const seen = (at) => this.live.project(placed(at));
    const near = this.data.reach / 50; // what is nearer to the camera has no place in the picture
    const ahead = ({ at }) => placed(at).applyMatrix4(this.live.camera.matrixWorldInverse).z < -near;
    const to = ({ at }) => {
      const p = seen(at);
      return [p.x * this.w, p.y * this.h];
    };
    const part = {
      line: drawn.line.filter(ahead),
      points: drawn.points.filter(ahead),
      handles: drawn.handles.filter((h) => ahead(h) && ahead({ at: h.of })),
    };
    const { line, grips } = marksOf(part, to);
    line.addEventListener("pointerdown", (e) => {
      const b = this.overlay.getBoundingClientRect();
      const far = (o) => Math.hypot(to(o)[0] - (e.clientX - b.left), to(o)[1] - (e.clientY - b.top));
      const on = part.line.reduce((p, q) => (far(q) < far(p) ? q : p));
      this.holdPath(e, { line: on }, on.at);
    });
    for (const g of grips) {
      const at = (g.what.side ? part.handles.find((h) => h.side === g.what.side) : part.points.find((p) => p.point === g.what.point)).at;
      g.mark.addEventListener("pointerdown", (e) => this.holdPath(e, g.what, at));
    }
    return [line, ...grips.flatMap((g) => [g.lever, g.mark]).filter(Boolean)];
  }

  holdPath(e, what, at) {
    const { path } = this.act;
    path.take(what);
    this.hold(e, at, {
      moved: (by, ev) => path.drag(by, ev.altKey),
      end: () => path.let(),
      undo: () => path.giveUp(),
    });
  }

  // hold follows the pointer from a place, mm from the middle, on: moved([right, up, ahead], event) tells by how much it
  // has gone alongside the picture, end the same or false; undo is where it is given up.
  hold(e, at, { moved, end, undo }) {
    e.preventDefault();
    e.stopPropagation();
    const from = { x: e.clientX, y: e.clientY };
    const c = this.live.camera;
    const mid = this.live.middle;
    const depth = -new Vector3(mid.x + at[0], mid.y + at[1], mid.z + at[2]).applyMatrix4(c.matrixWorldInverse).z;
    const k = (2 * depth * 18) / this.now.camera.focal / this.w;
    const [right, up] = [new Vector3().setFromMatrixColumn(c.matrixWorld, 0), new Vector3().setFromMatrixColumn(c.matrixWorld, 1)];
    const by = (ev) => right.clone().multiplyScalar((ev.clientX - from.x) * k).addScaledVector(up, (from.y - ev.clientY) * k).toArray();
    drag(e, this.overlay, {
      move: (ev) => moved(by(ev), ev),
      end: (ev, far) => end(far && by(ev)),
      undo: () => {
        undo();
        this.forget();
      },
    });
  }

  // mark is a lamp in the picture, if it is seen.
  mark(l) {
    if (l.kind === "sun") return [];
    const mid = this.live.middle;
    const p = this.live.project(new Vector3(mid.x + l.at[0], mid.y + l.at[1], mid.z + l.at[2]));
    if (!p.ahead || p.x < 0 || p.x > 1 || p.y < 0 || p.y > 1) return [];
    const picked = l.name === this.act.chosen.lamp;
    const g = el(
      "g",
      { class: `mark${picked ? " picked" : ""}`, transform: `translate(${p.x * this.w} ${p.y * this.h})`, "data-mark": l.name },
      el("circle", { r: 13 }),
      el("path", { d: "M-4 -4h8v8h-8zM0 -9v3M0 6v3M-9 0h3M6 0h3" }),
      el("text", { x: 16, y: 4 }, l.name),
    );
    g.addEventListener("pointerdown", (e) => this.holdLamp(e, l, g));
    return [g];
  }

  holdLamp(e, lamp, g) {
    this.act.picked(lamp.name);
    const moved = (by) => ({ ...lamp, at: lamp.at.map((v, i) => Math.round((v + by[i]) * 10) / 10) });
    this.hold(e, lamp.at, {
      moved: (by) => this.tryLamp(moved(by), false),
      end: (by) => by && this.tryLamp(moved(by), true),
      undo: () => this.draw(),
    });
    g.classList.add("picked");
  }

  // tryLamp shows a lamp elsewhere; done keeps it.
  tryLamp(lamp, done) {
    if (done) {
      this.tried = null;
      this.act.putLamp(lamp, `Place of ${lamp.name}`);
      return;
    }
    const lamps = this.now.lamps.map((l) => (l.name === lamp.name ? lamp : l));
    const on = this.now.lamps.filter((l) => !l.off);
    const mid = this.live.middle;
    const lights = this.now.lights.map((l, i) => (on[i]?.name === lamp.name ? lightOf(lamp, on[i], l, mid) : l));
    this.tried = { ...this.tried, lamps, lights };
    this.draw(true);
  }

  // pick waits for a click on the piece's middle plane and returns where that is, mm from the middle; null where Escape
  // came first.
  pick(says) {
    const note = el("p", { class: "picknote", role: "status" }, says);
    this.frame.append(note);
    this.frame.classList.add("picking");
    return new Promise((resolve) => {
      const end = (at) => {
        note.remove();
        this.frame.classList.remove("picking");
        this.frame.removeEventListener("pointerdown", onDown, true);
        document.removeEventListener("keydown", onKey, true);
        resolve(at);
      };
      const onDown = (e) => {
        e.preventDefault();
        e.stopPropagation();
        const b = this.frame.getBoundingClientRect();
        end(this.onPlane((e.clientX - b.left) / b.width, (e.clientY - b.top) / b.height));
      };
      const onKey = (e) => {
        if (e.key !== "Escape") return;
        e.preventDefault();
        e.stopPropagation();
        end(null);
      };
      this.frame.addEventListener("pointerdown", onDown, true);
      document.addEventListener("keydown", onKey, true);
    });
  }

  // onPlane returns where the upright plane through the middle of the piece is seen at a place of the picture, shares of
  // it: right and up, mm from the middle.
  onPlane(x, y) {
    const { camera, middle } = this.live;
    const to = new Vector3(2 * x - 1, 1 - 2 * y, 0.5).unproject(camera);
    const from = new Vector3().setFromMatrixPosition(camera.matrixWorld);
    const way = to.sub(from);
    const k = (middle.z - from.z) / (way.z || 1e-9);
    const at = from.addScaledVector(way, k);
    return [at.x - middle.x, at.y - middle.y].map((v) => Math.round(v * 10) / 10);
  }

  pointer() {
    const c = this.canvas;
    c.addEventListener("pointerdown", (e) => {
      if (!this.data) return;
      drag(e, c, {
        move: (f, dx, dy) => {
          if (f.shiftKey || f.buttons & 4) this.shift(-dx / this.w, dy / this.w, false);
          else this.turn(-dx * 0.35, dy * 0.35, false);
        },
        end: (_, moved) => moved && this.keep(),
        undo: () => this.forget(),
      });
    });
    pinch(
      c,
      (by, dx, dy) => {
        if (!this.data) return;
        this.shift(-dx / this.w, dy / this.w, false);
        this.near(1 / by);
      },
      { end: () => this.keep() },
    );
    let settle = null;
    c.addEventListener(
      "wheel",
      (e) => {
        e.preventDefault();
        this.near(Math.exp(e.deltaY * 0.0012));
        clearTimeout(settle);
        settle = setTimeout(() => this.keep(), 350);
      },
      { passive: false },
    );
    c.addEventListener("keydown", (e) => {
      const by = { ArrowLeft: [-5, 0], ArrowRight: [5, 0], ArrowUp: [0, 5], ArrowDown: [0, -5] }[e.key];
      if (by && plain(e)) {
        e.preventDefault();
        e.stopPropagation();
        if (e.shiftKey) this.shift(by[0] / 250, by[1] / 250, false);
        else this.turn(...by, false);
        gesture(e, "camera", () => this.keep());
      }
      if ((e.key === "+" || e.key === "=" || e.key === "-") && plain(e)) {
        this.near(e.key === "-" ? 1.1 : 0.9);
        gesture(e, "camera", () => this.keep());
      }
    });
  }

  // start begins a change of the camera's figures.
  start() {
    this.figures ??= { ...placed(this.scene.camera ?? {}) };
    return this.figures;
  }

  turn(turn, height, done) {
    const f = this.start();
    f.turn = wrap((f.turn ?? 0) + turn);
    f.height = within("camera.height", (f.height ?? 0) + height);
    this.tryView({ turn, height });
    if (done) this.keep();
  }

  tryCamera(patch, done) {
    const f = this.start();
    const by = wrap(patch.turn - (f.turn ?? 0));
    this.turn(by, 0, done);
  }

  shift(x, y, done) {
    const f = this.start();
    f.shift = [(f.shift?.[0] ?? 0) + x, (f.shift?.[1] ?? 0) + y];
    const c = this.tried?.camera ?? this.now.camera;
    this.tried = { ...this.tried, camera: { ...c, shift: [c.shift[0] + x, c.shift[1] + y] } };
    this.draw(true);
    if (done) this.keep();
  }

  near(k) {
    const f = this.start();
    const c = this.tried?.camera ?? this.now.camera;
    const back = sub(c.eye, c.aim);
    const far = Math.hypot(back.X, back.Y, back.Z) * k;
    f.distance = Math.round(far * 10) / 10;
    this.tried = { ...this.tried, camera: { ...c, eye: add(c.aim, back, k) } };
    this.draw(true);
  }

  // tryView turns the eye about what it looks at.
  tryView({ turn, height }) {
    const c = this.tried?.camera ?? this.now.camera;
    const back = sub(c.eye, c.aim);
    const far = Math.hypot(back.X, back.Y, back.Z);
    const t = Math.atan2(back.X, back.Z) + turn * degrees;
    const h = Math.max(-89.99, Math.min(89.99, Math.asin(back.Y / far) / degrees + height)) * degrees;
    const to = { X: far * Math.sin(t) * Math.cos(h), Y: far * Math.sin(h), Z: far * Math.cos(t) * Math.cos(h) };
    this.tried = { ...this.tried, camera: { ...c, eye: add(c.aim, to, 1) } };
    this.draw(true);
  }

  // forget shows camera and lamps as they are.
  forget() {
    this.figures = null;
    this.tried = null;
    this.draw();
  }

  // keep makes the camera as it was tried the scene's.
  keep() {
    if (!this.figures) return;
    const f = this.figures;
    this.figures = null;
    for (const k of ["turn", "height"]) f[k] = Math.round((f[k] ?? 0) * 10) / 10;
    if (f.shift) f.shift = f.shift.map((v) => Math.round(v * 1000) / 1000);
    this.act.scene({ camera: f }, "Camera");
  }

  // put shows a traced picture over the live view.
  put(address) {
    this.image.src = address;
    this.image.hidden = false;
  }
}

const sub = (a, b) => ({ X: a.X - b.X, Y: a.Y - b.Y, Z: a.Z - b.Z });
const add = (a, b, k) => ({ X: a.X + b.X * k, Y: a.Y + b.Y * k, Z: a.Z + b.Z * k });
const wrap = (a) => a - 360 * Math.round(a / 360);

// lightOf is how a lamp shines that was moved; at its aim it is as strong as before.
function lightOf(lamp, was, light, { x, y, z }) {
  /** @type {(p: number[]) => [number, number, number]} */
  const inPiece = ([a, b, c]) => [x + a, y + b, z + c];
  const stance = (l) => {
    return stanceOf(inPiece(l.at), inPiece(l.aim ?? [0, 0, 0]), l.size?.[0] ?? 0, l.size?.[1] ?? 0);
  };
  /** @type {(p: number[]) => { X: number, Y: number, Z: number }} */
  const xyz = ([X, Y, Z]) => ({ X, Y, Z });
  const is = stance(lamp);
  if (lamp.kind === "sun") return { ...light, at: xyz(is.way.map((v) => -v)) };
  const k = (is.far / stance(was).far) ** 2;
  const moved = { ...light, at: xyz(is.at), light: light.light.map((v) => v * k) };
  if (lamp.kind === "spot") return { ...moved, aim: xyz(is.way) };
  return { ...moved, across: xyz(is.across), up: xyz(is.up) };
}
