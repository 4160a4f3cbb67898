// The stand: a turntable with engraved rings on which the piece is looked at.
// Drag turns, shift-drag slides, the wheel nears. Frames are drawn on demand.
// There is one stand for all steps that show the solid; each attaches it to its
// view and lets go of it again.

import { inScope, withKey } from "../lib/acts.js";
import { drag, pinch } from "../lib/drag.js";
import {
  Box3,
  DirectionalLight,
  Group,
  HemisphereLight,
  PerspectiveCamera,
  Scene,
  Vector3,
  WebGLRenderer,
} from "../../vendor/three.min.js";
import { el } from "../lib/page.js";
import { mm } from "../lib/length.js";
import { choice } from "../lib/field.js";
import { tell } from "../lib/told.js";
import { Cut } from "./cut.js";
import { furnish } from "./furniture.js";
import { Pick } from "./pick.js";
import { Batch } from "./batch.js";
import { Marks } from "./marks.js";
import { drawsSolids, Painter } from "./painter.js";
import { clay, dimmed, lines, materialFor, quickFor, shadings, shown } from "./shading.js";
import { turning } from "./turning.js";

const views = {
  quarter: { yaw: 0.55, pitch: 0.3, name: "Quarter", d: "M5 9l9-5 14 4v9l-9 4L5 17z" },
  front: { yaw: 0, pitch: 0.02, name: "Front", d: "M7 4h20v16H7z" },
  edge: { yaw: Math.PI / 2, pitch: 0.02, name: "Edge", d: "M14 4h6v16h-6z" },
  back: { yaw: Math.PI, pitch: 0.08, name: "Back", d: "M7 4h20v16H7zM10 7h14v10H10z" },
};
const fitIcon = "M6 8V4h5M28 8V4h-5M6 16v4h5M28 16v4h-5M12 9h10v6H12z";

// A view that moves rests when nothing happens for so long, ms. Pictures slower than this are too slow to
// turn by: at 60 a second it takes 33 ms until the one after the next begins.
const restAfter = 160;
const slowPicture = 90;
const fewMarks = 2000; // triangles of marks that are drawn while the view moves
const comingPause = 150; // between two pictures while bodies come

// A view that rests is drawn once more with twice the pixels along each side, so that edges are smooth where the
// graphics driver does not see to that; unless that would take longer than this, ms, or more pixels than this.
const fineAfter = 220;
const finePicture = 2500;
const finePixels = 16e6;

export class Stand {
  // words returns what the view is of, in sentences.
  constructor(base, words) {
    this.words = words;
    const { yaw, pitch } = views.quarter;
    this.angle = { yaw, pitch };
    this.named = undefined; // the named view; null once it was turned by hand
    this.target = new Vector3();
    this.size = new Vector3(100, 100, 8);
    this.shading = null;
    this.wantsEdges = () => {}; // called when the wire is to be drawn
    this.lit = [];
    this.dims = false; // whether what is not selected is dimmed
    this.scene = new Scene();
    this.camera = new PerspectiveCamera(26, 1, 1, 5000);
    this.drawn = drawsSolids(); // by the browser, not by the server
    this.renderer = this.drawn
      ? new WebGLRenderer({ antialias: true, alpha: true, stencil: true })
      : new Painter(base, () => this.seen());
    this.renderer.localClippingEnabled = true;
    this.renderer.setPixelRatio(Math.min(devicePixelRatio, 2));
    this.canvas = this.renderer.domElement;
    this.canvas.tabIndex = 0;
    this.canvas.setAttribute("role", "img");
    this.key = new DirectionalLight("#fff4e2", 2.5);
    this.fill = new DirectionalLight("#dfe9f5", 0.55);
    this.toKey = new Vector3(); // where they come from, seen by the camera
    this.toFill = new Vector3();
    this.body = new Group();
    this.furniture = new Group();
    this.scene.add(
      new HemisphereLight("#ffffff", "#c2a78d", 1.75),
      this.key,
      this.fill,
      this.body,
      this.furniture,
    );
    this.batch = new Batch(this.body);
    this.parts = this.batch.entries; // id -> {solid, key}
    this.marks = new Marks(this.body);
    this.marked = true; // marks are as they should be
    this.labels = ["w", "h", "d"].map(() => el("span", { class: "viewlabel", hidden: true }));
    this.cut = new Cut(this);
    this.pick = new Pick(this);
    this.tools = this.makeTools();
    this.dimBox = el("input", { type: "checkbox", "data-stand": "dim", onchange: () => this.dim(this.dimBox.checked) });
    const dimming = el("label", { class: "cuttools", title: withKey("Dim what is not selected", "stand.dim") }, this.dimBox, " dim others");
    this.lookTools = el("div", { class: "looktools" }, dimming, this.cut.tools, this.pick.tools);
    this.tools.querySelector(".shading").prepend(this.lookTools);
    this.pointer();
    if (!this.drawn) this.plainly();
  }

