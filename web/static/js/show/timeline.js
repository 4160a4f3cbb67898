// The timeline: a row for each thing that moves, its keys as pegs on a line, the time above.

import { withKey } from "../lib/acts.js";
import { coarse, drag, reach } from "../lib/drag.js";
import { el, plain, say } from "../lib/page.js";
import { gesture } from "../lib/keys.js";
import { exact, read } from "../lib/length.js";
import { rates } from "../made/terms.js";
import { jumps, movable, trackOf, valueAt } from "./ease.js";
import { KeyBox } from "./keybox.js";
import { moves } from "./moves.js";

const rowHigh = coarse ? 40 : 24;
const rulerHigh = rowHigh;
const pegSize = coarse ? 1.8 : 1;

// pegAt draws a key in a row that begins at y.
function pegAt(x, y) {
  const [w, h, tip] = [8, 9, 5].map((v) => v * pegSize);
  return `M${x - w / 2} ${y + (rowHigh - h - tip) / 2}h${w}v${h}l${-w / 2} ${tip}l${-w / 2} ${-tip}z`;
}
const margin = 12; // px before the first frame and after the last
const nameOf = (of, piece) =>
  ({ piece: "Piece", camera: "Camera", scene: "Scene" })[of] ?? piece.state.parts.find((p) => p.id === of)?.name ?? of;
const idOf = (t, k) => `${t.of}|${t.what}|${k.frame}`;

export class Timeline {
  // act is {piece, words, change(label, ...edits), go(frame, moving), lamps(), moved(answer),
  // still()}.
  constructor(act) {
    this.act = act;
    this.frame = 0;
    this.picked = new Set();
    this.playing = false;
    this.loop = true;
    this.drag = null;
    this.lasso = null; // the box drawn around keys
    this.build();
  }

  get motion() {
    return this.act.piece.state?.scene.motion ?? {};
  }

  get tracks() {
    return this.motion.tracks ?? [];
  }

  get rate() {
    return this.motion.rate || rates[0];
  }

  // frames is how long the clip is; what does not move yet has room for five seconds.
  get frames() {
    return this.motion.frames || 5 * this.rate;
  }

  build() {
    const button = (name, text, title, onclick) =>
      el("button", { type: "button", class: "plainbutton", "data-time": name, title, "aria-label": text.length > 2 ? null : title, onclick }, text);
    this.playButton = button("play", "Play", withKey("Play or stop", "show.play"), () => this.toggle());
    const loop = el("input", { type: "checkbox", "data-time": "loop", checked: true });
    loop.addEventListener("change", () => (this.loop = loop.checked));
    this.frameField = el("input", { class: "num", "data-time": "frame", inputmode: "numeric", "aria-label": "Frame" });
    this.frameField.addEventListener("change", () => this.go(Math.round(Number(this.frameField.value)) || 0));
    this.clock = el("span", { class: "clock" });
    this.seconds = el("input", { class: "num", "data-time": "seconds", inputmode: "decimal", "aria-label": "Duration in seconds" });
    this.seconds.addEventListener("change", () => this.last());
    this.along = el("input", { type: "checkbox", "data-time": "along", title: "Keys are stretched along when the duration changes" });
    this.rateChoice = el("select", { "data-time": "rate", "aria-label": "Frame rate" });
    this.rateChoice.append(...rates.map((r) => el("option", { value: r }, `${r} fps`)));
    this.rateChoice.addEventListener("change", () => this.act.change("Frame rate", { kind: "retime", rate: Number(this.rateChoice.value) }));
    const unit = (text) => el("span", { class: "soft" }, text);
    this.head = el(
      "div",
      { class: "timehead" },
      button("start", "|‹", withKey("To the first frame", "show.start"), () => this.go(0)),
      button("back", "‹", "One frame back (←)", () => this.go(this.frame - 1)),
      this.playButton,
      button("on", "›", "One frame on (→)", () => this.go(this.frame + 1)),
      (this.loopLabel = el("label", {}, loop, " loop", (this.loopNote = el("span", { class: "soft", "data-time": "meets" })))),
      this.frameField,
      this.clock,
      el("span", { class: "push" }),
      button("move", "Ready moves …", withKey("Turntable, rise, letter by letter …", "show.moves"), () => this.moves()),
      el("label", { class: "seconds" }, this.seconds, unit("s")),
      el("label", { title: "Keys are stretched along when the duration changes" }, this.along, " stretch"),
      this.rateChoice,
    );
    this.names = el("div", { class: "timenames" });
    const says = "Keys over time. Arrow keys step; with Alt they move the selected keys, up and down stretch them.";
    this.svg = el("svg", { class: "timerows", tabindex: 0, role: "group", "aria-label": says });
    this.rows = el("div", { class: "timescroll scroll" }, el("div", { class: "timegrid" }, this.names, this.svg));
    this.box = new KeyBox({ timeline: this });
    this.element = el("section", { class: "timeline", "aria-label": "Timeline" }, this.head, this.rows, this.box.element);
    this.svg.addEventListener("pointerdown", (e) => this.down(e));
    this.svg.addEventListener("dblclick", (e) => this.double(e));
    this.svg.addEventListener("keydown", (e) => this.keys(e));
    this.watch = new ResizeObserver(() => this.draw());
    this.watch.observe(this.rows);
  }

