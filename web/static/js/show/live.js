// The live view: the scene drawn at once, with the same materials, lamps and camera as the
// picture. It is drawn on demand; frames come from the server (web/live.go).

import {
  BufferAttribute,
  BufferGeometry,
  ClampToEdgeWrapping,
  DataTexture,
  DataUtils,
  DepthTexture,
  DoubleSide,
  FloatType,
  HalfFloatType,
  LinearFilter,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  NearestFilter,
  OrthographicCamera,
  PerspectiveCamera,
  PlaneGeometry,
  RGBAFormat,
  Scene,
  ShaderMaterial,
  UnsignedIntType,
  Vector2,
  Vector3,
  Vector4,
  WebGLRenderer,
  WebGLRenderTarget,
} from "../../vendor/three.min.js";
import { drawsSolids, idle } from "../stand/painter.js";
import { geometryOf } from "../stand/records.js";
import { behindFragment, behindVertex, fragment, mostLights, mostShadows, shadowSide, vertex } from "./shader.js";

const v3 = (v) => new Vector3(v.X, v.Y, v.Z);
const contrasts = { flat: 0, soft: 1, strong: 2 };
const glsl3 = "300 es";
const betweenSizes = 1008; // LinearMipmapLinearFilter of three.js

export class Live {
  constructor(canvas) {
    this.canvas = canvas;
    this.film = null; // what lies behind clear things
    this.renderer = drawsSolids() ? new WebGLRenderer({ canvas, antialias: true, alpha: true, premultipliedAlpha: true }) : idle(canvas);
    this.renderer.autoClear = false;
    this.renderer.shadowMap.enabled = false;
    this.scene = new Scene();
    this.camera = new PerspectiveCamera();
    this.camera.matrixAutoUpdate = false;
    this.bodies = new Map(); // id -> {mesh, runs}
    this.grown = new Map(); // id -> what stands for a body at the frame that is shown
    this.looks = new Map(); // id -> what its faces were made of last
    this.shared = this.makeShared();
    this.shadow = new WebGLRenderTarget(2 * shadowSide, 2 * shadowSide, {
      depthTexture: new DepthTexture(2 * shadowSide, 2 * shadowSide, UnsignedIntType),
      minFilter: NearestFilter,
      magFilter: NearestFilter,
    });
    this.shared.shadowMap.value = this.shadow.depthTexture;
    this.depthOnly = new MeshBasicMaterial({ colorWrite: false, side: DoubleSide });
    this.behind = new Mesh(
      new PlaneGeometry(2, 2),
      this.material(behindVertex, behindFragment, {
        mode: { value: 0 },
        top: { value: new Vector3() },
        foot: { value: new Vector3() },
        toWorld: { value: new Matrix4() },
      }),
    );
    this.behind.frustumCulled = false;
    this.behind.renderOrder = -1;
    this.behind.material.depthWrite = false;
    this.floor = null;
    this.shadowsAt = "";
    this.drawings = new Map(); // part -> {texture, box}
  }

  // makeShared makes what all materials have in common: one object, so that a change is
  // seen by all.
  makeShared() {
    const list = (n, make) => Array.from({ length: n }, make);
    const vectors = (n) => ({ value: list(n, () => new Vector3()) });
    const grey = new DataTexture(new Float32Array([0.5, 0.5, 0.5, 1]), 1, 1, RGBAFormat, FloatType);
    grey.needsUpdate = true;
    return {
      eye: { value: new Vector3() },
      contrast: { value: 1 },
      exposure: { value: 1 },
      atlas: { value: grey },
      atlasSize: { value: new Vector2(1, 1) },
      levels: { value: list(6, () => new Vector4(0, 0, 1, 1)) },
      roughs: { value: [0, 0.15, 0.3, 0.5, 0.7, 1] },
      sh: { value: list(9, (_, i) => new Vector3().setScalar(i ? 0 : 0.5 / 0.282095)) },
      skyShare: { value: 0.5 },
      lights: { value: 0 },
      kind: { value: list(mostLights, () => 0) },
      lightAt: vectors(mostLights),
      across: vectors(mostLights),
      up: vectors(mostLights),
      aim: vectors(mostLights),
      angle: { value: list(mostLights, () => 0) },
      radius: { value: list(mostLights, () => 0) },
      light: vectors(mostLights),
      shadowMatrix: { value: list(mostShadows, () => new Matrix4()) },
      shadowWide: { value: list(mostShadows, () => 1) },
      shadowMap: { value: null },
      bias: { value: 0.1 },
      plainLight: { value: false },
      reflected: { value: grey },
      floored: { value: false },
      floorY: { value: 0 },
      middle: { value: new Vector3() },
      behind: { value: null },
      onFilm: { value: new Matrix4() },
      sharp: { value: 1 },
      glowAt: { value: new Vector3() },
      glowing: { value: new Vector3() },
      glowReach: { value: 1 },
    };
  }