  // plainly leaves out what only the browser itself can draw.
  plainly() {
    this.lookTools.hidden = true;
    for (const b of this.tools.querySelectorAll(".shading button"))
      if (!["clay", "colours"].includes(b.dataset.choice)) b.hidden = true;
    this.labels.push(el("span", { class: "viewlabel paintednote" }, "This browser draws no 3D; the server draws this view."));
  }

  // seen tells the server from where the piece is seen, and what of it is shown.
  seen() {
    if (!this.settled || !this.box) return null;
    const c = this.camera;
    const { yaw, pitch } = this.angle;
    const tall = Math.tan((c.fov * Math.PI) / 360);
    const wide = tall * c.aspect;
    // What the view was slid by, as shares of the picture's width.
    const [right, up] = [0, 1].map((i) => new Vector3().setFromMatrixColumn(c.matrix, i).dot(this.target) / (2 * this.distance * wide));
    const round = (v) => Number(v.toFixed(5));
    return {
      rev: [...this.parts.values()].map((p) => p.key).join(" "),
      seen: {
        turn: round((Math.atan2(Math.sin(yaw), Math.cos(yaw)) * 180) / Math.PI),
        up: round((pitch * 180) / Math.PI),
        distance: round(this.distance),
        focal: round(18 / wide),
        shift: [round(right), round(up)],
        clay: this.shading === "clay",
      },
    };
  }

  // attach shows the stand in the view of a step.
  attach(ctx) {
    this.box = ctx.view;
    this.box.append(this.canvas, ...this.labels, ...this.pick.elements, this.tools);
    const after = (names, now) => names[(names.indexOf(now) + 1) % names.length];
    const does = {
      fit: () => this.fit(),
      view: () => this.look(after(Object.keys(views), this.named)),
      dim: () => this.dim(),
      shade: () => this.shade(after(shadings.map((s) => s[0]), this.shading)),
    };
    inScope("stand", does, ctx.signal);
    this.watch = new ResizeObserver(() => this.resize());
    this.watch.observe(this.box);
    this.resize();
  }

  detach() {
    clearTimeout(this.polishing);
    this.watch.disconnect();
    cancelAnimationFrame(this.frame);
    this.frame = null;
    this.canvas.remove();
    this.pick.act = null;
    for (const e of [...this.labels, ...this.pick.elements, this.tools]) e.remove();
    this.box = null;
  }

  makeTools() {
    const button = (text, d, attrs) => {
      const picture = el("svg", { viewBox: "0 0 34 24", "aria-hidden": "true" }, el("path", { d }));
      return el("button", { type: "button", ...attrs }, picture, text);
    };
    const looks = Object.entries(views).map(([k, v]) =>
      button(v.name, v.d, { "data-view": k, title: `${v.name} view`, onclick: () => this.look(k) }),
    );
    const fit = button("Fit", fitIcon, { title: withKey("Fit into the view", "stand.fit"), onclick: () => this.fit() });
    this.shadeChoice = choice("Shading", shadings, "clay", (k) => this.shade(k));
    // In the wire, lines behind others are left out unless one wants them.
    const hidden = el("input", {
      type: "checkbox",
      "data-stand": "hidden-lines",
      onchange: () => {
        this.through = hidden.checked;
        this.dress();
      },
    });
    this.hiddenLines = el("label", { class: "hiddenlines", hidden: true }, hidden, " hidden lines");
    return el(
      "div",
      { class: "standtools" },
      el("div", { class: "viewtools", role: "group", "aria-label": "Views" }, ...looks, fit),
      el("div", { class: "shading" }, this.hiddenLines, this.shadeChoice.row.lastChild),
    );
  }

