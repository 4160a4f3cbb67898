// Show: the picture as it will be, and what it is made of: material, light, what is behind,
// camera.

import { postBinary } from "../lib/api.js";
import { el, hand, say } from "../lib/page.js";
import { known } from "../lib/known.js";
import { fields } from "./fields.js";

export const keys = [["Ctrl Enter", "Make the picture"]];

// How a preview gets finer: width in px and samples of a pixel.
const looks = [
  [400, 3],
  [800, 8],
];

// ratioOf returns width to height of an aspect.
export function ratioOf(aspect) {
  const [w, h] = (aspect || "16:9").split(":").map(Number);
  return w > 0 && h > 0 ? w / h : 16 / 9;
}

// sizeOf returns the pixels of a picture whose longer side is given.
function sizeOf(ratio, side) {
  return ratio >= 1
    ? { width: side, height: Math.max(1, Math.round(side / ratio)) }
    : { width: Math.max(1, Math.round(side * ratio)), height: side };
}

export function mount(ctx) {
  const { piece, view, panel } = ctx;
  const image = el("img", { alt: "The piece as it will be", hidden: true });
  const note = el("p", { class: "shownote soft" }, "The first picture comes in a moment.");
  view.append(el("div", { class: "showview" }, image, note));

  let round = 0;
  let abort = null;
  let address = "";
  const fetch = (size, samples) => (job) => {
    abort = job.abort;
    return postBinary(`${piece.base}/data/picture`, { ...size, samples }, job);
  };
  const put = (bytes) => {
    URL.revokeObjectURL(address);
    address = URL.createObjectURL(new Blob([bytes], { type: "image/png" }));
    image.src = address;
    image.hidden = false;
  };
  // preview shows a rough picture at once, then a finer one; a change begins anew.
  const preview = async () => {
    const mine = ++round;
    abort?.();
    delete document.body.dataset.shown;
    const ratio = ratioOf(piece.state.scene.camera?.aspect);
    image.style.setProperty("--ratio", ratio);
    try {
      for (const [i, [side, samples]] of looks.entries()) {
        const begin = performance.now();
        const text = i ? "Making it finer" : "Making the picture";
        const stopped = () => (note.textContent = "Stopped; what is there stays.");
        const bytes = await piece.run(text, fetch(sizeOf(ratio, side), samples), { onCancel: stopped });
        if (mine !== round) return;
        put(bytes);
        const seconds = ((performance.now() - begin) / 1000).toFixed(1);
        note.textContent = `${i ? "Preview" : "Rough preview"}, ${samples} samples a pixel, ${seconds} s`;
        document.body.dataset.shown = i ? "fine" : "rough";
      }
    } catch (e) {
      if (mine !== round || e.name === "AbortError" || e.kind === "cancelled") return;
      note.textContent = e.message;
      document.body.dataset.shown = "failed";
    }
  };

  const make = async () => {
    const mine = ++round;
    abort?.();
    const size = sizeOf(ratioOf(piece.state.scene.camera?.aspect), Number(form.side()));
    try {
      const bytes = await piece.run("Making the picture", fetch(size, Number(form.samples())), {
        onCancel: () => say("No picture was made."),
      });
      if (mine === round) put(bytes);
      hand({ name: `${piece.state.name}.png`, blob: new Blob([bytes], { type: "image/png" }) });
      note.textContent = `${size.width} by ${size.height} px, ${form.samples()} samples a pixel`;
      document.body.dataset.shown = "made";
    } catch (e) {
      if (e.name !== "AbortError" && e.kind !== "cancelled") piece.complain(e);
    }
  };

  const form = fields({
    piece,
    words: known.scene,
    make,
    scene: (patch, label) => piece.change(label, { kind: "scene", ...patch }),
    paint: (faces, material, label) => {
      const some = piece.pickedSome();
      const parts = some ? piece.picked().map((p) => p.id) : [];
      const who = some ? piece.picked().map((p) => p.name).join(", ") : "all parts";
      piece.change(`${label} of ${who}`, { kind: "paint", parts, faces, material });
    },
  });
  panel.append(form.element);
  ctx.on(document, "keydown", (e) => {
    if (e.key !== "Enter" || !(e.ctrlKey || e.metaKey)) return;
    e.preventDefault();
    make();
  });

  let shown = null;
  return {
    update(state) {
      form.show();
      if (state.problem) {
        note.textContent = state.problem;
        image.hidden = true;
        document.body.dataset.shown = "failed";
        return;
      }
      const key = JSON.stringify([state.scene, state.parts.map((p) => [p.key, p.color, p.out]), state.size]);
      if (key !== shown) preview();
      shown = key;
    },
    select: () => form.show(),
    unmount() {
      round++;
      abort?.();
      URL.revokeObjectURL(address);
      delete document.body.dataset.shown;
    },
  };
}