  material(vertexShader, fragmentShader, own) {
    const m = new ShaderMaterial({ vertexShader, fragmentShader, glslVersion: glsl3, uniforms: { ...own } });
    Object.assign(m.uniforms, this.shared);
    return m;
  }

  surface(look, part, face) {
    const vec = (a) => ({ value: new Vector3(...a) });
    const m = this.material(vertex, fragment, {
      base: vec(look.base),
      glow: vec(look.glow),
      metal: { value: look.metal },
      rough: { value: look.rough },
      coat: { value: look.coat },
      coatRough: { value: look.coatRough },
      clear: { value: look.clear },
      index: { value: 1.5 },
      deep: { value: 5 },
      thick: { value: 0 },
      grain: { value: look.grain },
      along: { value: v3(look.along) },
      drawn: { value: false },
      drawing: { value: null },
      drawnBox: { value: new Vector4(0, 0, 1, 1) },
      catching: { value: false },
    });
    m.userData = { part, face };
    this.change(m, look);
    return m;
  }

  change(m, look) {
    const u = m.uniforms;
    u.base.value.fromArray(look.base);
    u.glow.value.fromArray(look.glow);
    for (const k of ["metal", "rough", "coat", "coatRough", "clear", "grain"]) u[k].value = look[k];
    u.index.value = look.index || 1.5;
    u.deep.value = look.deep ?? 5;
    u.along.value.copy(v3(look.along));
    const d = look.drawn && this.drawings.get(m.userData.part);
    u.drawn.value = !!d;
    if (d) {
      u.drawing.value = d.texture;
      u.drawnBox.value.copy(d.box);
    }
    m.userData.clear = look.clear > 0 && look.metal < 1;
  }

  // put takes the solid of a body (see stand/solids.js).
  put(id, solid) {
    this.drop(id);
    const b = this.bodyOf(solid);
    this.bodies.set(id, b);
    this.scene.add(b.mesh);
    this.shadowsAt = "";
  }

  // bodyOf makes what is drawn of a solid.
  bodyOf(solid) {
    const g = geometryOf(solid);
    solid.runs.forEach((r, i) => g.addGroup(3 * r.start, 3 * r.count, i));
    const mesh = new Mesh(g, []);
    mesh.matrixAutoUpdate = false;
    mesh.frustumCulled = false;
    g.computeBoundingBox();
    const thick = g.boundingBox.max.z - g.boundingBox.min.z;
    return { mesh, runs: solid.runs, bottom: solid.bottom, key: solid.key, thick, areas: areasOf(g, solid.runs) };
  }

  // stands lets a body stand for one that has another form at a frame; none for the one that is there at rest.
  stands(id, body) {
    const was = this.grown.get(id);
    if (was === body) return;
    if (was) this.scene.remove(was.mesh);
    if (body) {
      this.grown.set(id, body);
      this.scene.add(body.mesh);
    } else this.grown.delete(id);
    this.shadowsAt = "";
  }

  // drawn lists the bodies as they stand.
  drawn() {
    return [...this.bodies].map(([id, b]) => this.grown.get(id) ?? b);
  }

  drop(id) {
    const b = this.bodies.get(id);
    if (!b) return;
    this.stands(id, undefined);
    this.free(b);
    this.bodies.delete(id);
  }