  pointer() {
    const c = this.canvas;
    const over = () => c.classList.remove("turning");
    c.addEventListener("pointerdown", (e) => {
      c.classList.add("turning");
      drag(e, c, {
        move: (f, dx, dy) => {
          if (f.shiftKey || f.buttons & 4) this.slide(dx, dy);
          else this.turn(-dx * 0.008, dy * 0.008);
        },
        end: over,
        undo: over,
      });
    });
    pinch(c, (by, dx, dy) => {
      this.slide(dx, dy);
      this.near(1 / by);
    });
    turning(c, this);
  }

  turn(yaw, pitch) {
    this.named = null;
    this.angle.yaw += yaw;
    this.angle.pitch = Math.max(-0.4, Math.min(1.5, this.angle.pitch + pitch));
    this.stir(true);
  }

  slide(dx, dy) {
    const k = (2 * this.distance * Math.tan((this.camera.fov * Math.PI) / 360)) / this.box.clientHeight;
    const right = new Vector3().setFromMatrixColumn(this.camera.matrix, 0);
    const up = new Vector3().setFromMatrixColumn(this.camera.matrix, 1);
    this.target.addScaledVector(right, -dx * k).addScaledVector(up, dy * k);
    this.stir(true);
  }

  near(f) {
    const s = this.span();
    this.distance = Math.max(s * 0.02, Math.min(s * 12, this.distance * f));
    this.stir(true);
  }

  look(name) {
    this.named = name;
    this.angle.yaw = views[name].yaw;
    this.angle.pitch = views[name].pitch;
    this.fit();
  }

  span() {
    return Math.max(this.size.x, this.size.y, this.size.z);
  }

  // fit brings the whole piece and its measures into view.
  fit() {
    this.target.set(0, -this.span() * 0.05, 0);
    const aspect = Math.max(0.2, this.camera.aspect);
    const half = Math.tan((this.camera.fov * Math.PI) / 360);
    const { yaw, pitch } = this.angle;
    const s = this.size;
    const w = Math.abs(Math.cos(yaw)) * s.x + Math.abs(Math.sin(yaw)) * s.z;
    const h = Math.cos(pitch) * s.y + Math.abs(Math.sin(pitch)) * Math.hypot(s.x, s.z) * 0.7;
    const margin = this.span() * 0.16;
    const away = (Math.abs(Math.sin(yaw)) * s.x + Math.abs(Math.cos(yaw)) * s.z) / 2;
    this.distance = Math.max((h + 2 * margin) / (2 * half), (w + 2 * margin) / (2 * half * aspect)) + away;
    this.draw();
  }

  // put shows the solid of a body (see records.js).
  put(id, solid) {
    const entry = this.batch.put(id, solid);
    entry.key = `${solid.key} ${solid.runs.map((r) => r.color).join(" ")}`;
    this.paint(entry);
    this.marked = false;
    this.draw();
  }

  paint(entry) {
    const colours = this.shading !== "clay";
    const dims = this.dims && this.lit.length > 0;
    this.batch.paint(entry, (r) => {
      const color = colours ? shown(r.color) : clay;
      return dims && !this.lit.includes(r.part) ? dimmed(color) : color;
    });
  }

  // dim paints what is not selected as if it were far away, or no longer.
  dim(on = !this.dims) {
    this.dims = on;
    this.dimBox.checked = on;
    for (const e of this.parts.values()) this.paint(e);
    this.draw();
  }

  placeCut() {
    this.batch.refresh();
    this.cut.place(this.size, this.batch.meshes());
  }

  // recolor gives parts other colours.
  recolor(colors) {
    for (const e of this.parts.values()) {
      let changed = false;
      for (const r of e.solid.runs) {
        const color = colors.get(r.part) ?? r.color;
        changed ||= color !== r.color;
        r.color = color;
      }
      if (changed) this.paint(e);
    }
    this.draw();
  }

  // mark lays over the bodies what is selected and what lies under the pointer.
  mark() {
    // While the view moves and less is drawn, what is laid over much would cost most of all.
    const heavy = this.batch.moving && this.marks.triangles > fewMarks;
    this.marks.show(!heavy);
    if (this.marked || heavy) return;
    this.marked = true;
    const over = this.pick?.hovered;
    this.marks.lay(this.parts.values(), new Set(this.lit), { ...over, entry: this.parts.get(over?.body) }, this.cut.planes());
  }

  remove(id) {
    this.batch.remove(id);
    this.marked = false;
    this.draw();
  }

