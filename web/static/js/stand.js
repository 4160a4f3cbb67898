// The stand: a turntable with engraved rings on which the piece is looked at.
// Drag turns, shift-drag slides, the wheel nears. Frames are drawn on demand.

import {
  BufferAttribute, BufferGeometry, CircleGeometry, Color, CylinderGeometry, DirectionalLight, Float32BufferAttribute, Group, HemisphereLight,
  LineBasicMaterial, LineSegments, Mesh, MeshBasicMaterial, MeshPhongMaterial, PerspectiveCamera, Scene, ShaderMaterial, Vector3, Box3, WebGLRenderer,
} from "../vendor/three.min.js";
import { el, typing } from "./page.js";
import { mm } from "./length.js";
import { choice } from "./field.js";

const clay = "#d8c3b0";
const views = {
  quarter: { yaw: 0.55, pitch: 0.3, name: "Quarter", d: "M5 9l9-5 14 4v9l-9 4L5 17z" },
  front: { yaw: 0, pitch: 0.02, name: "Front", d: "M7 4h20v16H7z" },
  edge: { yaw: Math.PI / 2, pitch: 0.02, name: "Edge", d: "M14 4h6v16h-6z" },
  back: { yaw: Math.PI, pitch: 0.08, name: "Back", d: "M7 4h20v16H7zM10 7h14v10H10z" },
};

export class Stand {
  constructor(box) {
    this.box = box;
    this.parts = new Map();
    this.angle = { ...views.quarter };
    this.target = new Vector3();
    this.size = new Vector3(100, 100, 8);
    this.scene = new Scene();
    this.camera = new PerspectiveCamera(26, 1, 1, 5000);
    this.renderer = new WebGLRenderer({ antialias: true, alpha: true });
    this.renderer.setPixelRatio(Math.min(devicePixelRatio, 2));
    const canvas = (this.canvas = this.renderer.domElement);
    canvas.tabIndex = 0;
    canvas.setAttribute("role", "img");
    canvas.setAttribute("aria-label", "The piece on the stand. Arrow keys turn it, plus and minus near it.");
    box.append(canvas);
    this.scene.add(new HemisphereLight("#ffffff", "#c9b49e", 1.5));
    this.key = new DirectionalLight("#fff6e6", 2.3);
    this.fill = new DirectionalLight("#dfe9f5", 0.5);
    this.scene.add(this.key, this.fill);
    this.body = new Group();
    this.furniture = new Group();
    this.scene.add(this.body, this.furniture);
    this.lines = null;
    this.labels = ["w", "h", "d"].map(() => { const s = el("span", { class: "viewlabel", hidden: true }); box.append(s); return s; });
    this.shading = null;
    this.tools();
    this.pointer();
    new ResizeObserver(() => this.resize()).observe(box);
    this.resize();
  }

  tools() {
    this.box.append(el("div", { class: "viewtools", role: "group", "aria-label": "Views" }, ...Object.entries(views).map(([k, v]) =>
      el("button", { type: "button", "data-view": k, title: `${v.name} view`, onclick: () => this.look(k) }, el("svg", { viewBox: "0 0 34 24", "aria-hidden": "true" }, el("path", { d: v.d })), v.name)),
      el("button", { type: "button", title: "Fit into the view (F)", onclick: () => this.fit() }, el("svg", { viewBox: "0 0 34 24", "aria-hidden": "true" }, el("path", { d: "M6 8V4h5M28 8V4h-5M6 16v4h5M28 16v4h-5M12 9h10v6H12z" })), "Fit")));
    this.shadeChoice = choice("", [["clay", "Clay"], ["colours", "Colours"], ["wire", "Wire"], ["zebra", "Zebra"]], "clay", (k) => this.shade(k));
    const box = el("div", { class: "shading" }, this.shadeChoice.row.lastChild);
    this.box.append(box);
    addEventListener("keydown", (e) => {
      if (typing(e) || e.ctrlKey || e.metaKey || e.altKey) return;
      const k = e.key.toLowerCase();
      if (k === "f") this.fit();
      if (k === "v") { const names = Object.keys(views); this.look(names[(names.indexOf(this.named) + 1) % names.length]); }
      if (k === "c") { const names = ["clay", "colours", "wire", "zebra"]; this.shade(names[(names.indexOf(this.shading) + 1) % 4]); }
    });
  }

