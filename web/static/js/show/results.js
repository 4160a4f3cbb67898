// Pictures and clips: what is to be made, and the list of what was.

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

// results makes the panel. act is {piece, stage, frame(), timeline}.
export function results(act) {
  const { piece } = act;
  const motion = () => piece.state.scene.motion ?? {};
  const isClear = () => piece.state.scene.backdrop?.kind === "clear";
  const values = { side: usual("picture.side"), from: 0, to: 0 };
  const side = field({ of: "picture.side", name: "side", value: values.side, done: (v) => (values.side = v) });
  const quality = listOf("quality", "quality", () => {});
  quality.set("good");
  const format = listOf("format", "pictureFormat", () => show());
  const passes = el("input", { type: "checkbox", "data-scene": "passes" });
  const passRow = el("label", { class: "checkline" }, passes, " with depth, normals, shadow and a mask for each part");
  const raw = el("input", { type: "checkbox", "data-scene": "raw" });
  const rawRow = el("label", { class: "checkline" }, raw, " leave the noise in");
  const button = (name, text, title, primary, onclick) =>
    el("button", { class: `button ${primary ? "is-primary" : ""} is-fullwidth mt-2`, type: "button", "data-act": name, title, onclick }, text);
  const make = button("make-picture", "Make the picture", "Ctrl Enter", true, () => order({}));
  const from = field({ of: "picture.from", name: "from", value: 0, done: (v) => (values.from = v) });
  const to = field({ of: "picture.to", name: "to", value: 0, done: (v) => (values.to = v) });
  // How long the shutter is open: as a share of a frame, or as the angle of a turning shutter, of which a frame is 360°.
  const open = (v) => act.scene({ motion: { ...motion(), shutter: v } }, "Motion blur");
  const shutter = field({ of: "shutter", value: 0, done: open });
  const angle = field({ of: "shutter.angle", name: "shutter-angle", value: 0, done: open });
  const clip = button("make-frames", "Make the frames", "Numbered pictures, as a ZIP or a clip", false, () =>
    order({ clip: true, from: values.from, to: values.to }),
  );
  const test = button("test-clip", "Test clip of the live view", "At once, in the browser", false, () => testClip());
  const kind = listOf("clip-kind", "clip", () => {});
  const list = el("ul", { class: "orders", "aria-label": "Results" });

  // order orders once, however often it is asked for meanwhile.
  const order = async (extra) => {
    if (make.disabled) return null;
    make.disabled = clip.disabled = true;
    const spec = {
      ...sizeOf(ratioOf(piece.state.scene.camera?.aspect), values.side),
      quality: quality.input.value,
      format: format.input.value,
      raw: raw.checked,
      passes: passes.checked && format.input.value === "exr",
      frame: act.frame(),
      ...extra,
    };
    try {
      const { id } = await post(`${piece.base}/orders`, spec);
      await refresh();
      return id;
    } catch (e) {
      complain(e);
      return null;
    } finally {
      make.disabled = clip.disabled = false;
    }
  };

  // testClip plays the live view frame by frame into a file.
  const testClip = async () => {
    const n = motion().frames;
    if (!n) return say("Nothing moves yet: take a ready move first.", { bad: true });
    const { width, height } = sizeOf(ratioOf(piece.state.scene.camera?.aspect), 640);
    const [w, h] = [even(width), even(height)];
    const k = drawsSolids() && (await kindFor(w, h, kind.input.value));
    if (!k) {
      say("This browser draws or encodes no clips; quick frames are made instead, which can be saved as an APNG.");
      return order({ ...sizeOf(w / h, dots(480)), quality: "draft", samples: 4, format: "png8", clip: true, from: 0, to: n - 1 });
    }
    try {
      const blob = await piece.run("Making the test clip", (job) =>
        act.drawn(w, h, (draw) =>
          record({
            ...{ width: w, height: h, rate: act.timeline.rate, frames: n, kind: k, draw, clear: isClear() },
            ...{ progress: (s) => job.report(s), signal: job.signal },
          }),
        ),
      );
      hand({ name: `${piece.state.name}.${k.ending}`, blob });
      document.body.dataset.clip = String(blob.size);
    } catch (e) {
      if (e.name !== "AbortError") complain(e);
    }
  };

  // clipOf makes a clip of finished frames.
  const clipOf = async (o) => {
    const [w, h] = [even(o.spec.width), even(o.spec.height)];
    const k = await kindFor(w, h, kind.input.value);
    if (!k) return say("This browser encodes no clips; take the frames as a ZIP or an APNG.", { bad: true });
    const frameOf = async (i) => {
      const r = await fetch(`${piece.base}/orders/${o.id}/${i}`);
      if (!r.ok) throw new Error("A frame of this clip could not be read.");
      return createImageBitmap(await r.blob());
    };
    const draw = async (i, pen) => {
      const image = await frameOf(i);
      pen.drawImage(image, 0, 0, w, h);
      image.close();
    };
    try {
      const clear = hasClear(await frameOf(0), w, h);
      const blob = await piece.run("Making the clip", (job) =>
        record({ width: w, height: h, rate: o.rate, frames: o.done, kind: k, draw, clear, progress: (s) => job.report(s), signal: job.signal }),
      );
      hand({ name: `${o.name}.${k.ending}`, blob });
      document.body.dataset.clip = String(blob.size);
    } catch (e) {
      if (e.name !== "AbortError") complain(e);
    }
  };

  const actOn = (o, what) => async () => {
    try {
      draw(await post(`${piece.base}/orders/${o.id}/${what}`));
    } catch (e) {
      complain(e);
    }
  };

  const row = (o) => {
    const base = `${piece.base}/orders/${o.id}`;
    const png = o.spec.format.startsWith("png");
    const small = (name, text, title, onclick) =>
      el("button", { class: "plainbutton", type: "button", "data-order": name, title, onclick }, text);
    const link = (name, text, href) => el("a", { class: "plainbutton", "data-order": name, href, download: "" }, text);
    const busy = o.state === "running" || o.state === "waiting";
    const finished = png && o.done ? `${base}/${o.spec.clip ? o.done - 1 : 0}` : null;
    const look = finished ?? (o.look && !o.spec.clip ? `${base}/look?${o.share}` : null);
    const image = el("img", { alt: "", width: 86, height: 56, loading: "lazy" });
    if (look) image.src = look;
    else image.hidden = true;
    const what = o.spec.clip ? `${count(o.total)} ${o.total === 1 ? "frame" : "frames"}` : "Picture";
    const size = `${o.spec.width} × ${o.spec.height} px, ${o.spec.quality || `${o.spec.samples} samples`}`;
    const facts = [size, o.bytes ? `${(o.bytes / 1e6).toFixed(1)} MB` : "", stateNames[o.state]].filter(Boolean).join(", ");
    const share = (o.done + o.share) / o.total;
    const bar = el("progress", { class: "progress is-small is-primary", max: 1, value: share });
    bar.hidden = !busy;
    const far = o.spec.clip ? `${o.done} of ${o.total} frames, ` : "";
    const left = o.state === "running" ? far + (o.left ? `${duration(o.left)} left` : "begins") : "";
    const acts = [
      busy && small("stop", o.spec.clip ? "Stop" : "Keep as it is", "End the work; what is there stays", actOn(o, "stop")),
      (o.state === "stopped" || o.state === "failed") && small("resume", "Resume", "Make what is missing", actOn(o, "resume")),
      !o.spec.clip && o.done > 0 && link("save", "Save", `${base}/0?save=1`),
      o.spec.clip && o.done > 0 && link("zip", "ZIP", `${base}/frames.zip`),
      o.spec.clip && png && o.done > 1 && small("clip", "Clip", "WebM or MP4, made in the browser", () => clipOf(o)),
      o.spec.clip && png && o.done > 1 && link("apng", "APNG", `${base}/clip.png`),
      small("use", "Use its scene", "The scene that it was made by, as a new step", () =>
        piece.changeBy(() => post(`${base}/use?base=${piece.state.rev}`)),
      ),
      small("remove", "Delete", "Delete it and its files", actOn(o, "remove")),
    ].filter(Boolean);
    return el(
      "li",
      { class: `order ${o.state}`, "data-id": o.id, "data-state": o.state, "data-done": o.done },
      image,
      el(
        "div",
        {},
        el("b", {}, what),
        el("p", { class: "soft" }, facts),
        el("p", { class: "soft" }, o.note || left),
        bar,
        el("div", { class: "orderacts" }, ...acts),
      ),
    );
  };

  const draw = ({ orders }) => {
    list.replaceChildren(...orders.map(row));
    if (!orders.length) list.append(el("li", { class: "soft" }, "Nothing has been made yet."));
    document.body.dataset.orders = JSON.stringify(orders.map((o) => o.state));
  };
  const refresh = async () => {
    try {
      draw(await get(`${piece.base}/data/orders`));
    } catch (e) {
      complain(e);
    }
  };
  const show = () => {
    const n = motion().frames ?? 0;
    passRow.hidden = format.input.value !== "exr";
    for (const f of [shutter, angle]) f.set(motion().shutter ?? 0);
    for (const e of [shutter.row, angle.row, clip, from.row, to.row, test, kind.row]) e.hidden = !n;
    if (n && n !== values.n) {
      [values.n, values.from, values.to] = [n, 0, n - 1];
      from.set(0);
      to.set(n - 1);
    }
  };
  const part = (heading, ...rows) => el("section", { class: "showgroup" }, el("h2", {}, heading), ...rows);
  const element = el(
    "div",
    {},
    part("Picture", side.row, quality.row, format.row, passRow, rawRow, make),
    part("Clip", shutter.row, angle.row, from.row, to.row, clip, kind.row, test),
    part("Results", list),
  );
  return { element, show, refresh, order };
}