  dispose() {
    this.stop();
    this.watch.disconnect();
  }

  // update brings it up to a new state; keys that are gone are not selected any more.
  update() {
    const there = new Set(this.tracks.flatMap((t) => t.keys.map((k) => idOf(t, k))));
    this.picked = new Set([...this.picked].filter((id) => there.has(id)));
    this.rateChoice.value = String(this.rate);
    if (document.activeElement !== this.seconds) this.seconds.value = exact(this.frames / this.rate);
    this.box.note.textContent = this.tracks.length
      ? "Click a key to change it; drag a frame around several. With Alt a dragged key is copied."
      : "Nothing moves yet. Take a ready move, or choose here what is to move and set a key.";
    if (this.frame > this.frames) this.go(0);
    this.draw();
    this.sayLoop();
    this.say();
  }

  last() {
    const { value: s, why } = read(this.seconds.value, "s");
    if (why) {
      say(`${this.seconds.value}: ${why}.`, { bad: true });
      this.seconds.value = exact(this.frames / this.rate);
      return;
    }
    const frames = Math.round(s * this.rate);
    if (!(frames >= 1)) {
      say(`A clip lasts at least one frame, ${exact(1 / this.rate)} s.`, { bad: true });
      this.seconds.value = exact(this.frames / this.rate);
      return;
    }
    this.act.change("Duration", { kind: "retime", frames, stretch: this.along.checked });
  }

  // ---- time

  say() {
    if (document.activeElement !== this.frameField) this.frameField.value = String(Math.round(this.frame));
    this.clock.textContent = `of ${this.frames}, ${(this.frame / this.rate).toFixed(2)} s`;
    this.playButton.textContent = this.playing ? "Stop" : "Play";
    this.playButton.setAttribute("aria-pressed", String(this.playing));
    this.box.show();
  }

  // sayLoop says whether the frame after the last one is the first.
  sayLoop() {
    const open = jumps(this.tracks, this.motion.paths ?? [], this.frames);
    this.loopNote.textContent = open.length ? ", jumps" : "";
    const what = open.slice(0, 6).map((t) => `${nameOf(t.of, this.act.piece)} ${trackOf(t.what).label}`);
    if (open.length > 6) what.push(`${open.length - 6} more`);
    this.loopLabel.title = open.length ? `The frame after the last is not the first: ${what.join(", ")}` : "Loop";
  }

  go(frame, moving = false) {
    const n = this.frames;
    this.frame = Math.max(0, Math.min(n - 1, frame));
    this.place();
    this.say();
    this.act.go(this.frame, moving);
    document.body.dataset.frame = String(Math.round(this.frame));
  }

  toggle() {
    if (this.playing) this.stop();
    else this.play();
  }

  play() {
    if (this.playing) return;
    this.playing = true;
    document.body.dataset.playing = "1";
    let from = this.frame >= this.frames - 1 ? 0 : this.frame;
    let begun = performance.now();
    const step = () => {
      if (!this.playing) return;
      let f = Math.floor(from + ((performance.now() - begun) / 1000) * this.rate);
      if (f >= this.frames) {
        if (!this.loop) {
          this.go(this.frames - 1);
          this.stop();
          return;
        }
        [from, begun, f] = [0, performance.now(), 0];
      }
      if (f !== this.frame) this.go(f, true);
      this.ticking = requestAnimationFrame(step);
    };
    this.go(from, true);
    step();
  }