  // box returns the box of all bodies, or null.
  boxOfAll() {
    let box = null;
    for (const { solid } of this.parts.values()) {
      if (!solid.corners) continue;
      const hi = solid.lo.map((v, i) => v + solid.side[i]);
      box ??= new Box3();
      box.expandByPoint(new Vector3(...solid.lo)).expandByPoint(new Vector3(...hi));
    }
    return box;
  }

  // settle makes stand and measures fit a state whose solids are all here.
  settle(state) {
    this.batch.refresh();
    const box = this.boxOfAll();
    if (!box) {
      this.draw();
      return;
    }
    const size = box.getSize(new Vector3());
    const other = (a, b) => Math.abs(a - b) > 1e-6 * a;
    const first = !this.settled || other(size.x, this.size.x) || other(size.y, this.size.y);
    this.size.copy(size);
    this.body.position.copy(box.getCenter(new Vector3())).negate();
    if (this.shading === null) this.shade(state.parts.length > 1 ? "colours" : "clay");
    this.labelAt = furnish(this.furniture, this.batch.meshes(), this.body.position, size, state);
    [size.x, size.y, size.z].forEach((v, i) => {
      this.labels[i].textContent = mm(v);
    });
    this.settled = true;
    this.placeCut();
    if (first) this.fit();
    else this.draw();
    this.thinOut();
  }

  // thinOut prepares, when there is time, what is drawn while the view moves.
  thinOut() {
    clearTimeout(this.thinning);
    this.thinning = setTimeout(() => this.batch.thinOut(this.span()) && this.thinOut(), 30);
  }

  shade(kind) {
    this.shading = kind;
    this.shadeChoice.set(kind);
    this.hiddenLines.hidden = kind !== "wire";
    for (const e of this.parts.values()) this.paint(e);
    this.dress();
  }

  // light marks the parts that are selected.
  light(ids) {
    this.lit = ids;
    if (this.dims) for (const e of this.parts.values()) this.paint(e);
    this.marked = false;
    this.draw();
  }

  // dress gives all bodies the material of the shading.
  dress() {
    const planes = this.cut.planes();
    const wire = this.shading === "wire";
    if (wire) this.wantsEdges?.();
    const material = wire && this.through ? null : materialFor(this.shading);
    const edges = wire ? lines() : null;
    const quick = quickFor(this.shading, this.toKey, this.toFill);
    for (const m of [material, quick, edges]) if (m) m.clippingPlanes = planes;
    this.batch.dress(material, quick, edges);
    this.marked = false;
    this.placeCut();
    this.draw();
  }

  resize() {
    const w = this.box?.clientWidth;
    const h = this.box?.clientHeight;
    if (!w || !h) return;
    this.renderer.setSize(w, h, false);
    this.camera.aspect = w / h;
    this.camera.updateProjectionMatrix();
    if (this.settled && this.named !== null) this.fit();
    else this.draw();
  }

  // coming tells that bodies come one after the other: they are drawn now and then, the less often the
  // longer a picture takes, so that drawing does not hold up their coming.
  coming(on, dragged = false) {
    this.comes = on;
    clearTimeout(this.waiting);
    this.waiting = null;
    if (dragged) this.stir();
    else if (!on) this.draw();
  }

  draw() {
    if (!this.box) return;
    if (this.comes && !this.turning && !this.frame) {
      this.waiting ??= setTimeout(() => {
        this.waiting = null;
        if (this.comes) this.picture();
      }, Math.max(comingPause, 5 * (this.costs ?? 0)));
      return;
    }
    this.frame ??= requestAnimationFrame(() => {
      this.frame = null;
      this.picture();
    });
  }

  // picture draws the view and notes how long that takes: the picture after the next is let begin when it
  // is shown.
  picture() {
    const less = this.stirring && this.slowly;
    if (less) this.batch.move(true);
    if (this.fine) this.sharpen();
    this.fine = false;
    clearTimeout(this.polishing);
    if (less && this.roughly) this.sharpen(0.5);
    const begun = performance.now();
    this.render();
    requestAnimationFrame(() =>
      requestAnimationFrame(() => {
        this.costs = performance.now() - begun;
        this.tell();
        const slow = this.costs > slowPicture;
        if (less && this.batch.moving) this.roughly ||= slow;
        else if (!less) this.slowly = slow; // what was slow for once is found out when the view rests
        if (!this.slowly) this.roughly = false;
        clearTimeout(this.polishing);
        this.polishing = setTimeout(() => this.polish(), fineAfter);
      }),
    );
  }

