// Where the browser draws no 3D, views show pictures that the server makes.

import { complain } from "../lib/page.js";
import { postBinary } from "../lib/api.js";
import { run } from "../frame/jobs.js";

let has;

// drawsSolids reports whether the browser draws 3D (WebGL 2) by itself.
export function drawsSolids() {
  if (has === undefined) {
    const gl = document.createElement("canvas").getContext("webgl2");
    has = !!gl;
    gl?.getExtension("WEBGL_lose_context")?.loseContext();
  }
  return has;
}

const pause = 250; // ms without a change before a picture is asked for
const looks = [ // px of the longer side and samples a pixel: soon, then well
  [320, 4],
  [760, 8],
];

// dots returns how many pixels the longer side of a picture gets: fewer where the screen shows a pixel
// of the page by less than one of its own.
export const dots = (side) => Math.round(side * Math.min(1, devicePixelRatio));

// seenFrom returns a picture of a piece as an ImageBitmap. view is what the server takes (studio,
// Seen), but for the size; look is one of looks.
export async function seenFrom(base, [w, h], view, job, [most, samples] = looks[0]) {
  const k = Math.min(1, dots(most) / Math.max(w, h));
  const body = { width: Math.max(1, Math.round(w * k)), height: Math.max(1, Math.round(h * k)), samples, ...view };
  return createImageBitmap(new Blob([await postBinary(`${base}/data/seen`, body, job)], { type: "image/png" }));
}

// Painter takes the place of a renderer: view() tells from where the piece is seen, or null.
export class Painter {
  constructor(base, view) {
    this.base = base;
    this.view = view;
    this.domElement = document.createElement("canvas");
    this.pen = this.domElement.getContext("2d");
    this.round = 0;
    this.shown = "";
    /** @type {[number, number] | null} */
    this.size = null;
  }

  setPixelRatio() {}

  setSize(w, h) {
    this.size = [w, h];
  }

  // render asks for a picture when nothing changes for a moment; the one of before stays meanwhile.
  render() {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.paint(), pause);
  }

  async paint() {
    const { size } = this;
    const view = this.view();
    const key = JSON.stringify([view, size]);
    if (!view || !size || key === this.shown) return;
    const mine = ++this.round;
    this.abort?.();
    this.shown = key;
    try {
      for (const look of looks) {
        const image = await run("Drawing the view", (job) => {
          this.abort = job.abort;
          return seenFrom(this.base, size, view.seen, job, look);
        });
        if (mine !== this.round) return;
        this.domElement.width = size[0];
        this.domElement.height = size[1];
        this.pen.drawImage(image, 0, 0, size[0], size[1]);
        document.body.dataset.painted = String(Number(document.body.dataset.painted ?? 0) + 1);
      }
    } catch (e) {
      if (mine === this.round) this.shown = "";
      complain(e);
    }
  }

  dispose() {
    this.round++;
    clearTimeout(this.timer);
    this.abort?.();
  }
}

// idle takes the place of a renderer that draws nothing: everything may be asked of it.
export const idle = (canvas) =>
  new Proxy(
    { domElement: canvas, shadowMap: {}, getContext: () => ({ finish() {} }) },
    { get: (own, name) => (name in own ? own[name] : () => undefined) },
  );