  stop() {
    if (!this.playing) return;
    this.playing = false;
    cancelAnimationFrame(this.ticking);
    delete document.body.dataset.playing;
    this.say();
    this.act.still();
  }

  // ---- drawing

  get wide() {
    return Math.max(120, this.svg.clientWidth || 600);
  }

  x(frame) {
    return margin + (frame / this.frames) * (this.wide - 2 * margin);
  }

  frameAt(x) {
    return ((x - margin) / (this.wide - 2 * margin)) * this.frames;
  }

  draw() {
    if (!this.act.piece.state) return;
    const high = rulerHigh + rowHigh * this.tracks.length;
    this.svg.setAttribute("height", high);
    this.svg.style.height = `${high}px`;
    const kids = [...this.ruler(high)];
    this.tracks.forEach((t, i) => kids.push(...this.row(t, rulerHigh + i * rowHigh)));
    kids.push(...this.span());
    this.hand = el("path", { class: "hand" });
    kids.push(this.hand);
    this.svg.replaceChildren(...kids);
    this.high = high;
    this.place();
    const names = this.tracks.map((t) => {
      const text = `Delete ${nameOf(t.of, this.act.piece)} ${trackOf(t.what).label}`;
      const drop = () => this.act.change(text, { kind: "dropKeys", keys: [{ of: t.of, what: t.what }] });
      const all = () => this.pick(t.keys.map((k) => idOf(t, k)));
      const label = `${nameOf(t.of, this.act.piece)} `;
      const into = t.into ? ` ${nameOf(t.into, this.act.piece)}` : "";
      return el(
        "div",
        { class: "timename" },
        el("button", { type: "button", title: "Select its keys", onclick: all }, label, el("i", {}, trackOf(t.what).label + into)),
        el("button", { type: "button", class: "dropkept", title: text, "aria-label": text, onclick: drop }, "✕"),
      );
    });
    this.names.replaceChildren(el("div", { class: "timename first soft" }, "seconds"), ...names);
  }

  place() {
    if (this.hand) this.hand.setAttribute("d", `M${this.x(this.frame)} 4v${this.high}m-5 ${-this.high}h10l-5 7z`);
  }

  ruler(high) {
    const out = [el("rect", { class: "rulerback", x: 0, y: 0, width: this.wide, height: rulerHigh })];
    const seconds = this.frames / this.rate;
    const room = (this.wide - 2 * margin) / seconds; // px a second
    const step = [0.1, 0.2, 0.5, 1, 2, 5, 10, 30, 60, 300].find((s) => s * room > 44) ?? 600;
    for (let s = 0; s <= seconds + 1e-9; s += step) {
      const x = this.x(s * this.rate);
      out.push(el("line", { class: "tick", x1: x, x2: x, y1: rulerHigh - 7, y2: high }));
      if (x < this.wide - 20) out.push(el("text", { x: x + 3, y: 15 }, String(Number(s.toFixed(2)))));
    }
    const end = this.x(this.frames);
    out.push(el("line", { class: "end", x1: end, x2: end, y1: 0, y2: high }));
    return out;
  }

  // row draws a track: what its value does, and its keys.
  row(t, y) {
    const out = [el("line", { class: "rowline", x1: 0, x2: this.wide, y1: y + rowHigh, y2: y + rowHigh })];
    const at = (k) => this.x(this.shifted(t, k));
    if (t.what !== "colour" && t.keys.length > 1) {
      const [a, b] = [t.keys[0].frame, t.keys.at(-1).frame];
      const values = Array.from({ length: 61 }, (_, i) => valueAt(t, a + ((b - a) * i) / 60));
      const [lo, hi] = [Math.min(...values), Math.max(...values)];
      const high = (v) => y + 18 - (hi > lo ? ((v - lo) / (hi - lo)) * 12 : 6);
      const line = values.map((v, i) => `${this.x(a + ((b - a) * i) / 60).toFixed(1)},${high(v).toFixed(1)}`);
      out.push(el("polyline", { class: "course", points: line.join(" ") }));
    }
    for (const k of t.keys) {
      const on = this.picked.has(idOf(t, k));
      const peg = el("path", { class: `peg${on ? " picked" : ""}`, d: pegAt(at(k), y), "data-key": idOf(t, k) });
      if (k.color) peg.style.fill = k.color;
      peg.append(el("title", {}, `Frame ${exact(k.frame)}: ${k.color || `${exact(k.value)} ${trackOf(t.what).unit}`}`));
      out.push(peg);
    }
    return out;
  }