  // tell says in words what is seen.
  tell() {
    const degrees = (v) => Math.round((v * 180) / Math.PI);
    const { yaw, pitch } = this.angle;
    const named = this.named && `${views[this.named].name} view`;
    const turned = `Turned by ${degrees(yaw)}°, seen from ${degrees(pitch)}° above`;
    tell(this.canvas, ...this.words(), named || turned, "Arrow keys turn it, plus and minus zoom");
  }

  // stir tells that the view moves, by hand or because a figure is dragged: where drawing is slow, less is
  // drawn until it rests.
  stir(byHand = false) {
    this.stirring = true;
    this.turning ||= byHand;
    clearTimeout(this.resting);
    this.resting = setTimeout(() => {
      this.stirring = this.turning = false;
      this.batch.move(false);
      this.sharpen();
      this.draw();
    }, restAfter + Math.min(this.costs ?? 0, 1000));
    this.draw();
  }

  // polish draws a view that rests with more pixels; what comes next is drawn as before.
  polish() {
    if (!this.drawn || !this.box || this.stirring || this.comes || this.frame || this.fine) return;
    const ratio = 2 * Math.min(devicePixelRatio, 2);
    const pixels = this.box.clientWidth * this.box.clientHeight * ratio * ratio;
    if (4 * (this.costs ?? 0) > finePicture || pixels > finePixels) return;
    this.fine = true;
    this.renderer.setPixelRatio(ratio);
    this.render();
    document.body.dataset.fine = "1";
  }

  // sharpen draws as many pixels as the screen has, or a share of them along each side.
  sharpen(share = 1) {
    const ratio = Math.min(devicePixelRatio, 2) * share;
    if (this.drawn && this.renderer.getPixelRatio() !== ratio) this.renderer.setPixelRatio(ratio);
  }

  render() {
    const { yaw, pitch } = this.angle;
    const s = this.span();
    this.distance ??= s * 3;
    const c = this.camera;
    c.position.set(Math.sin(yaw) * Math.cos(pitch), Math.sin(pitch), Math.cos(yaw) * Math.cos(pitch));
    c.position.multiplyScalar(this.distance).add(this.target);
    c.lookAt(this.target);
    c.near = Math.max(this.distance - s * 3, this.distance / 400);
    c.far = this.distance + s * 6;
    c.updateProjectionMatrix();
    // The lights go with the eye, so that every side shows its form.
    const right = new Vector3(Math.cos(yaw), 0, -Math.sin(yaw));
    this.key.position
      .copy(c.position)
      .normalize()
      .multiplyScalar(0.72)
      .addScaledVector(right, -0.82)
      .add(new Vector3(0, 0.95, 0));
    this.fill.position
      .copy(c.position)
      .normalize()
      .addScaledVector(right, 1.2)
      .add(new Vector3(0, -0.1, 0));
    c.updateMatrixWorld();
    this.toKey.copy(this.key.position).transformDirection(c.matrixWorldInverse);
    this.toFill.copy(this.fill.position).transformDirection(c.matrixWorldInverse);
    this.batch.refresh();
    this.mark();
    this.renderer.render(this.scene, c);
    this.pick.draw();
    this.placeLabels();
  }

  placeLabels() {
    const w = this.box.clientWidth;
    const h = this.box.clientHeight;
    const { yaw } = this.angle;
    // Seen end-on, a measure says nothing.
    const flat = [Math.abs(Math.cos(yaw)) < 0.35, false, Math.abs(Math.sin(yaw)) < 0.3];
    this.labels.slice(0, 3).forEach((l, i) => {
      if (!this.labelAt || !this.settled) {
        l.hidden = true;
        return;
      }
      const p = this.labelAt[i].clone().project(this.camera);
      l.hidden = p.z > 1 || flat[i] || Math.abs(p.x) > 1 || Math.abs(p.y) > 1;
      l.style.left = `${Math.max(34, Math.min(w - 34, ((p.x + 1) / 2) * w))}px`;
      l.style.top = `${Math.max(12, Math.min(h - 12, ((1 - p.y) / 2) * h))}px`;
    });
  }
}
