// Show: the picture as it will be, still and moving. The live view is drawn at once; when
// nothing changes for a moment, a traced picture comes over it and gets finer.

import { inScope } from "../lib/acts.js";
import { Texture } from "../../vendor/three.min.js";
import { get, postBinary } from "../lib/api.js";
import { el, say } from "../lib/page.js";
import { choice } from "../lib/field.js";
import { known } from "../lib/known.js";
import { dots, drawsSolids } from "../stand/painter.js";
import { streamSolids } from "../stand/records.js";
import { cameras, placed, ratioOf } from "./cameras.js";
import { Growing } from "./growing.js";
import { lights, upload } from "./lights.js";
import { PathBox } from "./pathbox.js";
import { results, sizeOf } from "./results.js";
import { Stage } from "./stage.js";
import { surface } from "./surface.js";
import { Timeline } from "./timeline.js";

// How a preview gets finer: longer side in px and samples of a pixel.
const looks = [
  [176, 3],
  [960, 6],
];
const idle = 250; // ms without a change before a picture is traced
const chunk = 300; // frames that are asked for at once

const tabs = [
  ["surface", "Surface"],
  ["light", "Light"],
  ["camera", "Camera"],
  ["results", "Results"],
];

export function mount(ctx) {
  return new Show(ctx);
}

class Show {
  constructor(ctx) {
    this.piece = ctx.piece;
    this.ctx = ctx;
    this.memory = recall(this.piece.base);
    if (!drawsSolids()) this.memory.mode = "picture";
    this.round = 0; // of what is shown
    this.tracing = 0; // of traced pictures
    this.have = new Map(); // part -> key of its solid
    this.chosen = { lamp: null };
    const act = {
      piece: this.piece,
      materials: known.materials,
      chosen: this.chosen,
      look: () => (this.stale ? null : this.data),
      scene: (patch, label) => this.piece.change(label, { kind: "scene", ...patch }),
      paint: (faces, material, label) => this.paint(faces, material, label),
      picked: (name) => this.pickLamp(name),
      lamps: () => this.lights?.lamps() ?? [],
      putLamp: (lamp, label) => this.lights.put(this.lights.lamps().map((l) => (l.name === lamp.name ? plainLamp(lamp, l) : l)), label),
      dropLamp: () => this.dropLamp(),
      surround: (file) => this.surround(file),
      fit: () => this.fit(),
      margins: (on) => this.margins(on),
      holds: () => this.tab,
    };
    this.path = new PathBox({
      piece: this.piece,
      change: (label, ...edits) => this.piece.change(label, ...edits),
      redraw: () => this.data && this.stage.draw(true),
      name: (of) => this.timeline.things().find((t) => t.id === of)?.name ?? of,
      look: (of) => this.lookOf(of),
      base: (of) => this.baseOf(of),
      frame: () => Math.round(this.timeline.frame),
      frames: () => this.timeline.frames,
      end: () => this.endPath(),
    });
    act.path = this.path;
    this.stage = new Stage(act);
    this.timeline = new Timeline({
      ...act,
      change: (label, ...edits) => this.piece.change(label, ...edits),
      go: (frame, moving) => this.go(frame, moving),
      still: () => this.later(),
      moved: () => this.timeline.play(),
      openPath: (of, kind) => this.openPath(of, kind),
      pick: (says) => this.pick(says),
    });
    this.growing = new Growing({ piece: this.piece, live: this.stage.live, redraw: () => this.data && this.stage.draw() });
    this.note = el("span", { class: "shownote soft" }, "The first picture comes in a moment.");
    this.mode = choice("View", [["picture", "Picture"], ["live", "Live"]], this.memory.mode ?? "picture", (m) => this.setMode(m));
    const tool = (name, text, title, onclick) =>
      el("button", { type: "button", class: "plainbutton", "data-show": name, title, onclick }, text);
    this.tools = el(
      "div",
      { class: "showtools" },
      this.mode.row.lastChild,
      tool("plan", "Plan", "Camera and lamps from above (P)", () => this.flip("plan")),
      tool("time", "Timeline", "Fold the timeline away or back (T)", () => this.flip("time")),
      this.note,
    );
    ctx.view.append(el("div", { class: "showview" }, this.tools, this.stage.element, this.timeline.element));
    this.surface = surface(act);
    this.lights = lights(act);
    this.cameras = cameras(act);
    this.results = results({
      ...act,
      frame: () => Math.round(this.timeline.frame),
      timeline: this.timeline,
      drawn: (w, h, f) => this.drawn(w, h, f),
    });
    this.panels = { surface: this.surface, light: this.lights, camera: this.cameras, results: this.results };
    this.tabs = choice("What is shown beside", tabs, this.memory.tab ?? "surface", (t) => this.setTab(t));
    this.panel = el("div", { class: "showfields" });
    ctx.panel.append(el("div", { class: "showtabs" }, this.tabs.row.lastChild), this.panel);
    this.setTab(this.memory.tab ?? "surface");
    this.arrange();
    inScope("show", this.does(), ctx.signal);
    ctx.on(window, "orders", () => this.results.refresh());
    this.results.refresh();
  }

