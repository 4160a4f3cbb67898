// The piece's shadow on the stand: its own outline, laid down backwards as by a
// high light in front, soft, and fading with the distance from where the piece
// stands.

import {
  CanvasTexture,
  Mesh,
  MeshBasicMaterial,
  PlaneGeometry,
  SRGBColorSpace,
} from "../../vendor/three.min.js";

const pixels = 512; // of the picture's longer side
const lean = 0.24; // length of the shadow for one unit of height
const copies = 5; // of the outline through the depth

// shadow returns the shadow as a flat mesh at the height floor. It ends with the
// disc of the given radius.
export function shadow(state, { x, y, z }, floor, radius) {
  const soft = Math.max(x, y) * 0.025;
  const w = x + 8 * soft;
  const h = z + lean * y + 8 * soft;
  const k = pixels / Math.max(w, h); // px a mm
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round(w * k));
  canvas.height = Math.max(1, Math.round(h * k));
  const pen = canvas.getContext("2d");
  // On the disc, z grows towards the eye: down in the picture, which begins at
  // the far end of the shadow.
  const far = -z / 2 - lean * y - 4 * soft;
  const place = (mx, mz) => [(mx + w / 2) * k, (mz - far) * k];
  pen.beginPath();
  const [cx, cy] = place(0, 0);
  pen.arc(cx, cy, radius * 0.985 * k, 0, 2 * Math.PI);
  pen.clip();
  // Only the blurred shadow of the outline is seen; the outline itself is drawn
  // beside the picture.
  const aside = 4 * pixels;
  pen.shadowColor = "#4a3626";
  pen.shadowBlur = soft * k * 2;
  pen.shadowOffsetX = aside;
  pen.globalAlpha = 1;
  const path = new Path2D(
    state.parts
      .filter((p) => !p.out)
      .map((p) => p.path)
      .join(""),
  );
  for (let i = 0; i < copies; i++) {
    const [px, py] = place(0, z * (i / (copies - 1) - 0.5) - (lean * y) / 2);
    pen.setTransform(k, 0, 0, lean * k, px - aside, py);
    pen.fill(path, "nonzero");
  }
  pen.setTransform(1, 0, 0, 1, 0, 0);
  fade(pen, canvas, place(0, far)[1], place(0, z / 2)[1]);
  const map = new CanvasTexture(canvas);
  map.colorSpace = SRGBColorSpace;
  const mesh = new Mesh(
    new PlaneGeometry(w, h),
    new MeshBasicMaterial({ map, transparent: true, depthWrite: false, opacity: 0.5 }),
  );
  mesh.rotation.x = -Math.PI / 2;
  mesh.position.set(0, floor, far + h / 2);
  return mesh;
}

// fade thins the picture out towards its far end.
function fade(pen, canvas, from, to) {
  const g = pen.createLinearGradient(0, from, 0, to);
  g.addColorStop(0, "rgba(0, 0, 0, 0.25)");
  g.addColorStop(1, "rgba(0, 0, 0, 1)");
  pen.globalCompositeOperation = "destination-in";
  pen.shadowColor = "transparent";
  pen.fillStyle = g;
  pen.fillRect(0, 0, canvas.width, canvas.height);
}
