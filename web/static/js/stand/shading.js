// How the solids on the stand are painted.

import { Color, MeshPhongMaterial, ShaderMaterial } from "../../vendor/three.min.js";

// shadings lists the ways, with their names.
export const shadings = [
  ["clay", "Clay"],
  ["colours", "Colours"],
  ["wire", "Wire"],
  ["zebra", "Zebra"],
];

const clay = "#d8c3b0";

// Stripes that lie in space and are seen in the surface as in a mirror: they run
// smoothly where the surface does.
const zebra = {
  vertexShader: `
    varying vec3 n;
    varying vec3 v;
    void main() {
      n = normalize(normalMatrix * normal);
      vec4 p = modelViewMatrix * vec4(position, 1.0);
      v = normalize(-p.xyz);
      gl_Position = projectionMatrix * p;
    }`,
  fragmentShader: `
    varying vec3 n;
    varying vec3 v;
    void main() {
      vec3 r = reflect(-v, normalize(n));
      float s = smoothstep(-0.1, 0.1, sin(7.0 * (r.y + 0.35 * r.x)));
      gl_FragColor = vec4(mix(vec3(0.13, 0.11, 0.1), vec3(0.97, 0.95, 0.92), s), 1.0);
    }`,
};

// materialFor returns the material of a part; lit marks the selected one.
export function materialFor(shading, color, lit) {
  if (shading === "zebra") return new ShaderMaterial(zebra);
  const m = new MeshPhongMaterial({
    color: shading === "colours" ? color : clay,
    shininess: 34,
    specular: "#4a4038",
  });
  if (shading === "wire") {
    m.wireframe = true;
    m.color = new Color("#4b3a30");
  }
  if (lit) m.emissive = new Color("#0d3a34");
  return m;
}
