// Pictures and clips: what is to be made, and the list of what was.

import { withKey } from "../lib/acts.js";
import { get, post } from "../lib/api.js";
import { field, listOf, usual } from "../lib/field.js";
import { count, duration } from "../lib/length.js";
import { complain, el, hand, say } from "../lib/page.js";
import { ratioOf } from "./cameras.js";
import { dots, drawsSolids } from "../stand/painter.js";
import { even, kindFor, record } from "./clip.js";

const stateNames = { waiting: "waits", running: "is made", done: "", stopped: "stopped", failed: "failed" };

// sizeOf returns the pixels of a picture whose longer side is given.
export function sizeOf(ratio, side) {
  return ratio >= 1
    ? { width: side, height: Math.max(1, Math.round(side / ratio)) }
    : { width: Math.max(1, Math.round(side * ratio)), height: side };
}

// hasClear reports whether anything of a picture is clear.
function hasClear(image, w, h) {
  const pen = new OffscreenCanvas(w, h).getContext("2d");
  pen.drawImage(image, 0, 0, w, h);
  image.close();
  const { data } = pen.getImageData(0, 0, w, h);
  for (let i = 3; i < data.length; i += 4) if (data[i] < 255) return true;
  return false;
}

// results makes the panel. act is {piece, stage, frame(), timeline, scene(patch, label), drawn(w, h, f)}.
export const results = (act) => new Results(act);

const button = (name, text, title, kind, onclick) =>
  el("button", { class: `button ${kind} is-fullwidth mt-2`, type: "button", "data-act": name, title, onclick }, text);
const small = (name, text, title, onclick) =>
  el("button", { class: "plainbutton", type: "button", "data-order": name, title, onclick }, text);
const link = (name, text, href) => el("a", { class: "plainbutton", "data-order": name, href, download: "" }, text);
const part = (heading, ...rows) => el("section", { class: "showgroup" }, el("h2", {}, heading), ...rows);

class Results {
  constructor(act) {
    this.act = act;
    this.piece = act.piece;
    this.values = { side: usual("picture.side"), from: 0, to: 0, n: 0 };
    this.list = el("ul", { class: "orders", "aria-label": "Results" });
    this.element = el("div", {}, part("Picture", ...this.picture()), part("Clip", ...this.clip()), part("Results", this.list));
  }

  get motion() {
    return this.piece.state.scene.motion ?? {};
  }

  picture() {
    const { values } = this;
    const side = field({ of: "picture.side", name: "side", value: values.side, done: (v) => (values.side = v) });
    this.quality = listOf("quality", "quality", () => {});
    this.quality.set("good");
    this.format = listOf("format", "pictureFormat", () => this.show());
    this.passes = el("input", { type: "checkbox", "data-scene": "passes" });
    this.passRow = el("label", { class: "checkline" }, this.passes, " with depth, normals, shadow and a mask for each part");
    this.raw = el("input", { type: "checkbox", "data-scene": "raw" });
    const rawRow = el("label", { class: "checkline" }, this.raw, " leave the noise in");
    this.make = button("make-picture", "Make the picture", withKey("At the frame that is shown", "show.picture"), "is-primary", () => this.order({}));
    return [side.row, this.quality.row, this.format.row, this.passRow, rawRow, this.make];
  }

  clip() {
    const { values } = this;
    const frame = (key) => field({ of: `picture.${key}`, name: key, value: 0, done: (v) => (values[key] = v) });
    this.from = frame("from");
    this.to = frame("to");
    // How long the shutter is open: as a share of a frame, or as the angle of a turning shutter, of which a frame is 360°.
    const open = (v) => this.act.scene({ motion: { ...this.motion, shutter: v } }, "Motion blur");
    this.shutter = field({ of: "shutter", value: 0, done: open });
    this.angle = field({ of: "shutter.angle", name: "shutter-angle", value: 0, done: open });
    this.frames = button("make-frames", "Make the frames", "Numbered pictures, as a ZIP or a clip", "", () =>
      this.order({ clip: true, from: values.from, to: values.to }),
    );
    const test = button("test-clip", "Test clip of the live view", "At once, in the browser", "", () => this.testClip());
    this.kind = listOf("clip-kind", "clip", () => {});
    this.ofClips = [this.shutter.row, this.angle.row, this.from.row, this.to.row, this.frames, this.kind.row, test];
    return this.ofClips;
  }

