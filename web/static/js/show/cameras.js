// The camera: its frame, lens and place, and those that are kept by their names.

import { field, select, usual } from "../lib/field.js";
import { el } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";

const aspects = ["16:9", "1:1", "4:5", "9:16", "3:2"];
const own = "own …";

// The figures of a camera: path in it, figure of the table.
const figures = [
  ["focal", "camera.focal"],
  ["turn", "camera.turn"],
  ["height", "camera.height"],
  ["distance", "camera.distance"],
  ["margin", "camera.margin"],
  ["shift.0", "camera.shift.x"],
  ["shift.1", "camera.shift.y"],
  ["level", "camera.level"],
  ["blur", "camera.blur"],
];

// unmoved reports whether nobody has said from where a camera looks (core/recipe, scene.go).
export const unmoved = (c) => !c.turn && !c.height && !c.distance && !(c.shift?.[0] || c.shift?.[1]);

// placed returns a camera with what stands in for figures that nobody has given.
export const placed = (c) => ({ ...c, ...(unmoved(c) ? { turn: usual("camera.turn"), height: usual("camera.height") } : {}), name: "" });

// ratioOf returns width to height of an aspect.
export function ratioOf(aspect) {
  const [w, h] = (aspect || "16:9").split(":").map(Number);
  return w > 0 && h > 0 ? w / h : 16 / 9;
}

// cameras makes the panel. act is {piece, scene(patch, label), margins(on)}.
export function cameras(act) {
  const scene = () => act.piece.state.scene;
  const now = () => scene().camera ?? {};
  const put = (patch, label) => act.scene({ camera: { ...placed(now()), ...patch } }, label);
  const text = el("input", {
    class: "keepname",
    "data-scene": "own-aspect",
    placeholder: "2.39:1",
    "aria-label": "Width to height",
    hidden: true,
  });
  text.addEventListener("change", () => put({ aspect: text.value.trim() }, "Frame"));
  const aspect = select("aspect", "Frame", [...aspects, own].map((a) => [a, a]), (v) => {
    text.hidden = v !== own;
    if (v === own) text.focus();
    else put({ aspect: v }, "Frame");
  });
  const look = select("look", "Looks at", [["", "the middle"]], (v) => put({ look: v }, "Looks at"));
  const fields = figures.map(([key, of]) => {
    const done = (v) => {
      if (!key.startsWith("shift")) return put({ [key]: v }, made.label);
      const shift = [...(now().shift ?? [0, 0])];
      shift[Number(key.at(-1))] = v;
      return put({ shift }, made.label);
    };
    const made = field({ of, name: key, value: usual(of), done });
    return [key, usual(of), made];
  });
  const button = (name, text_, title, onclick) =>
    el("button", { class: "plainbutton", type: "button", "data-act": name, title, onclick }, text_);
  const fit = button("fit-camera", "Fit to the piece", "As near as the margin lets it (F)", () => act.fit());
  const margins = el("input", { type: "checkbox", "data-scene": "margins" });
  margins.addEventListener("change", () => act.margins(margins.checked));
  const kept = el("ul", { class: "lamplist", "aria-label": "Saved cameras" });
  const name = el("input", {
    class: "keepname",
    "data-scene": "camera-name",
    placeholder: "name",
    maxlength: 60,
    "aria-label": "Name of the camera",
  });
  const keep = () => {
    const t = name.value.trim();
    if (!t) return name.focus();
    name.value = "";
    const rest = (scene().cameras ?? []).filter((c) => c.name !== t);
    act.scene({ cameras: [...rest, { ...placed(now()), name: t }] }, `Save the camera ${t}`);
  };
  draft(name, "the name of a camera");
  name.addEventListener("keydown", (e) => e.key === "Enter" && keep());
  const show = () => {
    const c = now();
    const a = c.aspect || "16:9";
    const ready = aspects.includes(a);
    aspect.set(ready ? a : own);
    text.hidden = ready && document.activeElement !== text;
    if (!ready) text.value = a;
    const parts = act.piece.state.parts.filter((o) => !o.out && o.host === o.id);
    look.fill([["", "the middle"], ...parts.map((o) => [o.id, o.name])]);
    look.set(parts.some((o) => o.id === c.look) ? c.look : "");
    const p = placed(c);
    for (const [key, own, f] of fields) {
      const v = key.startsWith("shift") ? (p.shift?.[Number(key.at(-1))] ?? 0) : p[key];
      f.set(["focal", "margin"].includes(key) ? v || own : (v ?? 0));
    }
    kept.replaceChildren(
      ...(scene().cameras ?? []).map((k) => {
        const go = () => act.scene({ camera: { ...k, name: "" } }, `Camera ${k.name}`);
        const drop = () => act.scene({ cameras: scene().cameras.filter((o) => o.name !== k.name) }, `Delete the camera ${k.name}`);
        return el(
          "li",
          {},
          el("button", { type: "button", "data-camera": k.name, onclick: go }, k.name, el("i", {}, `${k.focal || usual("camera.focal")} mm`)),
          el("button", { type: "button", class: "dropkept", title: `Delete ${k.name}`, "aria-label": `Delete ${k.name}`, onclick: drop }, "✕"),
        );
      }),
    );
  };
  const element = el(
    "div",
    {},
    el("p", { class: "soft" }, "Drag in the picture to turn, with Shift to shift it; the wheel nears."),
    aspect.row,
    text,
    look.row,
    ...fields.map(([, , f]) => f.row),
    fit,
    el("label", { class: "checkline" }, margins, " show the safe margins"),
    el("h2", {}, "Saved cameras"),
    kept,
    el("div", { class: "keepline" }, name, button("keep-camera", "Save this camera", "By a name", keep)),
  );
  return { element, show };
}