  // shifted is where a key is while it is dragged.
  shifted(t, k) {
    const d = this.drag;
    if (!this.picked.has(idOf(t, k)) || (d?.kind !== "keys" && d?.kind !== "stretch")) return k.frame;
    if (d.kind === "keys") return k.frame + d.by;
    return d.about + (k.frame - d.about) * d.times;
  }

  // span is what several keys reach over, with a grip at each end.
  span() {
    const list = this.pickedFrames();
    const [a, b] = [Math.min(...list), Math.max(...list)];
    if (list.length < 2 || a === b) return [];
    const [xa, xb] = [this.x(a), this.x(b)];
    const grip = (x, which) => el("rect", { class: "grip", x: x - 4, y: 2, width: 8, height: rulerHigh - 6, "data-grip": which, rx: 2 });
    return [el("rect", { class: "spanbar", x: xa, y: 6, width: xb - xa, height: rulerHigh - 14 }), grip(xa, "from"), grip(xb, "to")];
  }

  pickedFrames() {
    return this.tracks.flatMap((t) => t.keys.filter((k) => this.picked.has(idOf(t, k))).map((k) => this.shifted(t, k)));
  }

  // ---- selecting and dragging

  pick(ids, how = "only") {
    if (how === "only") this.picked = new Set(ids);
    else for (const id of ids) if (!this.picked.delete(id)) this.picked.add(id);
    this.draw();
    this.say();
  }

  // chosen names the selected keys as edits want them.
  chosen() {
    return this.tracks
      .map((t) => ({ of: t.of, what: t.what, frames: t.keys.filter((k) => this.picked.has(idOf(t, k))).map((k) => k.frame) }))
      .filter((t) => t.frames.length);
  }

  spot(e) {
    const b = this.svg.getBoundingClientRect();
    return { x: e.clientX - b.left, y: e.clientY - b.top };
  }

  down(e) {
    if (e.button) return;
    const now = this.frame;
    this.svg.focus({ preventScroll: true });
    const at = this.spot(e);
    const key = e.target.dataset.key ?? this.keyBy(at, reach(e, 0));
    const grip = e.target.dataset.grip;
    if (grip) {
      const list = this.pickedFrames();
      const [a, b] = [Math.min(...list), Math.max(...list)];
      this.drag = { kind: "stretch", about: grip === "to" ? a : b, long: grip === "to" ? b - a : a - b, times: 1, from: this.frameAt(at.x) };
    } else if (key) {
      if (e.shiftKey || e.ctrlKey || e.metaKey) this.pick([key], "toggle");
      else if (!this.picked.has(key)) this.pick([key]);
      this.drag = { kind: "keys", from: this.frameAt(at.x), by: 0 };
    } else if (at.y < rulerHigh) {
      this.stop();
      this.drag = { kind: "scrub" };
      this.go(Math.round(this.frameAt(at.x)), true);
    } else {
      this.drag = { kind: "frame", x: at.x, y: at.y, add: e.shiftKey };
    }
    drag(e, this.svg, { move: (f) => this.move(f), end: (f) => this.up(f), undo: () => this.back(now) });
  }

  // keyBy returns the key that lies nearest to a place, within so many px.
  keyBy({ x, y }, far) {
    const t = this.tracks[Math.floor((y - rulerHigh) / rowHigh)];
    const keys = t?.keys.filter((k) => Math.abs(this.x(k.frame) - x) < far) ?? [];
    const nearest = keys.reduce((a, b) => (a && Math.abs(this.x(a.frame) - x) <= Math.abs(this.x(b.frame) - x) ? a : b), null);
    return nearest ? idOf(t, nearest) : undefined;
  }

  // back gives up a drag that began at a frame.
  back(frame) {
    const { kind } = this.drag;
    this.drag = null;
    this.lasso?.remove();
    if (kind === "scrub") this.go(frame);
    this.draw();
  }

