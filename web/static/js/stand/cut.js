// The section cut: a plane through the solids that can be moved, with the cut faces
// filled and hatched as in a drawing.

import { Mesh, MeshBasicMaterial, Plane, PlaneGeometry, ShaderMaterial, Vector3 } from "../../vendor/three.min.js";
import { el } from "../lib/page.js";
import { mm } from "../lib/length.js";

// What WebGL calls by numbers (three.js, constants).
const always = 519;
const notEqual = 517;
const up = 34055; // increment, wrapping
const down = 34056;
const replace = 7681;
const backSide = 1;
const frontSide = 0;
const bothSides = 2;

const axes = [
  ["x", "across"],
  ["y", "along"],
  ["z", "level"],
];

// hatched fills a cut face with lines at 45 degrees, as far apart on the screen wherever
// it is seen from.
const hatched = {
  vertexShader: "void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }",
  fragmentShader: `
    void main() {
      float s = mod(gl_FragCoord.x + gl_FragCoord.y, 11.0);
      gl_FragColor = vec4(s < 1.6 ? vec3(0.62, 0.45, 0.36) : vec3(0.965, 0.914, 0.875), 1.0);
    }`,
};

// Cut belongs to a stand.
export class Cut {
  constructor(stand) {
    this.stand = stand;
    this.on = false;
    this.axis = "x";
    this.share = 0.5; // of the way through
    this.plane = new Plane(new Vector3(-1, 0, 0), 0);
    this.faces = [];
    this.tools = this.makeTools();
  }

  makeTools() {
    const toggle = el("input", { type: "checkbox", "data-stand": "cut", onchange: () => this.set({ on: toggle.checked }) });
    const axis = el(
      "select",
      { "data-stand": "cut-axis", "aria-label": "Direction of the cut", onchange: () => this.set({ axis: axis.value }) },
      ...axes.map(([k, text]) => el("option", { value: k }, text)),
    );
    const at = el("input", {
      type: "range",
      min: 0,
      max: 1,
      step: 0.005,
      value: this.share,
      "data-stand": "cut-at",
      "aria-label": "Place of the cut",
      oninput: () => this.set({ share: Number(at.value) }),
    });
    this.label = el("output", {}, "");
    this.inputs = { toggle, axis, at };
    this.more = el("span", { hidden: true }, axis, at, this.label);
    return el("div", { class: "cuttools" }, el("label", {}, toggle, " cut"), this.more);
  }

  // set changes some of {on, axis, share}.
  set(what) {
    Object.assign(this, what);
    this.inputs.toggle.checked = this.on;
    this.more.hidden = !this.on;
    this.stand.dress();
  }

  // planes returns what cuts materials.
  planes() {
    return this.on ? [this.plane] : [];
  }

  // place moves the plane to its place in a body of the size given, which lies about the
  // origin, and fills the cut faces of the meshes.
  place(size, meshes) {
    this.clear();
    if (!this.on) return;
    const extent = size[this.axis];
    // A cut exactly in an end or in the middle of a symmetric piece meets edges end on.
    const at = (this.share - 0.5) * extent * 0.998 + extent * 1.7e-5;
    const n = this.plane.normal.set(0, 0, 0);
    n[this.axis] = -1;
    this.plane.constant = at;
    this.label.textContent = mm(Number((this.share * extent).toFixed(2)));
    const span = Math.max(size.x, size.y, size.z) * 4;
    meshes.forEach((mesh, i) => this.fill(mesh, i, span, at));
  }

  // fill counts, pixel by pixel, whether the plane is inside of a solid: its back faces
  // add one, its front faces take one away; where something is left the cut is seen.
  fill(mesh, i, span, at) {
    const counting = (side, op) =>
      new MeshBasicMaterial({
        side,
        depthWrite: false,
        depthTest: false,
        colorWrite: false,
        clippingPlanes: [this.plane],
        stencilWrite: true,
        stencilFunc: always,
        stencilFail: op,
        stencilZFail: op,
        stencilZPass: op,
      });
    for (const m of [counting(backSide, up), counting(frontSide, down)]) {
      const count = new Mesh(mesh.geometry, m);
      count.position.copy(this.stand.body.position);
      count.renderOrder = i + 1;
      this.add(count, false);
    }
    const face = new ShaderMaterial({
      ...hatched,
      side: bothSides,
      stencilWrite: true,
      stencilRef: 0,
      stencilFunc: notEqual,
      stencilFail: replace,
      stencilZFail: replace,
      stencilZPass: replace,
    });
    const cap = new Mesh(new PlaneGeometry(span, span), face);
    if (this.axis === "x") cap.rotation.y = Math.PI / 2;
    if (this.axis === "y") cap.rotation.x = Math.PI / 2;
    cap.position[this.axis] = at;
    cap.renderOrder = i + 1.1;
    cap.onAfterRender = (renderer) => renderer.clearStencil();
    this.add(cap, true);
  }

  add(mesh, own) {
    mesh.userData.own = own;
    this.faces.push(mesh);
    this.stand.scene.add(mesh);
  }

  clear() {
    for (const m of this.faces) {
      this.stand.scene.remove(m);
      if (m.userData.own) m.geometry.dispose();
      m.material.dispose();
    }
    this.faces = [];
  }
}
