// Clips made in the browser: frames drawn one by one and encoded through WebCodecs.

import {
  BufferTarget,
  canEncodeVideo,
  CanvasSource,
  Mp4OutputFormat,
  Output,
  QUALITY_HIGH,
  WebMOutputFormat,
} from "../../vendor/mediabunny.min.js";

const kinds = [
  { ending: "webm", type: "video/webm", codec: "vp9", format: () => new WebMOutputFormat() },
  { ending: "webm", type: "video/webm", codec: "vp8", format: () => new WebMOutputFormat() },
  { ending: "mp4", type: "video/mp4", codec: "avc", format: () => new Mp4OutputFormat() },
];

// kindFor returns what this browser can encode at a size: of the ending that is wished if
// it can; null for nothing.
export async function kindFor(width, height, ending = "webm") {
  if (typeof VideoEncoder === "undefined") return null;
  const list = [...kinds].sort((a, b) => Number(b.ending === ending) - Number(a.ending === ending));
  for (const k of list) if (await canEncodeVideo(k.codec, { width, height })) return k;
  return null;
}

// keepsAlpha reports whether clips of a kind can be clear: WebM can (VP8 and VP9 with a second picture of the alpha), MP4
// can't.
export const keepsAlpha = (kind) => kind.ending === "webm";

// record makes a clip of n frames. draw(i, pen) draws the i-th one; it may take its time. With clear, what is clear stays
// so, where the kind can; else it shows plaster. Sides are even, as encoders want them.
export async function record({ width, height, rate, frames, kind, draw, progress, signal, clear }) {
  const canvas = document.createElement("canvas");
  canvas.width = width;
  canvas.height = height;
  const pen = canvas.getContext("2d");
  const output = new Output({ format: kind.format(), target: new BufferTarget() });
  const alpha = clear && keepsAlpha(kind) ? "keep" : "discard";
  const source = new CanvasSource(canvas, { codec: kind.codec, bitrate: QUALITY_HIGH, alpha });
  output.addVideoTrack(source, { frameRate: rate });
  await output.start();
  try {
    for (let i = 0; i < frames; i++) {
      if (signal?.aborted) throw new DOMException("cancelled", "AbortError");
      pen.clearRect(0, 0, width, height);
      if (alpha === "discard") {
        pen.fillStyle = "#efe9df";
        pen.fillRect(0, 0, width, height);
      }
      await draw(i, pen, canvas);
      await source.add(i / rate, 1 / rate);
      progress?.((i + 1) / frames);
    }
    await output.finalize();
  } catch (e) {
    await output.cancel();
    throw e;
  }
  return new Blob([output.target.buffer], { type: kind.type });
}

export const even = (v) => Math.max(2, 2 * Math.round(v / 2));