  get tab() {
    return this.memory.tab ?? "surface";
  }

  // ---- what is remembered of the screen

  remember(patch) {
    Object.assign(this.memory, patch);
    try {
      localStorage.setItem(`bildhauer:show:${this.piece.base}`, JSON.stringify(this.memory));
    } catch {
      // private mode
    }
  }

  setTab(tab) {
    this.remember({ tab });
    this.path.close();
    this.tabs.set(tab);
    this.panel.replaceChildren(this.panels[tab].element);
    if (this.piece.state) this.panels[tab].show();
    this.arrange();
  }

  setMode(mode) {
    if (mode === "live" && !drawsSolids()) {
      say("This browser draws no 3D, so there is no live view; pictures come from the server.");
      mode = "picture";
    }
    this.remember({ mode });
    this.mode.set(mode);
    if (mode === "live") {
      this.endTrace();
      this.stage.hush(true);
      this.note.textContent = "Live view";
      document.body.dataset.shown = "live";
    } else this.later(0);
  }

  flip(what) {
    const on = what === "plan" ? this.planShown() : this.timeShown();
    this.remember({ [what]: !on });
    this.arrange();
  }

  // ---- the path of something

  async openPath(of, kind) {
    if (!this.data) return;
    if (this.memory.mode !== "live") this.setMode("live");
    if (!(await this.path.open(of, kind))) return;
    this.tabs.set("");
    this.panel.replaceChildren(this.path.element);
    this.path.show();
    this.arrange();
  }

  endPath() {
    if (!this.path.of) return;
    this.setTab(this.tab);
  }

  // lookOf tells what a first path goes by: where the camera is, where a lamp is, how far the piece reaches.
  lookOf(of) {
    const { camera, lamps } = this.stage.now;
    const mid = this.stage.live.middle;
    const eye = [camera.eye.X - mid.x, camera.eye.Y - mid.y, camera.eye.Z - mid.z];
    return { eye, lamp: lamps.find((l) => l.name === of)?.at ?? eye, reach: this.data.reach };
  }

  // baseOf is where the path of something is told from, mm from the middle of the piece: a part's from where it rests.
  baseOf(of) {
    const g = this.stage.live.bodies.get(of)?.mesh.geometry;
    if (!g) return [0, 0, 0];
    if (!g.boundingBox) g.computeBoundingBox();
    const mid = this.stage.live.middle;
    const { min, max } = g.boundingBox;
    return [(min.x + max.x) / 2 - mid.x, (min.y + max.y) / 2 - mid.y, (min.z + max.z) / 2 - mid.z];
  }

  pick(says) {
    if (this.memory.mode !== "live") this.setMode("live");
    return this.stage.pick(says);
  }

  planShown() {
    if (this.path.of) return true;
    return this.memory.plan ?? this.tab === "light";
  }

  timeShown() {
    return this.memory.time ?? true;
  }

  arrange() {
    this.stage.plan.element.hidden = !this.planShown();
    this.timeline.element.hidden = !this.timeShown();
    for (const [name, on] of [["plan", this.planShown()], ["time", this.timeShown()]])
      this.tools.querySelector(`[data-show=${name}]`).setAttribute("aria-pressed", String(on));
    if (this.data) this.stage.draw(false, true);
  }

