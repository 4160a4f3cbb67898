// How the solids on the stand are painted.

import { optionsOf } from "../lib/field.js";
import { Color, LineBasicMaterial, MeshBasicMaterial, MeshPhongMaterial, SRGBColorSpace, ShaderMaterial } from "../../vendor/three.min.js";

// shadings lists the ways, with their names.
export const shadings = optionsOf("shading");

export const clay = "#dfcbb8";

// Stripes that lie in space and are seen in the surface as in a mirror: they run
// smoothly where the surface does.
const zebra = {
  clipping: true,
  vertexShader: `
    #include <clipping_planes_pars_vertex>
    varying vec3 n;
    varying vec3 v;
    void main() {
      n = normalize(normalMatrix * normal);
      vec4 p = modelViewMatrix * vec4(position, 1.0);
      v = normalize(-p.xyz);
      gl_Position = projectionMatrix * p;
      vec4 mvPosition = p;
      #include <clipping_planes_vertex>
    }`,
  fragmentShader: `
    #include <clipping_planes_pars_fragment>
    varying vec3 n;
    varying vec3 v;
    void main() {
      vec4 diffuseColor = vec4(1.0);
      #include <clipping_planes_fragment>
      vec3 r = reflect(-v, normalize(n));
      float s = smoothstep(-0.1, 0.1, sin(7.0 * (r.y + 0.35 * r.x)));
      gl_FragColor = vec4(mix(vec3(0.13, 0.11, 0.1), vec3(0.97, 0.95, 0.92), s), 1.0);
    }`,
};

// A colour that is nearly black shows no form: its light is spread over the upper part of the scale. What
// lies above is left as it is.
const darkest = 0.165; // of the lightness of HSL
const lifted = 0.3;

// shown returns the colour in which a part is shown.
export function shown(hex) {
  const c = new Color(hex);
  const hsl = {};
  c.getHSL(hsl, SRGBColorSpace);
  if (hsl.l >= lifted) return hex;
  c.setHSL(hsl.h, hsl.s * (hsl.l / lifted), darkest + (hsl.l * (lifted - darkest)) / lifted, SRGBColorSpace);
  return `#${c.getHexString()}`;
}

// dimmed is a colour as if it were far away: most of it is the air of the room.
const air = new Color("#e9e0d3");

export function dimmed(hex) {
  return `#${new Color(hex).lerp(air, 0.72).getHexString()}`;
}

// Dark surfaces are told by what they mirror, not by their own colour: the light room from above, and all that is seen
// at a flat angle. The darker a colour is, the more of that is laid over it.
const mirrored = `
  {
    vec3 eye = normalize( vViewPosition );
    vec3 up = ( viewMatrix * vec4( 0.0, 1.0, 0.0, 0.0 ) ).xyz;
    float edge = pow( 1.0 - clamp( dot( eye, normal ), 0.0, 1.0 ), 3.0 );
    float room = smoothstep( -0.6, 1.0, dot( normal, up ) + 0.5 * dot( normal, vec3( -0.55, 0.0, 0.84 ) ) );
    float dark = 1.0 - smoothstep( 0.0, 0.3, dot( diffuseColor.rgb, vec3( 0.2126, 0.7152, 0.0722 ) ) );
    outgoingLight += vec3( 1.0, 0.95, 0.88 ) * dark * ( 0.04 * room + 0.2 * edge );
  }
  #include <opaque_fragment>`;

// materialFor returns the material of all bodies; their colours are those of their corners.
export function materialFor(shading) {
  if (shading === "zebra") return new ShaderMaterial(zebra);
  // Behind the lines of the wire, what is hidden is hidden by paper.
  if (shading === "wire")
    return new MeshBasicMaterial({ color: "#f7f1e8", polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 });
  const phong = new MeshPhongMaterial({ vertexColors: true, shininess: 34, specular: "#4a4038" });
  phong.onBeforeCompile = (s) => {
    s.fragmentShader = s.fragmentShader.replace("#include <opaque_fragment>", mirrored);
  };
  return phong;
}

// What bodies are painted with while the view moves and drawing is slow: light is worked out at corners alone.
const quick = {
  clipping: true,
  vertexColors: true,
  vertexShader: `
    #include <clipping_planes_pars_vertex>
    uniform vec3 key;
    uniform vec3 fill;
    varying vec3 tone;
    void main() {
      vec3 n = normalize(normalMatrix * normal);
      vec4 p = modelViewMatrix * vec4(position, 1.0);
      vec3 up = (viewMatrix * vec4(0.0, 1.0, 0.0, 0.0)).xyz;
      vec3 sky = mix(vec3(0.54, 0.39, 0.27), vec3(1.0), 0.5 + 0.5 * dot(n, up)) * 1.75;
      vec3 sun = vec3(1.0, 0.905, 0.752) * 2.5 * max(0.0, dot(n, key)) + vec3(0.737, 0.823, 0.913) * 0.55 * max(0.0, dot(n, fill));
      tone = color.rgb * (sky + sun) * 0.3183;
      gl_Position = projectionMatrix * p;
      vec4 mvPosition = p;
      #include <clipping_planes_vertex>
    }`,
  fragmentShader: `
    #include <clipping_planes_pars_fragment>
    varying vec3 tone;
    void main() {
      vec4 diffuseColor = vec4(tone, 1.0);
      #include <clipping_planes_fragment>
      gl_FragColor = diffuseColor;
      #include <colorspace_fragment>
    }`,
};

// quickFor returns that material, if there is one for a shading. key and fill are the directions of the
// lights, seen by the camera.
export function quickFor(shading, key, fill) {
  if (shading !== "clay" && shading !== "colours") return null;
  return new ShaderMaterial({ ...quick, uniforms: { key: { value: key }, fill: { value: fill } } });
}

// lines is the material of the edges of polygons.
export const lines = () => new LineBasicMaterial({ color: "#4b3a30" });
