// How the live view lights surfaces: the same materials and lamps as core/picture, but each
// light looked at once instead of followed. What comes from all around is worked out by the
// server (core/picture, ambience.go).

import { dots } from "../stand/painter.js";

export const mostLights = 6;
export const mostShadows = 4; // tiles of the atlas of shadow maps, two by two
export const shadowSide = dots(1024); // px of a tile
const taps = 28; // places of a shadow map that one pixel looks at

export const vertex = `
  out vec3 vAt;
  out vec3 vNormal;
  out vec3 vRest;
  void main() {
    vec4 at = modelMatrix * vec4(position, 1.0);
    vAt = at.xyz;
    vNormal = mat3(modelMatrix) * normal;
    vRest = position;
    gl_Position = projectionMatrix * viewMatrix * at;
  }`;

// tone is core/picture/tone.go: contrast 0 flat, 1 soft, 2 strong.
const tone = `
  float toned(float v) {
    v = max(0.0, v);
    if (contrast == 0) return min(1.0, v);
    if (contrast == 2) v = pow(v / 0.5, 1.25) * 0.5;
    const float knee = 0.6;
    return v <= knee ? v : 1.0 - (1.0 - knee) * exp(-(v - knee) / (1.0 - knee));
  }
  float encoded(float v) { return v <= 0.0031308 ? 12.92 * v : 1.055 * pow(v, 1.0 / 2.4) - 0.055; }
  vec3 shown(vec3 light) {
    light *= exposure;
    return vec3(encoded(toned(light.r)), encoded(toned(light.g)), encoded(toned(light.b)));
  }`;

const around = `
  vec3 level(int i, vec3 d) {
    float x = 0.5 + atan(d.x, -d.z) / 6.28318531;
    float y = acos(clamp(d.y, -1.0, 1.0)) / 3.14159265;
    vec4 at = levels[i]; // first column and row, width and height, px of the atlas
    vec2 p = at.xy + vec2(x * at.z, clamp(y * at.w, 0.5, at.w - 0.5));
    return texture(atlas, p / atlasSize).rgb;
  }
  vec3 mirrored(vec3 d, float rough) {
    int i = 0;
    while (i < 4 && rough > roughs[i + 1]) i++;
    float s = clamp((rough - roughs[i]) / (roughs[i + 1] - roughs[i]), 0.0, 1.0);
    return mix(level(i, d), level(i + 1, d), s);
  }
  vec3 matt(vec3 n) {
    return max(vec3(0.0), sh[0] * 0.282095 + sh[1] * 0.488603 * n.y + sh[2] * 0.488603 * n.z + sh[3] * 0.488603 * n.x
      + sh[4] * 1.092548 * n.x * n.y + sh[5] * 1.092548 * n.y * n.z + sh[6] * 0.315392 * (3.0 * n.z * n.z - 1.0)
      + sh[7] * 1.092548 * n.x * n.z + sh[8] * 0.546274 * (n.x * n.x - n.y * n.y));
  }`;

const head = `
  precision highp float;
  uniform int contrast;
  uniform float exposure;
  uniform bool plainLight; // wanted as it is, not as a picture shows it
  uniform sampler2D atlas;
  uniform vec2 atlasSize;
  uniform vec4 levels[6];
  uniform float roughs[6];
  uniform vec3 sh[9];
  out vec4 color;
  ${tone}
  ${around}`;