  margins(on) {
    this.stage.margins = on;
    if (this.data) this.stage.furnish(this.stage.now);
  }

  // ---- acts

  paint(faces, material, label) {
    const some = this.piece.pickedSome();
    const parts = some ? this.piece.picked().map((p) => p.id) : [];
    const who = some ? this.piece.picked().map((p) => p.name).join(", ") : "all parts";
    return this.piece.change(`${label} of ${who}`, { kind: "paint", parts, faces, material });
  }

  pickLamp(name) {
    this.chosen.lamp = name;
    if (this.tab === "light" && this.piece.state) this.lights.show();
    if (this.data) {
      this.stage.furnish(this.stage.now);
      this.stage.plan.show(this.data, this.stage.now.camera, this.stage.tried?.lamps ?? this.stage.now.lamps);
    }
  }

  dropLamp() {
    const l = this.lights.current();
    if (!l) return;
    this.chosen.lamp = null;
    this.lights.put(this.lights.lamps().filter((o) => o.name !== l.name), `Delete ${l.name}`);
  }

  surround(file) {
    return this.piece.run(`Reading ${file.name}`, (job) => this.piece.changeBy(() => upload(this.piece, file, job)));
  }

  // takes takes a panorama that was dropped, and leaves other files.
  takes(files) {
    const f = files.find((o) => /\.(hdr|pic)$/i.test(o.name));
    if (f) this.surround(f);
    return !!f;
  }

  fit() {
    const c = placed(this.piece.state.scene.camera ?? {});
    this.piece.change("Fit the camera", { kind: "scene", camera: { ...c, distance: 0, shift: [0, 0] } });
  }

  // does tells what the acts of this step do (web/acts).
  does() {
    const { timeline } = this;
    return {
      play: () => timeline.toggle(),
      start: () => timeline.go(0),
      key: () => timeline.box.setHere(),
      moves: () => timeline.moves(),
      path: () => timeline.box.openPath(),
      fit: () => this.fit(),
      live: () => this.setMode((this.memory.mode ?? "picture") === "live" ? "picture" : "live"),
      plan: () => this.flip("plan"),
      timeline: () => this.flip("time"),
      delete: () => this.deleteChosen(),
      back: () => (this.path.of ? this.endPath() : false),
      picture: () => {
        this.setTab("results");
        this.results.order({});
      },
    };
  }

  deleteChosen() {
    if (this.path.of) return this.path.remove();
    if (this.timeline.picked.size) return this.timeline.drop();
    return this.tab === "light" && this.dropLamp();
  }

  // ---- what is shown

  update(state) {
    const key = JSON.stringify([state.scene, state.parts.map((p) => [p.key, p.color, p.out]), state.size]);
    this.stale ||= key !== this.shown;
    if (this.path.of && !this.path.path) this.endPath(); // somebody has taken it away
    if (this.path.of) this.path.show();
    else this.panels[this.tab].show();
    this.timeline.update();
    if (state.problem) {
      this.note.textContent = state.problem;
      this.endTrace();
      document.body.dataset.shown = "failed";
      return;
    }
    if (key === this.shown) return;
    this.shown = key;
    this.refresh(state).catch((e) => this.fail(e));
  }

  fail(e) {
    if (e.name === "AbortError" || e.kind === "cancelled") return;
    this.note.textContent = e.message;
    document.body.dataset.shown = "failed";
  }

  // refresh brings the live view up to a state, then a traced picture over it.
  async refresh(state) {
    const mine = ++this.round;
    this.stale = true; // what the server told is of another state
    this.endTrace();
    delete document.body.dataset.shown;
    const parts = state.parts.filter((p) => !p.out && p.host === p.id);
    const asked = this.tell(this.timeline.frame);
    for (const id of [...this.have.keys()])
      if (!parts.some((p) => p.id === id)) {
        this.stage.live.drop(id);
        this.have.delete(id);
      }
    const todo = parts.filter((p) => this.have.get(p.id) !== p.key);
    const fetchAll = async (job) => {
      await streamSolids(this.piece.base, { parts: todo.map((p) => p.id) }, [], job, (solid) => {
        if (mine !== this.round) return;
        this.stage.live.put(solid.part, solid);
        this.have.set(solid.part, solid.key);
      });
      if (mine !== this.round) return;
    };
    if (todo.length) await this.piece.run(`Raising ${todo[0].name}`, fetchAll);
    const data = await asked;
    if (mine !== this.round) return;
    await this.drawings(data);
    if (mine !== this.round) return;
    this.data = data;
    this.stale = false;
    this.stage.take(data, state.scene);
    this.growing.take(data, state);
    this.ghost();
    if (!this.path.of) this.panels[this.tab].show();
    this.growing.show(Math.round(this.timeline.frame));
    this.stage.go(this.timeline.frame);
    this.timeline.update();
    this.measure();
    await this.ambience(state, mine);
    this.surface.pictures();
    if (mine === this.round) this.later();
  }