  move(e) {
    const d = this.drag;
    const at = this.spot(e);
    const f = this.frameAt(at.x);
    if (d.kind === "scrub") this.go(Math.round(f), true);
    if (d.kind === "keys") {
      const least = Math.min(...this.chosen().flatMap((t) => t.frames));
      d.by = Math.max(-least, Math.round(f - d.from));
      d.copy = e.altKey;
      this.draw();
    }
    if (d.kind === "stretch") {
      const long = Math.max(1, Math.abs(Math.round(d.long + f - d.from)));
      d.times = Math.max(0.01, long / Math.abs(d.long));
      if (d.long < 0) d.times = Math.min(d.times, d.about / -d.long || d.times);
      this.draw();
    }
    if (d.kind === "frame") {
      const [x, y] = [Math.min(d.x, at.x), Math.min(d.y, at.y)];
      d.box = [x, y, Math.max(d.x, at.x), Math.max(d.y, at.y)];
      this.lasso ??= el("rect", { class: "lassobox" });
      for (const [k, v] of Object.entries({ x, y, width: d.box[2] - x, height: d.box[3] - y })) this.lasso.setAttribute(k, v);
      if (!this.lasso.isConnected) this.svg.append(this.lasso);
    }
  }

  up(e) {
    const d = this.drag;
    this.drag = null;
    this.lasso?.remove();
    if (d.kind === "scrub") this.act.still();
    if (d.kind === "keys" && d.by) this.shift(d.by, d.copy || e.altKey);
    else if (d.kind === "stretch" && d.times !== 1) this.stretch(d.about, d.times);
    else if (d.kind === "frame") {
      const ids = d.box ? this.inBox(d.box) : [];
      this.pick(d.add ? [...this.picked, ...ids] : ids);
    } else this.draw();
  }

  inBox([x0, y0, x1, y1]) {
    const out = [];
    this.tracks.forEach((t, i) => {
      const y = rulerHigh + i * rowHigh + rowHigh / 2;
      if (y < y0 || y > y1) return;
      for (const k of t.keys) if (this.x(k.frame) >= x0 && this.x(k.frame) <= x1) out.push(idOf(t, k));
    });
    return out;
  }

  double(e) {
    const at = this.spot(e);
    const t = this.tracks[Math.floor((at.y - rulerHigh) / rowHigh)];
    if (!t || e.target.dataset.key) return;
    const frame = Math.max(0, Math.round(this.frameAt(at.x)));
    this.setKey(t.of, t.what, { frame, value: Number(valueAt(t, frame).toFixed(3)), color: t.keys.at(-1).color });
  }

  // ---- acts

  label(what) {
    const n = this.picked.size;
    return `${what} ${n === 1 ? "a key" : `${n} keys`}`;
  }

  async shift(by, copy) {
    const keys = this.chosen();
    const moved = keys.flatMap((t) => t.frames.map((f) => `${t.of}|${t.what}|${f + by}`));
    if (await this.act.change(this.label(copy ? "Copy" : "Move"), { kind: "moveKeys", keys, by, copy })) this.pick(moved);
  }

  async stretch(about, times) {
    const keys = this.chosen();
    const moved = keys.flatMap((t) => t.frames.map((f) => `${t.of}|${t.what}|${about + (f - about) * times}`));
    if (await this.act.change(this.label("Stretch"), { kind: "moveKeys", keys, about, times })) this.pick(moved);
  }

  // longer stretches the span of the selected keys by so many frames, from its beginning.
  longer(e, by) {
    const list = this.pickedFrames();
    const [a, b] = [Math.min(...list), Math.max(...list)];
    if (b <= a || b - a + by < 1) return;
    const times = this.drag?.kind === "stretch" ? this.drag.times : 1;
    this.drag = { kind: "stretch", about: a, times: (times * (b - a + by)) / (b - a) };
    this.draw();
    gesture(e, this.svg, () => this.up({}));
  }

  // later moves the selected keys by so many frames.
  later(e, by) {
    if (!this.picked.size) return;
    const least = Math.min(...this.chosen().flatMap((t) => t.frames));
    const had = this.drag?.kind === "keys" ? this.drag.by : 0;
    this.drag = { kind: "keys", by: Math.max(-least, had + by) };
    this.draw();
    gesture(e, this.svg, () => this.up({}));
  }

  drop() {
    if (this.picked.size) this.act.change(this.label("Delete"), { kind: "dropKeys", keys: this.chosen() });
  }