export const fragment = `
  ${head}
  in vec3 vAt;
  in vec3 vNormal;
  in vec3 vRest;
  uniform vec3 eye;
  uniform vec3 base;
  uniform vec3 glow;
  uniform float metal;
  uniform float rough;
  uniform float coat;
  uniform float coatRough;
  uniform float clear;
  uniform float index;
  uniform float deep; // mm of way inside after which light has the colour; 0 where walls are thin
  uniform float thick; // of the body, mm
  uniform sampler2D reflected; // what facets reflect of even light, by the eye's cosine and by roughness
  uniform sampler2D behind; // what is behind clear things, light as it is
  uniform mat4 onFilm;
  uniform float sharp; // px of the picture a radian
  uniform float grain;
  uniform vec3 along;
  uniform bool drawn;
  uniform sampler2D drawing;
  uniform vec4 drawnBox;
  uniform bool catching;
  uniform bool floored; // there is a floor at
  uniform float floorY;
  uniform vec3 middle;
  uniform float skyShare;
  uniform vec3 glowAt; // the middle of what glows, and what it gives off there, as if it were all in one place
  uniform vec3 glowing;
  uniform float glowReach;

  uniform int lights;
  uniform int kind[${mostLights}];
  uniform vec3 lightAt[${mostLights}];
  uniform vec3 across[${mostLights}];
  uniform vec3 up[${mostLights}];
  uniform vec3 aim[${mostLights}];
  uniform float angle[${mostLights}];
  uniform float radius[${mostLights}];
  uniform vec3 light[${mostLights}];
  uniform mat4 shadowMatrix[${mostShadows}];
  uniform float shadowWide[${mostShadows}];
  uniform sampler2D shadowMap;
  uniform float bias;

  // fromMiddle is in which direction from the middle of the piece that lies what a place sees in a direction: the
  // floor is so near that it matters.
  vec3 fromMiddle(vec3 at, vec3 d) {
    if (!floored || d.y > -1e-3 || at.y < floorY) return d;
    return normalize(at + d * (floorY - at.y) / d.y - middle);
  }

  float lattice(ivec3 p) {
    uint h = uint(p.x) * 0x8da6b343u ^ uint(p.y) * 0xd8163841u ^ uint(p.z) * 0xcb1ab31fu;
    h ^= h >> 16;
    h *= 0x7feb352du;
    h ^= h >> 15;
    h *= 0x846ca68bu;
    h ^= h >> 16;
    return float(h) / 2147483648.0 - 1.0;
  }
  float noise(vec3 p) {
    ivec3 i = ivec3(floor(p));
    vec3 f = fract(p);
    f = f * f * (3.0 - 2.0 * f);
    vec4 a = vec4(lattice(i), lattice(i + ivec3(0, 1, 0)), lattice(i + ivec3(0, 0, 1)), lattice(i + ivec3(0, 1, 1)));
    vec4 b = vec4(lattice(i + ivec3(1, 0, 0)), lattice(i + ivec3(1, 1, 0)), lattice(i + ivec3(1, 0, 1)), lattice(i + ivec3(1, 1, 1)));
    vec4 r = mix(a, b, f.x);
    vec2 q = mix(r.xz, r.yw, f.y);
    return mix(q.x, q.y, f.z);
  }
  // bent is core/picture/grain.go; where grains are smaller than pixels they only roughen.
  vec3 bent(vec3 n, out float rougher) {
    vec3 at = vRest;
    bool lines = dot(along, along) > 0.5;
    if (lines) at += along * dot(along, at) * (1.0 / 40.0 - 1.0);
    at /= grain;
    float shownShare = clamp(1.2 - 1.5 * max(length(dFdx(at)), length(dFdy(at))), 0.0, 1.0);
    rougher = 1.0 - shownShare;
    const float d = 0.35;
    float here = noise(at);
    vec3 slope = vec3(noise(at + vec3(d, 0, 0)) - here, noise(at + vec3(0, d, 0)) - here, noise(at + vec3(0, 0, d)) - here) * 0.16 / d;
    slope -= n * dot(slope, n);
    if (lines) slope -= along * dot(slope, along);
    return normalize(n - slope * shownShare);
  }

  // albedo is how much a gloss of white facets reflects: x of what is reflected head-on, y
  // of what is added at the rim (core/picture, microfacet.go).
  vec2 albedo(float nv, float r) {
    float side = float(textureSize(reflected, 0).x);
    return texture(reflected, (vec2(nv, r) * (side - 1.0) + 0.5) / side).rg;
  }

  vec2 tile(int i, vec2 p) { return (vec2(i & 1, i >> 1) + clamp(p, 0.002, 0.998)) * 0.5; }

  // lit is how much of a lamp reaches a place: its map looked up at some places around, as
  // far apart as what is in between makes the shadow soft: so many that one step of its border is not seen, and the
  // same for each pixel, so that it has no grain.
  float lit(int i, vec3 at, vec3 n, float wide) {
    if (i >= ${mostShadows}) return 1.0;
    vec4 p = shadowMatrix[i] * vec4(at + n * bias, 1.0);
    vec3 q = p.xyz / p.w * 0.5 + 0.5;
    // How the depth of this face changes over the map: it does not shade itself.
    vec3 dx = dFdx(q);
    vec3 dy = dFdy(q);
    float det = dx.x * dy.y - dx.y * dy.x;
    vec2 slope = abs(det) > 1e-12 ? vec2(dy.y * dx.z - dx.y * dy.z, dx.x * dy.z - dy.x * dx.z) / det : vec2(0.0);
    slope = clamp(slope, -4.0, 4.0);
    // A texel is looked up at its middle: as far off as the face changes over half of it.
    float spare = 0.0006 + 1.2 * (abs(slope.x) + abs(slope.y)) / ${shadowSide.toFixed(1)};
    float reach = clamp(wide / shadowWide[i] * 0.35, 0.004, 0.08);
    float found = 0.0;
    float n1 = 0.0;
    for (int k = 0; k < 8; k++) {
      float a = float(k) * 2.4;
      vec2 o = vec2(cos(a), sin(a)) * sqrt((float(k) + 0.5) / 8.0) * reach;
      float z = texture(shadowMap, tile(i, q.xy + o)).r;
      if (z < q.z + dot(slope, o) - spare) { found += z; n1 += 1.0; }
    }
    float mean = found / max(n1, 1.0);
    float soft = clamp((q.z - mean) / max(mean, 1e-3) * wide / shadowWide[i], 0.0012, 0.08);
    float sum = 0.0;
    for (int k = 0; k < ${taps}; k++) {
      float a = float(k) * 2.4;
      vec2 o = vec2(cos(a), sin(a)) * sqrt((float(k) + 0.5) / ${taps}.0) * soft;
      sum += texture(shadowMap, tile(i, q.xy + o)).r < q.z + dot(slope, o) - spare ? 0.0 : 1.0;
    }
    bool outside = q.x < 0.0 || q.y < 0.0 || q.x > 1.0 || q.y > 1.0 || q.z > 1.0;
    return outside || n1 < 0.5 ? 1.0 : sum / ${taps}.0;
  }

  // within is how much of a lobe of a width falls between -1 and 1, across: facets as core/picture has them.
  float within(float x, float w) {
    return 0.5 * ((x + 1.0) * inversesqrt(w * w + (x + 1.0) * (x + 1.0)) - (x - 1.0) * inversesqrt(w * w + (x - 1.0) * (x - 1.0)));
  }

  struct Seen { vec3 matt; vec3 gloss; vec3 coat; };

  float facets(float a, float nh) {
    float a2 = a * a;
    float d = nh * nh * (a2 - 1.0) + 1.0;
    return a2 / (3.14159 * d * d);
  }

  Seen lamp(int i, vec3 at, vec3 n, vec3 v) {
    Seen s = Seen(vec3(0), vec3(0), vec3(0));
    float wide = kind[i] == 0 ? length(across[i]) + length(up[i]) : kind[i] == 1 ? radius[i] * 2.0 : angle[i] * 2.0;
    vec3 r = reflect(-v, n);
    float a1 = max(0.004, rough * rough);
    float a2 = max(0.004, coatRough * coatRough);
    vec3 l;
    vec3 strength;
    if (kind[i] == 0) {
      vec3 face = normalize(cross(across[i], up[i]));
      float area = 4.0 * length(across[i]) * length(up[i]);
      float sum = 0.0;
      for (int k = 0; k < 4; k++) {
        vec3 to = lightAt[i] + across[i] * (float(k & 1) - 0.5) * 1.155 + up[i] * (float(k >> 1) - 0.5) * 1.155 - at;
        float d2 = dot(to, to);
        vec3 d = to * inversesqrt(d2);
        sum += max(0.0, dot(n, d)) * max(0.0, -dot(d, face)) / d2 * 0.25;
      }
      s.matt = light[i] * area * sum / 3.14159;
      float ahead = -dot(r, face);
      float t = dot(at - lightAt[i], face) / max(ahead, 1e-4);
      if (ahead > 0.0 && t > 0.0) {
        vec3 p = at + r * t - lightAt[i];
        vec2 half_ = vec2(length(across[i]), length(up[i]));
        vec2 q = vec2(dot(p, across[i]), dot(p, up[i])) / (half_ * half_);
        vec2 w1 = t * a1 * 2.5 / half_ + 0.003;
        vec2 w2 = t * a2 * 2.5 / half_ + 0.003;
        s.gloss = light[i] * within(q.x, w1.x) * within(q.y, w1.y);
        s.coat = light[i] * within(q.x, w2.x) * within(q.y, w2.y);
      }
    } else {
      if (kind[i] == 1) {
        vec3 to = lightAt[i] - at;
        float d2 = dot(to, to);
        l = to * inversesqrt(d2);
        float off = acos(clamp(-dot(l, aim[i]), -1.0, 1.0));
        float k = clamp((angle[i] - off) / (angle[i] * 0.3), 0.0, 1.0);
        strength = light[i] * k * k * (3.0 - 2.0 * k) / d2;
      } else {
        l = lightAt[i];
        strength = light[i];
      }
      float nl = max(0.0, dot(n, l));
      s.matt = strength * nl / 3.14159;
      vec3 h = normalize(l + v);
      float nh = max(0.0, dot(n, h));
      float nv = max(0.05, dot(n, v));
      float grow = wide * (kind[i] == 1 ? inversesqrt(dot(lightAt[i] - at, lightAt[i] - at)) : 1.0) * 0.25;
      float b1 = min(1.0, a1 + grow);
      float b2 = min(1.0, a2 + grow);
      float k = nl / (4.0 * max(nl * nv, 0.05));
      s.gloss = strength * facets(b1, nh) * k;
      s.coat = strength * facets(b2, nh) * k;
    }
    float open = lit(i, at, n, wide);
    s.matt *= open;
    s.gloss *= open;
    s.coat *= open;
    return s;
  }

  void main() {
    vec3 n = normalize(vNormal);
    vec3 v = normalize(eye - vAt);
    if (catching) {
      float shade = 0.0;
      float all = 0.0;
      for (int i = 0; i < ${mostLights}; i++) {
        if (i >= lights) break;
        Seen s = lamp(i, vAt, n, v);
        float w = dot(s.matt, vec3(1.0));
        float open = lit(i, vAt, n, kind[i] == 0 ? length(across[i]) + length(up[i]) : 0.05);
        float full = open > 0.01 ? w / open : dot(light[i], vec3(0.05));
        shade += full * (1.0 - open);
        all += full;
      }
      color = vec4(0.0, 0.0, 0.0, (1.0 - skyShare) * shade / max(all, 1e-6));
      return;
    }
    if (dot(n, v) < 0.0) n = normalize(n - v * (dot(n, v) - 0.001));
    float r = rough;
    if (grain > 0.0) {
      float rougher;
      n = bent(n, rougher);
      r = min(1.0, sqrt(r * r + 0.045 * rougher));
    }
    vec3 b = base;
    if (drawn) b = pow(texture(drawing, (vRest.xy - drawnBox.xy) / (drawnBox.zw - drawnBox.xy)).rgb, vec3(2.2));
    float nv = clamp(dot(n, v), 0.0, 1.0);
    vec3 to = reflect(-v, n);
    vec2 ab = albedo(nv, r);
    float each = ab.x + ab.y;
    vec3 mean = b + (1.0 - b) / 21.0;
    vec3 once = b * ab.x + ab.y;
    // What met several facets on its way out.
    vec3 metals = once + (1.0 - each) * once * mean / (1.0 - mean * (1.0 - each));
    float plain = (index - 1.0) * (index - 1.0) / ((index + 1.0) * (index + 1.0));
    float rim = min(1.0, 25.0 * plain);
    float lacquer = plain * ab.x + rim * ab.y;
    vec3 toGlow = glowAt - vAt;
    float far2 = dot(toGlow, toGlow);
    vec3 around = matt(n);
    if (dot(glow, vec3(1.0)) == 0.0) // what glows itself is lit by nothing else as much
      around += glowing * max(0.0, dot(n, toGlow) * inversesqrt(far2)) / (far2 + glowReach * glowReach);
    vec3 matts = around * b;
    vec3 far = fromMiddle(vAt, to);
    vec3 mirror = mirrored(far, r);
    vec3 out_ = metal * metals * mirror + (1.0 - metal) * (lacquer * mirror + (1.0 - lacquer) * matts * (1.0 - clear));
    vec2 cab = albedo(nv, coatRough);
    float coated = coat * (0.04 * cab.x + cab.y);
    vec3 over = coat > 0.0 ? coated * mirrored(far, coatRough) : vec3(0.0);
    for (int i = 0; i < ${mostLights}; i++) {
      if (i >= lights) break;
      Seen s = lamp(i, vAt, n, v);
      out_ += metal * metals * s.gloss + (1.0 - metal) * (lacquer * s.gloss + (1.0 - lacquer) * b * s.matt * (1.0 - clear));
      over += coated * s.coat;
    }
    out_ = out_ * (1.0 - coated) + over + glow;
    float share = clear * (1.0 - metal);
    float alpha = 1.0;
    if (share > 0.0) {
      // Into it, on to its other side, and out as it came; there and back between both sides is in the fraction.
      vec3 into = deep > 0.0 ? refract(-v, n, 1.0 / index) : -v;
      float way = thick / max(0.25, abs(dot(into, n)));
      vec3 tint = deep > 0.0 ? pow(max(b, vec3(1e-4)), vec3(way / deep)) : b * b;
      float f = plain + (rim - plain) * pow(1.0 - nv, 5.0);
      vec3 through = share * tint * (1.0 - f) / (1.0 + f) * (1.0 - coated);
      vec4 film = onFilm * vec4(vAt + into * (deep > 0.0 ? way : 0.0), 1.0);
      vec4 seen = textureLod(behind, film.xy / film.w * 0.5 + 0.5, log2(max(1.0, 0.5 * r * r * sharp)));
      out_ += through * seen.rgb;
      alpha = 1.0 - (1.0 - seen.a) * dot(through, vec3(0.2126, 0.7152, 0.0722));
    }
    color = plainLight ? vec4(out_, alpha) : vec4(shown(out_ / max(alpha, 1e-4)) * alpha, alpha);
  }`;

// behind fills the picture: nothing, a colour, a gradient, or the surroundings.
export const behindVertex = `
  out vec2 vPlace;
  void main() {
    vPlace = position.xy;
    gl_Position = vec4(position.xy, 0.9999, 1.0);
  }`;

export const behindFragment = `
  ${head}
  in vec2 vPlace;
  uniform int mode;
  uniform vec3 top;
  uniform vec3 foot;
  uniform mat4 toWorld;
  uniform vec3 eye;
  void main() {
    if (mode == 2) {
      vec4 p = toWorld * vec4(vPlace, 0.5, 1.0);
      vec3 light = level(0, normalize(p.xyz / p.w - eye));
      color = vec4(plainLight ? light : shown(light), 1.0);
      return;
    }
    vec3 light = mix(top, foot, 0.5 - 0.5 * vPlace.y);
    color = vec4(plainLight ? light : shown(light), 1.0);
  }`;