  // tell asks for what the scene is around a frame: from the beginning of its chunk on, or, of
  // a piece of which less is told at once, from the frame itself.
  async tell(frame) {
    const data = await this.ask(chunk * Math.floor(frame / chunk));
    return frame < data.from + data.frames.length ? data : this.ask(Math.floor(frame));
  }

  ask(from) {
    const n = this.piece.state.scene.motion?.frames ?? 0;
    const to = n ? Math.min(n - 1, from + chunk - 1) : 0;
    return get(`${this.piece.base}/data/live?from=${n ? from : 0}&to=${to}`);
  }

  // ambience asks for what comes from all around, when it can be another one.
  async ambience(state, mine) {
    const { scene } = state;
    const key = JSON.stringify([scene.lamps, scene.setting, scene.surroundings, scene.backdrop, this.data.lo, this.data.hi]);
    if (key !== this.around) {
      const buffer = await (await fetch(`${this.piece.base}/data/ambience?frame=${Math.round(this.timeline.frame)}`)).arrayBuffer();
      if (mine !== this.round) return;
      this.stage.live.ambience(buffer);
      this.around = key;
      this.stage.draw();
    }
    document.body.dataset.lit = String(Number(document.body.dataset.lit ?? 0) + 1);
  }

  // drawings fetches the gradients of parts that are painted with them.
  async drawings(data) {
    const wanted = data.frames[0].looks.flatMap((l) => Object.entries(l).filter(([, look]) => look.drawn).map(([k]) => k.split(" ")[0]));
    for (const part of new Set(wanted)) {
      if (this.stage.live.drawings.has(part) || !data.drawn[part]) continue;
      const r = await fetch(`${this.piece.base}/data/drawn/${part}`);
      const t = new Texture(await createImageBitmap(await r.blob(), { imageOrientation: "flipY" }));
      t.flipY = false;
      t.needsUpdate = true;
      this.stage.live.draws(part, t, data.drawn[part]);
    }
  }

  // go shows a frame; one that was not told yet is asked for.
  async go(frame, moving) {
    if (!this.data) return;
    const { from, frames } = this.data;
    const round = this.round;
    if ((frame < from || frame >= from + frames.length) && (this.piece.state.scene.motion?.frames ?? 0) > frames.length) {
      if (this.asking) return;
      this.asking = true;
      try {
        const data = await this.tell(frame);
        if (round !== this.round) return;
        this.data = data;
        this.stage.data = data;
        this.growing.take(data, this.piece.state);
        this.ghost();
      } catch (e) {
        this.fail(e);
      } finally {
        this.asking = false;
      }
    }
    this.growing.show(Math.round(this.timeline.frame));
    this.stage.go(this.timeline.frame, moving);
    this.endTrace();
    if (!moving && !this.timeline.playing) this.later();
  }

  // ghost works out the path of the first selected part that moves, or of the piece.
  ghost() {
    const { data } = this;
    const id = this.piece.pickedSome() ? this.piece.picked()[0]?.host : null;
    const i = id ? data.bodies.indexOf(id) : 0;
    this.stage.path = null;
    if (i < 0 || data.frames.length < 2) return;
    const g = this.stage.live.bodies.get(data.bodies[i])?.mesh.geometry;
    if (!g) return;
    g.computeBoundingBox();
    const m = g.boundingBox.min.clone().add(g.boundingBox.max).multiplyScalar(0.5);
    const path = data.frames.map(({ poses }) => [0, 4, 8].map((k) => poses[i][k] * m.x + poses[i][k + 1] * m.y + poses[i][k + 2] * m.z + poses[i][k + 3]));
    const far = Math.max(...path.map((p) => Math.hypot(p[0] - path[0][0], p[1] - path[0][1], p[2] - path[0][2])));
    if (far > data.reach * 0.01) this.stage.path = path;
  }