  // order orders once, however often it is asked for meanwhile.
  async order(extra) {
    if (this.make.disabled) return null;
    this.make.disabled = this.frames.disabled = true;
    const format = this.format.input.value;
    const spec = {
      ...sizeOf(ratioOf(this.piece.state.scene.camera?.aspect), this.values.side),
      quality: this.quality.input.value,
      format,
      raw: this.raw.checked,
      passes: this.passes.checked && format === "exr",
      frame: this.act.frame(),
      ...extra,
    };
    try {
      const { id } = await post(`${this.piece.base}/orders`, spec);
      await this.refresh();
      return id;
    } catch (e) {
      complain(e);
      return null;
    } finally {
      this.make.disabled = this.frames.disabled = false;
    }
  }

  // testClip plays the live view frame by frame into a file.
  async testClip() {
    const { act, piece } = this;
    const n = this.motion.frames;
    if (!n) return say("Nothing moves yet: take a ready move first.", { bad: true });
    const { width, height } = sizeOf(ratioOf(piece.state.scene.camera?.aspect), 640);
    const [w, h] = [even(width), even(height)];
    const k = drawsSolids() && (await kindFor(w, h, this.kind.input.value));
    if (!k) {
      say("This browser draws or encodes no clips; quick frames are made instead, which can be saved as an APNG.");
      return this.order({ ...sizeOf(w / h, dots(480)), quality: "draft", samples: 4, format: "png8", clip: true, from: 0, to: n - 1 });
    }
    const clear = piece.state.scene.backdrop?.kind === "clear";
    const how = { width: w, height: h, rate: act.timeline.rate, frames: n, kind: k, clear };
    return this.recorded("Making the test clip", `${piece.state.name}.${k.ending}`, (job) =>
      act.drawn(w, h, (draw) => record({ ...how, draw, progress: (s) => job.report(s), signal: job.signal })),
    );
  }

  // clipOf makes a clip of finished frames.
  async clipOf(o) {
    const [w, h] = [even(o.spec.width), even(o.spec.height)];
    const k = await kindFor(w, h, this.kind.input.value);
    if (!k) return say("This browser encodes no clips; take the frames as a ZIP or an APNG.", { bad: true });
    const frameOf = async (i) => {
      const r = await fetch(`${this.piece.base}/orders/${o.id}/${i}`);
      if (!r.ok) throw new Error("A frame of this clip could not be read.");
      return createImageBitmap(await r.blob());
    };
    const draw = async (i, pen) => {
      const image = await frameOf(i);
      pen.drawImage(image, 0, 0, w, h);
      image.close();
    };
    return this.recorded("Making the clip", `${o.name}.${k.ending}`, async (job) => {
      const clear = hasClear(await frameOf(0), w, h);
      const how = { width: w, height: h, rate: o.rate, frames: o.done, kind: k, draw, clear };
      return record({ ...how, progress: (s) => job.report(s), signal: job.signal });
    });
  }

  // recorded makes a clip as a job and hands it over as a file.
  async recorded(title, name, make) {
    try {
      const blob = await this.piece.run(title, make);
      hand({ name, blob });
      document.body.dataset.clip = String(blob.size);
    } catch (e) {
      if (e.name !== "AbortError") complain(e);
    }
  }

