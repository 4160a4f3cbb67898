// Two states of a piece as solids, side by side under one camera: what turns one turns the other.

import {
  Box3,
  DirectionalLight,
  Group,
  HemisphereLight,
  Mesh,
  MeshPhongMaterial,
  PerspectiveCamera,
  Scene,
  Vector3,
  WebGLRenderer,
} from "../../vendor/three.min.js";
import { get } from "../lib/api.js";
import { drag, pinch } from "../lib/drag.js";
import { el } from "../lib/page.js";
import { geometryOf, streamSolids } from "../stand/records.js";
import { drawsSolids, seenFrom } from "../stand/painter.js";
import { shown } from "../stand/shading.js";
import { turning } from "../stand/turning.js";
import { run } from "./jobs.js";

// raise fetches the solids of a state; version is "" for the piece as it is.
async function raise(piece, version, what, job) {
  const state = await get(version ? `${piece.base}/versions/${version}/state` : `${piece.base}/data/state`, job);
  const some = state.parts.some((p) => !p.out);
  const body = new Group();
  job.say(`Raising the piece ${what}`);
  const put = (solid) => {
    const mesh = new Mesh(geometryOf(solid));
    mesh.material = solid.runs.map((r, n) => {
      mesh.geometry.addGroup(3 * r.start, 3 * r.count, n);
      return new MeshPhongMaterial({ color: shown(r.color), shininess: 34, specular: "#4a4038" });
    });
    body.add(mesh);
  };
  if (some) await streamSolids(piece.base, { version }, [], job, put);
  const scene = new Scene();
  scene.add(new HemisphereLight("#ffffff", "#c2a78d", 1.75), body);
  return { scene, body };
}

// twins returns an element that shows both once they are raised.
export function twins(piece, version) {
  const canvas = el("canvas", { tabindex: 0, role: "img", "aria-label": "Then and now. Arrow keys turn both, plus and minus near them." });
  const note = el("p", { class: "hint" }, "Raising both…");
  const box = el("div", { class: "twins" }, canvas, el("span", {}, "Then"), el("span", {}, "Now"), note);
  const work = async (job) => {
    if (!drawsSolids()) return pictures(piece, version, box, canvas, note, job);
    const both = [await raise(piece, version, "as it was", job), await raise(piece, "", "as it is", job)];
    note.remove();
    if (box.isConnected) new Twins(box, canvas, both); // nobody has closed it meanwhile
    return null;
  };
  run("Raising both states", work).catch((e) => {
    note.textContent = e.name === "AbortError" ? "Cancelled. Compare once more to see the solids." : e.message;
  });
  return box;
}

// pictures shows both as the server draws them, where the browser draws no 3D.
async function pictures(piece, version, box, canvas, note, job) {
  await new Promise(requestAnimationFrame); // then it has its place in the page
  const [w, h] = [Math.round(box.clientWidth / 2), box.clientHeight];
  if (!w || !h) return;
  const view = { turn: 30, up: 16, distance: 0, focal: 80, shift: [0, 0], clay: false };
  const then = await seenFrom(piece.base, [w, h], { ...view, version }, job);
  const now = await seenFrom(piece.base, [w, h], view, job);
  [canvas.width, canvas.height] = [2 * w, h];
  const pen = canvas.getContext("2d");
  pen.drawImage(then, 0, 0, w, h);
  pen.drawImage(now, w, 0, w, h);
  note.remove();
  box.dataset.drawn = "1";
}

class Twins {
  constructor(box, canvas, both) {
    this.box = box;
    this.canvas = canvas;
    this.both = both;
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
    this.renderer.setPixelRatio(Math.min(devicePixelRatio, 2));
    this.renderer.setScissorTest(true);
    this.camera = new PerspectiveCamera(26, 1, 1, 5000);
    this.yaw = 0.55;
    this.pitch = 0.3;
    this.lights = both.map(({ scene }) => {
      const light = new DirectionalLight("#fff4e2", 2.5);
      scene.add(light);
      return light;
    });
    // One scale and one middle for both, so that what grew is seen to be larger.
    const all = new Box3();
    for (const { body } of both) all.union(new Box3().setFromObject(body));
    this.size = all.getSize(new Vector3());
    const middle = all.getCenter(new Vector3()).negate();
    for (const { body } of both) body.position.copy(middle);
    this.pointer();
    this.watch = new ResizeObserver(() => this.resize());
    this.watch.observe(box);
  }

  pointer() {
    const c = this.canvas;
    const move = (_, dx, dy) => this.turn(-dx * 0.008, dy * 0.008);
    c.addEventListener("pointerdown", (e) => drag(e, c, { move }));
    pinch(c, (by) => this.near(1 / by));
    turning(c, this);
  }

  turn(yaw, pitch) {
    this.yaw += yaw;
    this.pitch = Math.max(-0.4, Math.min(1.5, this.pitch + pitch));
    this.draw();
  }

  near(f) {
    const s = this.size.length();
    this.distance = Math.max(s * 0.1, Math.min(s * 12, this.distance * f));
    this.draw();
  }

  resize() {
    if (!this.box.isConnected) {
      this.dispose();
      return;
    }
    const [w, h] = [this.box.clientWidth, this.box.clientHeight];
    if (!w || !h) return;
    this.renderer.setSize(w, h, false);
    this.camera.aspect = w / 2 / h;
    const half = Math.tan((this.camera.fov * Math.PI) / 360);
    this.distance ??= (this.size.length() * 0.5) / (half * Math.min(1, this.camera.aspect));
    this.draw();
  }

  // dispose gives back what the graphics card holds, the context with it: browsers have few.
  dispose() {
    this.watch.disconnect();
    for (const { body } of this.both)
      for (const mesh of body.children) {
        mesh.geometry.dispose();
        for (const m of mesh.material) m.dispose();
      }
    this.renderer.dispose();
    this.renderer.forceContextLoss();
  }

  draw() {
    const c = this.camera;
    const { yaw, pitch } = this;
    c.position.set(Math.sin(yaw) * Math.cos(pitch), Math.sin(pitch), Math.cos(yaw) * Math.cos(pitch));
    c.position.multiplyScalar(this.distance);
    c.lookAt(0, 0, 0);
    c.near = this.distance / 100;
    c.far = this.distance + this.size.length() * 2;
    c.updateProjectionMatrix();
    const [w, h] = [this.box.clientWidth, this.box.clientHeight];
    this.both.forEach(({ scene }, i) => {
      this.lights[i].position.copy(c.position).add(new Vector3(-this.distance * 0.6, this.distance * 0.8, 0));
      this.renderer.setViewport((i * w) / 2, 0, w / 2, h);
      this.renderer.setScissor((i * w) / 2, 0, w / 2, h);
      this.renderer.render(scene, c);
    });
    this.box.dataset.drawn = String(Number(this.box.dataset.drawn ?? 0) + 1);
    this.box.dataset.yaw = this.yaw.toFixed(2);
  }
}