  select() {
    this.panels[this.tab].show();
    this.timeline.say();
    if (!this.data) return;
    this.ghost();
    this.stage.furnish(this.stage.now);
  }

  measure() {
    const bodies = [...this.stage.live.bodies.values()];
    this.piece.measure({ triangles: bodies.reduce((n, b) => n + b.mesh.geometry.index.count / 3, 0), watertight: null, ms: null });
  }

  // ---- traced pictures

  endTrace() {
    this.tracing++;
    clearTimeout(this.waiting);
    this.abort?.();
    this.abort = null;
  }

  // later traces a picture when nothing happens for a moment.
  later(after = idle) {
    this.endTrace();
    if (this.memory.mode === "live") {
      this.note.textContent = "Live view";
      requestAnimationFrame(() => this.memory.mode === "live" && (document.body.dataset.shown = "live")); // it is drawn then
      return;
    }
    if (!this.data || this.timeline.playing) return;
    this.waiting = setTimeout(() => this.trace().catch((e) => this.fail(e)), after);
  }

  async trace() {
    const mine = this.tracing;
    const ratio = ratioOf(this.piece.state.scene.camera?.aspect);
    const frame = Math.round(this.timeline.frame);
    for (const [i, [side, samples]] of looks.entries()) {
      const begin = performance.now();
      const stopped = () => (this.note.textContent = "Stopped; what is there stays.");
      const bytes = await this.piece.run(
        i ? "Making it finer" : "Making the picture",
        (job) => {
          this.abort = job.abort;
          return postBinary(`${this.piece.base}/data/picture`, { ...sizeOf(ratio, dots(side)), samples, frame }, job);
        },
        { onCancel: stopped },
      );
      if (mine !== this.tracing) return;
      URL.revokeObjectURL(this.address);
      this.address = URL.createObjectURL(new Blob([bytes], { type: "image/png" }));
      this.stage.put(this.address);
      await this.stage.image.decode().catch(() => {});
      if (mine !== this.tracing) return;
      this.stage.hush(false);
      const seconds = ((performance.now() - begin) / 1000).toFixed(1);
      this.note.textContent = `${i ? "Preview" : "Rough preview"}, ${samples} samples a pixel, ${seconds} s`;
      document.body.dataset.shown = i ? "fine" : "rough";
    }
  }

  // drawn lends the live view for a clip of w by h pixels.
  async drawn(w, h, use) {
    const { stage, timeline } = this;
    timeline.stop();
    this.endTrace();
    const was = timeline.frame;
    const size = [stage.w, stage.h];
    try {
      return await use(async (i, pen) => {
        timeline.frame = i;
        if (i < this.data.from || i >= this.data.from + this.data.frames.length) this.data = stage.data = await this.tell(i);
        stage.at = i;
        await this.growing.wait(i);
        stage.live.size(w, h);
        stage.live.show(stage.now, this.data.bodies);
        stage.live.look(stage.now.camera, w / h);
        stage.live.draw();
        pen.drawImage(stage.canvas, 0, 0, w, h);
      });
    } finally {
      [stage.w, stage.h] = size;
      timeline.go(was);
    }
  }

  unmount() {
    this.round++;
    this.endTrace();
    this.growing.dispose();
    this.timeline.dispose();
    this.stage.dispose();
    URL.revokeObjectURL(this.address);
    for (const k of ["shown", "live", "lit", "frame", "playing", "orders", "clip"]) delete document.body.dataset[k];
  }
}

// plainLamp is a lamp of the scene with the place and aim of another one: what the server
// tells of lamps may have moved.
const plainLamp = (moved, own) => ({ ...own, at: moved.at, aim: moved.aim ?? own.aim });

function recall(base) {
  try {
    return JSON.parse(localStorage.getItem(`bildhauer:show:${base}`) ?? "{}");
  } catch {
    return {};
  }
}