  pointer() {
    const c = this.canvas;
    let last = null;
    c.addEventListener("pointerdown", (e) => { c.setPointerCapture(e.pointerId); last = e; c.classList.add("turning"); });
    c.addEventListener("pointermove", (e) => {
      if (!last) return;
      const dx = e.clientX - last.clientX, dy = e.clientY - last.clientY;
      last = e;
      if (e.shiftKey || e.buttons & 4) this.slide(dx, dy); else this.turn(-dx * 0.008, dy * 0.008);
    });
    const up = () => { last = null; c.classList.remove("turning"); };
    c.addEventListener("pointerup", up);
    c.addEventListener("pointercancel", up);
    c.addEventListener("wheel", (e) => { e.preventDefault(); this.near(Math.exp(e.deltaY * 0.0012)); }, { passive: false });
    c.addEventListener("keydown", (e) => {
      const t = { ArrowLeft: [-0.12, 0], ArrowRight: [0.12, 0], ArrowUp: [0, 0.1], ArrowDown: [0, -0.1] }[e.key];
      if (t) { e.preventDefault(); this.turn(...t); }
      if (e.key === "+" || e.key === "=") this.near(0.85);
      if (e.key === "-") this.near(1.18);
    });
  }

  turn(yaw, pitch) {
    this.named = null;
    this.angle.yaw += yaw;
    this.angle.pitch = Math.max(-0.4, Math.min(1.5, this.angle.pitch + pitch));
    this.draw();
  }
  slide(dx, dy) {
    const k = (2 * this.distance * Math.tan((this.camera.fov * Math.PI) / 360)) / this.box.clientHeight;
    const right = new Vector3().setFromMatrixColumn(this.camera.matrix, 0), up = new Vector3().setFromMatrixColumn(this.camera.matrix, 1);
    this.target.addScaledVector(right, -dx * k).addScaledVector(up, dy * k);
    this.draw();
  }
  near(f) { const s = this.span(); this.distance = Math.max(s * 0.02, Math.min(s * 12, this.distance * f)); this.draw(); }
  look(name) { this.named = name; Object.assign(this.angle, views[name]); this.fit(); }
  span() { return Math.max(this.size.x, this.size.y, this.size.z); }

  // fit brings the whole piece and its measures into view.
  fit() {
    this.target.set(0, -this.span() * 0.05, 0);
    const aspect = Math.max(0.2, this.camera.aspect), half = Math.tan((this.camera.fov * Math.PI) / 360);
    const { yaw, pitch } = this.angle, s = this.size;
    const w = Math.abs(Math.cos(yaw)) * s.x + Math.abs(Math.sin(yaw)) * s.z;
    const h = Math.cos(pitch) * s.y + Math.abs(Math.sin(pitch)) * Math.hypot(s.x, s.z) * 0.7;
    const margin = this.span() * 0.16;
    this.distance = Math.max((h + 2 * margin) / (2 * half), (w + 2 * margin) / (2 * half * aspect)) + (Math.abs(Math.sin(yaw)) * s.x + Math.abs(Math.cos(yaw)) * s.z) / 2;
    this.draw();
  }

  put(id, solid) {
    let p = this.parts.get(id);
    if (!p) {
      p = { mesh: new Mesh(), color: solid.color };
      this.parts.set(id, p);
      this.body.add(p.mesh);
      p.mesh.material = this.material(id, p);
    }
    p.color = solid.color;
    const g = new BufferGeometry();
    g.setAttribute("position", new BufferAttribute(solid.positions, 3));
    const n = new Int8Array(solid.normals.length / 4 * 3);
    for (let i = 0, j = 0; i < solid.normals.length; i += 4) { n[j++] = solid.normals[i]; n[j++] = solid.normals[i + 1]; n[j++] = solid.normals[i + 2]; }
    g.setAttribute("normal", new BufferAttribute(n, 3, true));
    g.setIndex(new BufferAttribute(solid.indices, 1));
    p.mesh.geometry.dispose();
    p.mesh.geometry = g;
    p.depth = solid.depth;
    this.draw();
  }
  remove(id) { const p = this.parts.get(id); if (!p) return; this.body.remove(p.mesh); p.mesh.geometry.dispose(); this.parts.delete(id); this.draw(); }