  row(o) {
    const facts = [
      `${o.spec.width} × ${o.spec.height} px, ${o.spec.quality || `${o.spec.samples} samples`}`,
      o.bytes ? `${(o.bytes / 1e6).toFixed(1)} MB` : "",
      stateNames[o.state],
    ].filter(Boolean);
    const bar = el("progress", { class: "progress is-small is-primary", max: 1, value: (o.done + o.share) / o.total, "aria-label": "How far it is" });
    bar.hidden = o.state !== "running" && o.state !== "waiting";
    const far = o.spec.clip ? `${o.done} of ${o.total} frames, ` : "";
    const left = o.state === "running" ? far + (o.left ? `${duration(o.left)} left` : "begins") : "";
    return el(
      "li",
      { class: `order ${o.state}`, "data-id": o.id, "data-state": o.state, "data-done": o.done },
      this.look(o),
      el(
        "div",
        {},
        el("b", {}, o.spec.clip ? `${count(o.total)} ${o.total === 1 ? "frame" : "frames"}` : "Picture"),
        el("p", { class: "soft" }, facts.join(", ")),
        el("p", { class: "soft" }, o.note || left),
        bar,
        el("div", { class: "orderacts" }, ...this.acts(o)),
      ),
    );
  }

  // look is the picture beside an order: its last one that is finished, or how far it is.
  look(o) {
    const base = `${this.piece.base}/orders/${o.id}`;
    const finished = o.spec.format.startsWith("png") && o.done ? `${base}/${o.spec.clip ? o.done - 1 : 0}` : null;
    const look = finished ?? (o.look && !o.spec.clip ? `${base}/look?${o.share}` : null);
    const image = el("img", { alt: "", width: 86, height: 56, loading: "lazy" });
    if (look) image.src = look;
    else image.hidden = true;
    return image;
  }

  acts(o) {
    const base = `${this.piece.base}/orders/${o.id}`;
    const png = o.spec.format.startsWith("png");
    const busy = o.state === "running" || o.state === "waiting";
    const over = o.state === "stopped" || o.state === "failed";
    const post_ = (what) => async () => this.draw(await post(`${base}/${what}`));
    const use = () => this.piece.changeBy(() => post(`${base}/use?base=${this.piece.state.rev}`));
    return [
      busy && small("stop", o.spec.clip ? "Stop" : "Keep as it is", "End the work; what is there stays", post_("stop")),
      over && small("resume", "Resume", "Make what is missing", post_("resume")),
      !o.spec.clip && o.done > 0 && link("save", "Save", `${base}/0?save=1`),
      o.spec.clip && o.done > 0 && link("zip", "ZIP", `${base}/frames.zip`),
      o.spec.clip && png && o.done > 1 && small("clip", "Clip", "WebM or MP4, made in the browser", () => this.clipOf(o)),
      o.spec.clip && png && o.done > 1 && link("apng", "APNG", `${base}/clip.png`),
      small("use", "Use its scene", "The scene that it was made by, as a new step", use),
      small("remove", "Delete", "Delete it and its files", post_("remove")),
    ].filter(Boolean);
  }

  draw({ orders }) {
    this.list.replaceChildren(...orders.map((o) => this.row(o)));
    if (!orders.length) this.list.append(el("li", { class: "soft" }, "Nothing has been made yet."));
    document.body.dataset.orders = JSON.stringify(orders.map((o) => o.state));
  }

  async refresh() {
    try {
      this.draw(await get(`${this.piece.base}/data/orders`));
    } catch (e) {
      complain(e);
    }
  }

  show() {
    const n = this.motion.frames ?? 0;
    this.passRow.hidden = this.format.input.value !== "exr";
    for (const f of [this.shutter, this.angle]) f.set(this.motion.shutter ?? 0);
    for (const e of this.ofClips) e.hidden = !n;
    if (!n || n === this.values.n) return;
    Object.assign(this.values, { n, from: 0, to: n - 1 });
    this.from.set(0);
    this.to.set(n - 1);
  }
}