  // free gives back what a body holds.
  free(b) {
    this.scene.remove(b.mesh);
    b.mesh.geometry.dispose();
    for (const m of b.mesh.material) m.dispose();
  }

  // draws gives a part the picture of its gradients over a box.
  draws(part, image, [lo, hi]) {
    const texture = image;
    texture.minFilter = LinearFilter;
    texture.generateMipmaps = false;
    this.drawings.set(part, { texture, box: new Vector4(lo[0], lo[1], hi[0], hi[1]) });
  }

  // ambience takes what comes from all around (web/live.go).
  ambience(buffer) {
    const n = new DataView(buffer).getUint32(0, true);
    const head = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, n)));
    const data = new Float32Array(buffer.slice(4 + n));
    const wide = Math.max(...head.sizes.map(([w]) => w)) + 2;
    const high = head.sizes.reduce((sum, [, h]) => sum + h, 0);
    const half = new Uint16Array(4 * wide * high);
    let from = 0;
    let row = 0;
    head.sizes.forEach(([w, h], i) => {
      this.shared.levels.value[i].set(1, row, w, h);
      for (let y = 0; y < h; y++)
        for (let x = -1; x <= w; x++)
          for (let c = 0; c < 4; c++)
            half[4 * ((row + y) * wide + x + 1) + c] = DataUtils.toHalfFloat(
              Math.min(60000, data[from + 4 * (y * w + ((x + w) % w)) + c]),
            );
      from += 4 * w * h;
      row += h;
    });
    const texture = new DataTexture(half, wide, high, RGBAFormat, HalfFloatType);
    texture.minFilter = texture.magFilter = LinearFilter;
    texture.wrapS = texture.wrapT = ClampToEdgeWrapping;
    texture.needsUpdate = true;
    this.shared.atlas.value.dispose();
    this.shared.atlas.value = texture;
    this.shared.atlasSize.value.set(wide, high);
    this.reflects(head.reflected);
    head.rough.forEach((r, i) => (this.shared.roughs.value[i] = r));
    head.irradiance.forEach((c, i) => this.shared.sh.value[i].fromArray(c));
  }

  // reflects takes what facets reflect of even light, rows by roughness.
  reflects(rows) {
    const side = rows.length;
    const data = new Uint16Array(4 * side * side);
    rows.flat().forEach((v, i) => v.forEach((x, c) => (data[4 * i + c] = DataUtils.toHalfFloat(x))));
    const texture = new DataTexture(data, side, side, RGBAFormat, HalfFloatType);
    texture.minFilter = texture.magFilter = LinearFilter;
    texture.needsUpdate = true;
    this.shared.reflected.value.dispose();
    this.shared.reflected.value = texture;
  }

  // stage takes what stands still: the floor, the backdrop, the contrast.
  stage(live, scene) {
    const s = this.shared;
    s.contrast.value = contrasts[scene.contrast || "soft"];
    s.bias.value = live.reach * 0.004;
    s.skyShare.value = scene.surroundings?.name === "none" ? 0 : 0.5;
    this.reach = live.reach;
    this.middle = v3(live.lo).add(v3(live.hi)).multiplyScalar(0.5);
    s.middle.value.copy(this.middle);
    s.floored.value = !!live.floor;
    s.floorY.value = live.low;
    if (this.floor) {
      this.scene.remove(this.floor);
      this.floor.geometry.dispose();
      this.floor.material.dispose();
      this.floor = null;
    }
    const kind = scene.backdrop?.kind || "sweep";
    if (live.floor) this.floor = this.makeFloor(live.floor);
    else if (kind === "clear" && scene.backdrop?.shadow) this.floor = this.makeCatcher(live);
    if (this.floor) this.scene.add(this.floor);
    this.scene.remove(this.behind);
    const mode = { colour: 1, gradient: 1, surroundings: 2 }[kind] ?? 0;
    if (mode) this.scene.add(this.behind);
    const u = this.behind.material.uniforms;
    u.mode.value = mode;
    const linear = (hex, other) => (hex ? [1, 3, 5].map((i) => toLinear(parseInt(hex.slice(i, i + 2), 16) / 255)) : other);
    const top = linear(scene.backdrop?.color, linear("#d8cdbf"));
    u.top.value.fromArray(top);
    u.foot.value.fromArray(kind === "gradient" ? linear(scene.backdrop?.below, top.map((v) => v * 0.25)) : top);
    this.shadowsAt = "";
  }

  makeFloor(f) {
    const g = new BufferGeometry();
    g.setAttribute("position", new BufferAttribute(new Float32Array(f.corners), 3));
    g.setAttribute("normal", new BufferAttribute(new Float32Array(f.normals), 3));
    const m = this.surface(f.look, "", "floor");
    m.side = DoubleSide;
    const mesh = new Mesh(g, m);
    mesh.frustumCulled = false;
    return mesh;
  }

  makeCatcher(live) {
    const look = { base: [0, 0, 0], glow: [0, 0, 0], metal: 0, rough: 1, coat: 0, coatRough: 0, clear: 0, grain: 0 };
    const m = this.surface({ ...look, along: { X: 0, Y: 0, Z: 0 } }, "", "floor");
    m.uniforms.catching.value = true;
    m.transparent = true;
    const mesh = new Mesh(new PlaneGeometry(60 * live.reach, 60 * live.reach), m);
    mesh.rotation.x = -Math.PI / 2;
    mesh.position.copy(this.middle).setY(live.low);
    return mesh;
  }

  // show takes a frame: order names the bodies of its poses.
  show(frame, order) {
    this.frame = frame;
    order.forEach((id, i) => {
      const rest = this.bodies.get(id);
      if (!rest) return;
      const b = this.grown.get(id) ?? rest;
      const p = frame.poses[i];
      rest.mesh.visible = false;
      b.mesh.visible = p[12] > 0;
      b.mesh.matrix.set(p[0], p[1], p[2], p[3], p[4], p[5], p[6], p[7], p[8], p[9], p[10], p[11], 0, 0, 0, 1);
      const grown = b === rest ? (frame.grown?.[id]?.depth ?? 1) : 1;
      if (grown !== 1) {
        // As deep as it is then, from its back on.
        const z = b.bottom;
        const deep = new Matrix4().makeTranslation(0, 0, z).multiply(new Matrix4().makeScale(1, 1, Math.max(grown, 1e-4)));
        b.mesh.matrix.multiply(deep.multiply(new Matrix4().makeTranslation(0, 0, -z)));
      }
      b.mesh.matrixWorldNeedsUpdate = true;
      const looks = frame.looks?.[i] ?? (b.mesh.material.length === b.runs.length ? null : this.looks.get(id));
      if (!looks) return;
      this.looks.set(id, looks);
      this.dress(b, looks);
    });
    this.light(frame.lights);
    this.shine();
    this.shared.exposure.value = 2 ** frame.exposure;
  }

  dress(b, looks) {
    if (b.mesh.material.length !== b.runs.length)
      b.mesh.material = b.runs.map((r) => this.surface(looks[`${r.part} ${r.sight}`], r.part, r.sight));
    else b.mesh.material.forEach((m) => this.change(m, looks[`${m.userData.part} ${m.userData.face}`]));
    for (const m of b.mesh.material) m.uniforms.thick.value = b.thick;
  }

  light(list) {
    const s = this.shared;
    s.lights.value = Math.min(mostLights, list.length);
    list.slice(0, mostLights).forEach((l, i) => {
      s.kind.value[i] = { panel: 0, spot: 1, sun: 2 }[l.kind];
      s.lightAt.value[i].copy(v3(l.at));
      s.across.value[i].copy(v3(l.across));
      s.up.value[i].copy(v3(l.up));
      s.aim.value[i].copy(v3(l.aim));
      s.angle.value[i] = l.angle;
      s.radius.value[i] = l.radius;
      s.light.value[i].fromArray(l.light);
    });
  }

  // shine sums up what glows as one light in its middle: a body that is seen from all around gives off a quarter of
  // its surface's light toward each side.
  shine() {
    const sum = new Vector3();
    const at = new Vector3();
    let all = 0;
    for (const b of this.drawn())
      b.mesh.material.forEach((m, i) => {
        const glow = m.uniforms.glow.value;
        const weight = b.areas[i].area * (glow.x + glow.y + glow.z);
        if (!b.mesh.visible || !weight) return;
        sum.addScaledVector(glow, b.areas[i].area / (4 * Math.PI));
        at.addScaledVector(b.areas[i].middle.clone().applyMatrix4(b.mesh.matrix), weight);
        all += weight;
      });
    this.shared.glowing.value.copy(sum);
    this.shared.glowAt.value.copy(all ? at.divideScalar(all) : at);
    this.shared.glowReach.value = 0.5 * (this.reach || 1);
  }

  // look places the camera for a picture of an aspect (core/picture, scene.go).
  look(c, aspect) {
    const cam = this.camera;
    const eye = v3(c.eye);
    const ahead = v3(c.aim).sub(eye).normalize();
    const upright = Math.abs(ahead.y) > 0.9999 ? new Vector3(0, 0, -1) : new Vector3(0, 1, 0);
    let right = ahead.clone().cross(upright).normalize();
    let up = right.clone().cross(ahead);
    if (c.roll) {
      const [sin, cos] = [Math.sin(c.roll), Math.cos(c.roll)];
      [right, up] = [right.clone().multiplyScalar(cos).addScaledVector(up, sin), up.clone().multiplyScalar(cos).addScaledVector(right, -sin)];
    }
    cam.matrix.makeBasis(right, up, ahead.clone().negate()).setPosition(eye);
    cam.matrixWorld.copy(cam.matrix);
    cam.matrixWorldInverse.copy(cam.matrix).invert();
    const far = eye.distanceTo(this.middle ?? new Vector3());
    const near = Math.max(far / 500, far - 3 * this.reach);
    const half = (18 / c.focal) * near;
    const [sx, sy] = [c.shift[0] * 2 * half, c.shift[1] * 2 * half];
    cam.projectionMatrix.makePerspective(-half + sx, half + sx, half / aspect + sy, -half / aspect + sy, near, far + 40 * this.reach);
    cam.projectionMatrixInverse.copy(cam.projectionMatrix).invert();
    this.shared.eye.value.copy(eye);
    this.shared.onFilm.value.copy(cam.projectionMatrix).multiply(cam.matrixWorldInverse);
    this.behind.material.uniforms.toWorld.value.copy(cam.matrixWorld).multiply(cam.projectionMatrixInverse);
  }

  // project returns where on the picture a place is seen, from 0 to 1, and whether it lies
  // ahead.
  project(p) {
    const q = p.clone().applyMatrix4(this.camera.matrixWorldInverse);
    const ahead = q.z < 0;
    q.applyMatrix4(this.camera.projectionMatrix);
    return { x: (q.x + 1) / 2, y: (1 - q.y) / 2, ahead };
  }

  size(w, h, ratio = 1) {
    this.renderer.setPixelRatio(ratio);
    this.renderer.setSize(w, h, false);
  }

  // shadows draws the maps of all lamps that can have one.
  shadows() {
    const s = this.shared;
    const now = JSON.stringify([this.frame.lights, this.frame.poses, this.frame.grown]);
    if (now === this.shadowsAt) return;
    this.shadowsAt = now;
    const r = this.renderer;
    const floor = this.floor?.visible;
    if (this.floor) this.floor.visible = false;
    this.behind.visible = false;
    this.scene.overrideMaterial = this.depthOnly;
    r.setRenderTarget(this.shadow);
    r.clear();
    const reach = this.reach * 1.7;
    for (let i = 0; i < Math.min(mostShadows, s.lights.value); i++) {
      const at = s.lightAt.value[i];
      let cam;
      if (s.kind.value[i] === 2) {
        cam = new OrthographicCamera(-reach, reach, reach, -reach, 0.1, 8 * reach);
        cam.position.copy(at).multiplyScalar(4 * reach).add(this.middle);
        s.shadowWide.value[i] = 2;
      } else {
        const far = Math.max(reach * 1.05, at.distanceTo(this.middle));
        const half = Math.asin(Math.min(0.95, reach / far));
        cam = new PerspectiveCamera((360 / Math.PI) * half, 1, Math.max(0.02 * far, far - reach), far + reach);
        cam.position.copy(at);
        s.shadowWide.value[i] = 2 * far * Math.tan(half);
      }
      cam.up.set(0, Math.abs(at.clone().sub(this.middle).normalize().y) > 0.99 ? 0 : 1, 0.01);
      cam.lookAt(this.middle);
      cam.updateMatrixWorld();
      cam.updateProjectionMatrix();
      s.shadowMatrix.value[i].copy(cam.projectionMatrix).multiply(cam.matrixWorldInverse);
      const [x, y] = [(i & 1) * shadowSide, (i >> 1) * shadowSide];
      this.shadow.viewport.set(x, y, shadowSide, shadowSide);
      this.shadow.scissor.set(x, y, shadowSide, shadowSide);
      this.shadow.scissorTest = true;
      r.setRenderTarget(this.shadow);
      r.render(this.scene, cam);
    }
    this.shadow.scissorTest = false;
    this.shadow.viewport.set(0, 0, 2 * shadowSide, 2 * shadowSide);
    this.shadow.scissor.set(0, 0, 2 * shadowSide, 2 * shadowSide);
    r.setRenderTarget(null);
    this.scene.overrideMaterial = null;
    this.behind.visible = true;
    if (this.floor) this.floor.visible = floor;
  }

  draw() {
    this.shadows();
    const r = this.renderer;
    r.setClearColor(0, 0);
    this.drawBehind();
    r.clear();
    r.render(this.scene, this.camera);
  }

  // drawBehind draws what is seen through clear things, where there are any: all others, as light.
  drawBehind() {
    const clear = this.drawn().flatMap((b) => b.mesh.material).filter((m) => m.userData.clear);
    if (!clear.length) return;
    const r = this.renderer;
    const size = r.getDrawingBufferSize(new Vector2());
    this.film ??= new WebGLRenderTarget(1, 1, {
      type: HalfFloatType,
      minFilter: betweenSizes,
      magFilter: LinearFilter,
      generateMipmaps: true,
    });
    this.film.setSize(size.x, size.y);
    this.shared.sharp.value = (size.x * this.camera.projectionMatrix.elements[0]) / 2;
    const s = this.shared;
    for (const m of clear) m.visible = false;
    s.plainLight.value = true;
    s.behind.value = null;
    r.setRenderTarget(this.film);
    r.clear();
    r.render(this.scene, this.camera);
    r.setRenderTarget(null);
    s.plainLight.value = false;
    s.behind.value = this.film.texture;
    for (const m of clear) m.visible = true;
  }

  dispose() {
    for (const id of [...this.bodies.keys()]) this.drop(id);
    this.shadow.dispose();
    this.film?.dispose();
    this.shared.atlas.value.dispose();
    this.shared.reflected.value.dispose();
    for (const d of this.drawings.values()) d.texture.dispose();
    this.floor?.geometry.dispose();
    this.behind.geometry.dispose();
    this.renderer.dispose();
    this.renderer.forceContextLoss();
  }
}

// areasOf returns how large the faces of each run are, mm², and where the middle of them is.
function areasOf(g, runs) {
  const index = g.index?.array;
  const at = g.attributes.position;
  const corner = (k) => new Vector3().fromBufferAttribute(at, index ? index[k] : k);
  return runs.map((r) => {
    const middle = new Vector3();
    let area = 0;
    for (let k = 3 * r.start; k < 3 * (r.start + r.count); k += 3) {
      const [a, b, c] = [corner(k), corner(k + 1), corner(k + 2)];
      const one = b.clone().sub(a).cross(c.clone().sub(a)).length() / 2;
      area += one;
      middle.addScaledVector(a.add(b).add(c), one / 3);
    }
    return { area, middle: area ? middle.divideScalar(area) : middle };
  });
}

const toLinear = (v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