  // settle makes stand and measures fit a state whose solids are all here.
  settle(state) {
    const box = new Box3().setFromObject(this.body);
    if (box.isEmpty()) { this.draw(); return; }
    const size = box.getSize(new Vector3());
    const first = !this.settled || Math.abs(size.x - this.size.x) > 1e-6 * size.x || Math.abs(size.y - this.size.y) > 1e-6 * size.y;
    this.size.copy(size);
    const c = box.getCenter(new Vector3());
    this.body.position.set(-c.x, -c.y, -c.z);
    if (this.shading === null) this.shade(state.parts.length > 1 ? "colours" : "clay");
    this.furnish();
    if (first) { this.settled = true; this.fit(); } else this.draw();
  }

  // furnish builds the disc with its rings and the dimension lines.
  furnish() {
    this.furniture.clear();
    const { x, y, z } = this.size, s = this.span(), floor = -y / 2 - s * 0.004;
    const radius = Math.max(Math.hypot(x, z) * 0.56, s * 0.3), thick = s * 0.03;
    const disc = new Mesh(new CylinderGeometry(radius, radius * 1.015, thick, 96), new MeshPhongMaterial({ color: "#f1e9dd", shininess: 4 }));
    disc.position.y = floor - thick / 2;
    const pts = [], step = 10 ** Math.floor(Math.log10(radius / 2)), at = floor + s * 0.001;
    for (let r = step, i = 1; r < radius; r += step, i++) {
      const n = 96, strong = i % 5 === 0;
      for (let k = 0; k < n; k++) {
        if (!strong && k % 2) continue;
        const a = (k / n) * 2 * Math.PI, b = ((k + 1) / n) * 2 * Math.PI;
        pts.push(r * Math.cos(a), at, r * Math.sin(a), r * Math.cos(b), at, r * Math.sin(b));
      }
    }
    for (let k = 0; k < 72; k++) { const a = (k / 72) * 2 * Math.PI, r0 = radius * (k % 6 ? 0.975 : 0.94); pts.push(r0 * Math.cos(a), at, r0 * Math.sin(a), radius * Math.cos(a), at, radius * Math.sin(a)); }
    const rings = new LineSegments(new BufferGeometry().setAttribute("position", new Float32BufferAttribute(pts, 3)), new LineBasicMaterial({ color: "#c4b39e" }));
    // Dimension lines, as in a workshop drawing.
    const o = s * 0.07, t = s * 0.012, d = [];
    const line = (...p) => d.push(...p);
    const fz = z / 2;
    line(-x / 2, y / 2 + o, fz, x / 2, y / 2 + o, fz, -x / 2, y / 2 + o - t, fz, -x / 2, y / 2 + o + t, fz, x / 2, y / 2 + o - t, fz, x / 2, y / 2 + o + t, fz);
    line(-x / 2 - o, -y / 2, fz, -x / 2 - o, y / 2, fz, -x / 2 - o - t, -y / 2, fz, -x / 2 - o + t, -y / 2, fz, -x / 2 - o - t, y / 2, fz, -x / 2 - o + t, y / 2, fz);
    line(x / 2 + o * 0.6, y / 2, -fz, x / 2 + o * 0.6, y / 2, fz, x / 2 + o * 0.6, y / 2 - t, -fz, x / 2 + o * 0.6, y / 2 + t, -fz, x / 2 + o * 0.6, y / 2 - t, fz, x / 2 + o * 0.6, y / 2 + t, fz);
    const dims = new LineSegments(new BufferGeometry().setAttribute("position", new Float32BufferAttribute(d, 3)), new LineBasicMaterial({ color: "#1f7468" }));
    this.furniture.add(disc, rings, dims);
    // A soft shadow where the piece meets the stand.
    for (let i = 0; i < 6; i++) {
      const shade = new Mesh(new CircleGeometry(1, 48), new MeshBasicMaterial({ color: "#5b4636", transparent: true, opacity: 0.055, depthWrite: false }));
      const grow = 1 + i * 0.22;
      shade.scale.set(Math.min(x * 0.28 * grow, radius * 0.95), (z / 2 + s * 0.03) * grow, 1);
      shade.rotation.x = -Math.PI / 2;
      shade.position.y = floor + s * 0.0004 * (i + 1);
      this.furniture.add(shade);
    }
    this.labelAt = [new Vector3(0, y / 2 + o * 1.55, fz), new Vector3(-x / 2 - o * 1.1, 0, fz), new Vector3(x / 2 + o * 0.7, y / 2 + o * 0.55, 0)];
    [x, y, z].forEach((v, i) => { this.labels[i].textContent = mm(v); });
  }