  // copyHere copies the selected keys so that the first comes at the frame that is shown.
  copyHere() {
    const first = Math.min(...this.chosen().flatMap((t) => t.frames));
    this.shift(Math.round(this.frame) - first, true);
  }

  // ease tells how the chosen keys lead on; more is the curve of a drawn way, or how a spring swings.
  ease(ease, more = {}) {
    this.act.change(this.label("Easing of"), { kind: "easeKeys", keys: this.chosen(), ease, ...more });
  }

  async setKey(of, what, key, into) {
    /** @type {object[]} */
    const edits = [{ kind: "key", of, what, key, into }];
    if (!this.motion.frames) edits.push({ kind: "retime", frames: this.frames });
    const name = `Key of ${nameOf(of, this.act.piece)}`;
    if (await this.act.change(name, ...edits)) this.pick([`${of}|${what}|${key.frame}`]);
  }

  // setHere sets a key of what is chosen below at the frame that is shown; into is the part that a part becomes.
  setHere(of, what, into) {
    const t = this.tracks.find((o) => o.of === of && o.what === what);
    const frame = Math.round(this.frame);
    const value = t ? Number(valueAt(t, frame).toFixed(3)) : trackOf(what).rest;
    const part = this.act.piece.state.parts.find((p) => p.id === of);
    const color = what === "colour" ? (t?.keys.at(-1).color ?? part?.color ?? "#c98a4b") : undefined;
    return this.setKey(of, what, { frame, value, color }, what === "becoming" ? into : undefined);
  }

  // things lists what can move: id, name, kind.
  things() {
    const parts = this.act.piece.state.parts.filter((p) => !p.out && p.host === p.id);
    return [
      ["piece", "The piece", "part"],
      ...parts.map((p) => [p.id, p.name, "part"]),
      ["camera", "Camera", "camera"],
      ["scene", "Scene", "scene"],
      ...this.act.lamps().map((l) => [l.name, `Lamp ${l.name}`, "lamp"]),
    ].map(([id, name, kind]) => ({ id, name, kind, what: movable(kind).filter((w) => this.possible(id, w)) }));
  }

  // possible reports whether something can move so: along a path only where there is one, and the piece becomes nothing
  // else.
  possible(id, what) {
    if (what === "along") return (this.motion.paths ?? []).some((p) => p.of === id);
    return what !== "becoming" || id !== "piece";
  }

  // moves opens the ready moves; of is who is to move, where somebody has chosen before.
  moves(of) {
    this.askedOf = of;
    moves({ timeline: this, piece: this.act.piece, moved: this.act.moved, pick: this.act.pick });
  }

  // walk selects the key after or before the last selected one, row by row; with add beside it.
  walk(by, add) {
    const all = this.tracks.flatMap((t) => t.keys.map((k) => idOf(t, k)));
    if (!all.length) return;
    const at = all.indexOf([...this.picked].at(-1));
    const next = all[(at + by + all.length + (at < 0 && by < 0 ? 1 : 0)) % all.length];
    this.pick(add ? [...this.picked, next] : [next]);
    this.go(Number(next.split("|").at(-1)));
  }

  keys(e) {
    if (!plain(e) && !e.altKey && !((e.ctrlKey || e.metaKey) && e.key === "a")) return;
    const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    const step = e.shiftKey ? 10 : 1;
    const longer = { ArrowUp: 1, ArrowDown: -1 }[e.key];
    if (longer && e.altKey) this.longer(e, longer * step);
    else if (by && e.altKey) this.later(e, by * step);
    else if (by) this.go(Math.round(this.frame) + by * step);
    else if (e.key === "Home") this.go(0);
    else if (e.key === "End") this.go(this.frames - 1);
    else if (e.key === "Delete" || e.key === "Backspace") this.drop();
    else if (e.key === "Escape") this.pick([]);
    else if ([",", ".", "<", ">", ";", ":"].includes(e.key)) this.walk([".", ">", ":"].includes(e.key) ? 1 : -1, e.shiftKey);
    else if (e.key === "a" && (e.ctrlKey || e.metaKey)) this.pick(this.tracks.flatMap((t) => t.keys.map((k) => idOf(t, k))));
    else return;
    e.preventDefault();
    e.stopPropagation();
  }
}
