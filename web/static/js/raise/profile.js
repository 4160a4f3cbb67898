// The profile drawing: a bevel of one's own on a square, points and curves.

import { ask, el } from "../lib/page.js";
import { handle } from "../made/curves.js";
import { figures } from "../made/terms.js";
import { points } from "./profiles.js";

const S = 300; // the square
const pad = 18;
const steps = 20; // of the grid that points snap to

const X = (t) => pad + t * S;
const Y = (f) => pad + (1 - f) * S;
const snap = (v) => Math.round(Math.max(0, Math.min(1, v)) * steps) / steps;

// drawProfile opens the drawing for the rim of the selected parts.
export function drawProfile(act, which) {
  const { piece } = act;
  const rim = act.targets()[0].how[which];
  let knots = (rim.curve?.length ? rim.curve : [{ t: 0, f: 0 }, { t: 0.5, f: 0.3, bend: -1 }, { t: 1, f: 1, bend: 1 }]).map((k) => ({
    bend: 0,
    ...k,
  }));
  let picked = 0;
  const layer = el("g");
  const size = S + 2 * pad;
  const svg = el(
    "svg",
    { class: "profiledraw", viewBox: `0 0 ${size} ${size}`, role: "group", "aria-label": "Profile: rim at the left, face at the right" },
    el("path", { class: "grid", d: grid() }),
    layer,
  );
  const warn = el("p", { class: "limited", hidden: true }, "It reaches back under itself there; that piece will stand upright.");
  const name = el("input", {
    class: "num wide",
    type: "text",
    maxlength: 60,
    value: rim.name ?? "",
    placeholder: "Name, to save it",
    "aria-label": "Name of the profile",
  });
  const kept = el("select", { "aria-label": "Saved profiles" });
  const fill = () =>
    kept.replaceChildren(
      el("option", { value: "" }, piece.state.all.curves.length ? "Saved profiles" : "None saved yet"),
      ...piece.state.all.curves.map((c, i) => el("option", { value: i }, c.name)),
    );
  fill();
  kept.addEventListener("change", () => {
    const c = piece.state.all.curves[kept.value];
    if (!c) return;
    knots = c.points.map((k) => ({ bend: 0, ...k }));
    name.value = c.name;
    picked = 0;
    draw();
  });
  const under = () => knots.some((k, i) => i > 0 && k.t < knots[i - 1].t);
  const draw = () => {
    const line = points({ profile: "custom", segments: 12, curve: flat() });
    const d = line.map(([t, f]) => `${X(t).toFixed(1)} ${Y(f).toFixed(1)}`);
    layer.replaceChildren(
      el("path", { class: "body", d: `M${X(0)} ${Y(0) + 12}L${d.join("L")}L${X(1) + 12} ${Y(line[line.length - 1][1])}V${Y(0) + 12}Z` }),
      ...knots.slice(1).map((k, i) => bendGrip(i + 1)),
      ...knots.map((k, i) => knotGrip(i)),
    );
    warn.hidden = !under();
    layer.querySelector(`[data-knot="${picked}"]`)?.focus({ preventScroll: true });
  };
  // flat is the profile as it will be built: where it would reach back it stands upright.
  const flat = () => {
    let t = 0;
    return knots.map((k, i) => {
      t = i ? Math.max(t, k.t) : 0;
      return { ...k, t };
    });
  };
  const place = (e) => {
    const box = svg.getBoundingClientRect();
    const k = size / box.width;
    return [((e.clientX - box.left) * k - pad) / S, 1 - ((e.clientY - box.top) * k - pad) / S];
  };
  const dragging = (e, move) => {
    e.preventDefault();
    svg.setPointerCapture(e.pointerId);
    const go = (ev) => {
      move(...place(ev));
      draw();
    };
    const end = () => {
      svg.removeEventListener("pointermove", go);
      svg.removeEventListener("pointerup", end);
    };
    svg.addEventListener("pointermove", go);
    svg.addEventListener("pointerup", end);
  };
  const moveKnot = (i, t, f) => {
    knots[i].t = i === 0 ? 0 : snap(t);
    knots[i].f = snap(f);
  };
  const drop = (i) => {
    if (i === 0 || knots.length < 3) return;
    knots.splice(i, 1);
    picked = Math.min(picked, knots.length - 1);
    draw();
  };
  const knotGrip = (i) =>
    el("circle", {
      class: `grip${i === picked ? " picked" : ""}`,
      cx: X(knots[i].t),
      cy: Y(knots[i].f),
      r: 7,
      tabindex: 0,
      role: "slider",
      "data-knot": i,
      "aria-label": `Point ${i + 1} of ${knots.length}`,
      "aria-valuetext": `${Math.round(knots[i].t * 100)} % inward, ${Math.round(knots[i].f * 100)} % up`,
      onpointerdown: (e) => {
        picked = i;
        dragging(e, (t, f) => moveKnot(i, t, f));
      },
      onkeydown: (e) => {
        const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[e.key];
        if (e.key === "Delete") drop(i);
        if (e.key === "b" || e.key === "B") knots[i].bend = { 0: 1, 1: -1 }[knots[i].bend] ?? 0;
        if (!by && e.key !== "b" && e.key !== "B") return;
        e.preventDefault();
        picked = i;
        if (by) moveKnot(i, knots[i].t + by[0] / steps, knots[i].f + by[1] / steps);
        draw();
      },
      onfocus: () => (picked = i),
    });
  // bendGrip bends the piece that leads to a point.
  const bendGrip = (i) => {
    const a = flat()[i - 1];
    const b = flat()[i];
    const h = handle(a.t, a.f, b.t, b.f, b.bend);
    const at = [(a.t + 2 * h[0] + b.t) / 4, (a.f + 2 * h[1] + b.f) / 4];
    return el("rect", {
      class: "bendgrip",
      x: X(at[0]) - 5,
      y: Y(at[1]) - 5,
      width: 10,
      height: 10,
      onpointerdown: (e) =>
        dragging(e, (t, f) => {
          // How far from the middle of the piece, along the other diagonal.
          const w = b.t - a.t;
          const g = b.f - a.f;
          if (w <= 0 || g === 0) return;
          const s = (-(t - (a.t + b.t) / 2) / w + (f - (a.f + b.f) / 2) / g) * 2;
          const v = Math.max(-1, Math.min(1, Math.round(s * 10) / 10));
          knots[i].bend = g < 0 ? -v : v;
        }),
    });
  };
  svg.addEventListener("dblclick", (e) => {
    const [t, f] = place(e);
    if (knots.length >= figures.knots.max) return;
    let i = knots.findIndex((k) => k.t > t);
    if (i < 0) i = knots.length;
    knots.splice(Math.max(1, i), 0, { t: snap(t), f: snap(f), bend: 0 });
    picked = Math.max(1, i);
    draw();
  });
  const button = (text, name, onclick) => el("button", { class: "button is-small", type: "button", "data-act": name, onclick }, text);
  const add = button("Add a point", "knot-add", () => {
    if (knots.length >= figures.knots.max) return;
    const i = Math.min(picked, knots.length - 2);
    const [a, b] = [knots[i], knots[i + 1]];
    knots.splice(i + 1, 0, { t: snap((a.t + b.t) / 2), f: snap((a.f + b.f) / 2), bend: 0 });
    picked = i + 1;
    draw();
  });
  const remove = button("Delete the point", "knot-drop", () => drop(picked));
  const mirror = button("Mirror", "knot-mirror", () => {
    const turned = flat().map((k) => ({ t: snap(1 - k.t), f: k.f }));
    const bends = knots.map((k) => k.bend);
    knots = turned.reverse().map((k, i) => ({ ...k, bend: i ? bends[knots.length - i] : 0 }));
    if (knots[0].t > 0) knots.unshift({ t: 0, f: knots[0].f, bend: 0 });
    picked = 0;
    draw();
  });
  const curve = () => knots.map(({ t, f, bend }) => (bend ? { t, f, bend } : { t, f }));
  const use = el("button", {
    class: "button is-primary",
    type: "button",
    "data-act": "knot-use",
    onclick: () => {
      const label = name.value.trim();
      const patch = { profile: "custom", curve: curve(), name: label };
      if (!rim.width || !rim.height) Object.assign(patch, { width: 1, height: 1 });
      const edits = [{ kind: "parts", parts: Object.fromEntries(act.targets().map((p) => [p.id, { [which]: patch }])) }];
      if (label) {
        const curves = piece.state.all.curves.filter((c) => c.name !== label);
        edits.push({ kind: "allParts", curves: [...curves, { name: label, points: curve() }] });
      }
      dialog.close();
      piece.change(`Profile of ${act.who()}`, ...edits);
    },
  }, "Use this profile");
  const cancel = button("Cancel", "knot-cancel", () => dialog.close());
  const hint = el(
    "p",
    { class: "soft" },
    "The rim is at the left, the face at the right. Drag points; drag a small square to bend its piece (B); ",
    "double-click adds a point, Delete deletes one.",
  );
  const dialog = ask(
    "Profile",
    "profiledialog",
    svg,
    warn,
    el("div", { class: "buttons are-small mt-2 mb-2" }, add, remove, mirror),
    el("div", { class: "profilename" }, name, kept),
    hint,
    el("div", { class: "buttons mt-2 mb-0" }, use, cancel),
  );
  draw();
}

function grid() {
  let d = "";
  for (let i = 0; i <= 10; i++) {
    const at = pad + (S * i) / 10;
    d += `M${at} ${pad}v${S}M${pad} ${at}h${S}`;
  }
  return d;
}
