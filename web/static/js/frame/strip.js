// The strip of measures at the bottom.

import { $ } from "../lib/page.js";
import { count, figure } from "../lib/length.js";
import { several } from "../lib/told.js";

// sizes shows the measures; before the solids are there, the depth is only the
// most that it can be.
export function sizes(state, depth, most) {
  const text = `${figure(state.width)} × ${figure(state.height)} × ${most ? "≤ " : ""}${figure(depth)} mm`;
  $("m-size").textContent = state.parts.length ? text : "–";
}

export function partCount(state) {
  $("m-parts").textContent = String(state.parts.filter((p) => !p.out).length);
}

// measured shows what was built; null stands for nothing there.
export function measured({ triangles, watertight, open, ms }) {
  $("m-tris").textContent = triangles === null ? "–" : count(triangles);
  const closed = open ? "✓ open on purpose" : "✓ watertight";
  $("m-tight").textContent = watertight === null ? "–" : watertight ? closed : "✕ not closed";
  $("m-tight").className = watertight === null ? "" : watertight ? "good" : "bad";
  $("m-time").textContent = ms === null ? "–" : time(ms);
}

// inWords tells the measures as a sentence.
export function inWords(state) {
  const [size, parts, tight] = ["m-size", "m-parts", "m-tight"].map((id) => $(id).textContent);
  const built = tight === "–" ? "being built" : tight.replace(/^\S+ /, "");
  return `${state.name}: ${several(Number(parts) || 0, "part")}, ${size.replaceAll("×", "by")}, ${built}`;
}

const time = (ms) =>
  ms >= 1000 ? `${(ms / 1000).toFixed(1)} s` : `${ms < 10 ? ms.toFixed(1) : Math.round(ms)} ms`;