  material(id, p) {
    const lit = this.lit === id;
    if (this.shading === "zebra") {
      return new ShaderMaterial({
        vertexShader: "varying vec3 n; varying vec3 v; void main() { n = normalize(normalMatrix * normal); vec4 p = modelViewMatrix * vec4(position, 1.0); v = normalize(-p.xyz); gl_Position = projectionMatrix * p; }",
        fragmentShader: "varying vec3 n; varying vec3 v; void main() { vec3 r = reflect(-v, normalize(n)); float s = smoothstep(-0.1, 0.1, sin(7.0 * (r.y + 0.35 * r.x))); gl_FragColor = vec4(mix(vec3(0.13, 0.11, 0.1), vec3(0.97, 0.95, 0.92), s), 1.0); }",
      });
    }
    const m = new MeshPhongMaterial({ color: this.shading === "colours" ? p.color : clay, shininess: 34, specular: "#4a4038" });
    if (this.shading === "wire") { m.wireframe = true; m.color = new Color("#4b3a30"); }
    if (lit) m.emissive = new Color("#0d3a34");
    return m;
  }
  shade(kind) {
    this.shading = kind;
    this.shadeChoice.set(kind);
    this.dress();
  }
  light(id) { this.lit = id; this.dress(); }
  dress() { for (const [id, p] of this.parts) { p.mesh.material.dispose(); p.mesh.material = this.material(id, p); } this.draw(); }

  resize() {
    const w = this.box.clientWidth, h = this.box.clientHeight;
    if (!w || !h) return;
    this.renderer.setSize(w, h, false);
    this.camera.aspect = w / h;
    this.camera.updateProjectionMatrix();
    if (this.settled && this.named !== null) this.fit(); else this.draw();
  }
  draw() { this.frame ??= requestAnimationFrame(() => { this.frame = null; this.render(); }); }
  render() {
    const { yaw, pitch } = this.angle, s = this.span();
    this.distance ??= s * 3;
    const c = this.camera;
    c.position.set(Math.sin(yaw) * Math.cos(pitch), Math.sin(pitch), Math.cos(yaw) * Math.cos(pitch)).multiplyScalar(this.distance).add(this.target);
    c.lookAt(this.target);
    c.near = Math.max(this.distance - s * 3, this.distance / 400);
    c.far = this.distance + s * 6;
    c.updateProjectionMatrix();
    // The lights go with the eye, so that every side shows its form.
    const right = new Vector3(Math.cos(yaw), 0, -Math.sin(yaw));
    this.key.position.copy(c.position).normalize().addScaledVector(right, -0.75).add(new Vector3(0, 0.95, 0));
    this.fill.position.copy(c.position).normalize().addScaledVector(right, 1.2).add(new Vector3(0, -0.1, 0));
    this.renderer.render(this.scene, c);
    this.placeLabels();
  }
  placeLabels() {
    const w = this.box.clientWidth, h = this.box.clientHeight, behind = Math.cos(this.angle.yaw);
    this.labels.forEach((l, i) => {
      if (!this.labelAt || !this.settled) { l.hidden = true; return; }
      const p = this.labelAt[i].clone().project(this.camera);
      // Seen end-on, a measure says nothing.
      const flat = i === 2 ? Math.abs(Math.sin(this.angle.yaw)) < 0.3 : i === 0 ? Math.abs(behind) < 0.35 : false;
      l.hidden = p.z > 1 || flat || Math.abs(p.x) > 1 || Math.abs(p.y) > 1;
      l.style.left = `${Math.max(34, Math.min(w - 34, ((p.x + 1) / 2) * w))}px`;
      l.style.top = `${Math.max(12, Math.min(h - 12, ((1 - p.y) / 2) * h))}px`;
    });
  }
}
