// Lamps, surroundings and backdrop.

import { uploadTo } from "../lib/api.js";
import { field, firstOf, listOf, optionsOf, usual } from "../lib/field.js";
import { el } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";

const title = (text) => text.charAt(0).toUpperCase() + text.slice(1);
// The figures of a lamp: path in it, figure of the table, kinds that have it.
const figures = [
  ["strength", "lamp.strength", "panel spot sun"],
  ["kelvin", "lamp.kelvin", "panel spot sun"],
  ["size.0", "lamp.width", "panel"],
  ["size.1", "lamp.height", "panel"],
  ["size.0", "lamp.diameter", "spot"],
  ["angle", "lamp.cone", "spot"],
  ["angle", "lamp.disc", "sun"],
  ["at.0", "lamp.x", "panel spot sun"],
  ["at.1", "lamp.y", "panel spot sun"],
  ["at.2", "lamp.z", "panel spot sun"],
  ["aim.0", "lamp.aim.x", "panel spot sun"],
  ["aim.1", "lamp.aim.y", "panel spot sun"],
  ["aim.2", "lamp.aim.z", "panel spot sun"],
];
// What a new lamp is like.
const freshAngle = { spot: usual("lamp.cone"), sun: usual("lamp.disc") };

const read = (lamp, path) => path.split(".").reduce((o, k) => o?.[k], lamp) ?? 0;

export function write(lamp, path, v) {
  const out = { ...lamp, at: [...lamp.at], aim: [...(lamp.aim ?? [0, 0, 0])], size: [...(lamp.size ?? [0, 0])] };
  const [key, n] = path.split(".");
  if (n === undefined) out[key] = v;
  else out[key][Number(n)] = v;
  return out;
}

// lights makes the panel. act is {piece, scene(patch, label), look() -> what the
// server told of the scene, chosen: {lamp}, picked(name)}.
export function lights(act) {
  const { piece } = act;
  const scene = () => piece.state.scene;
  // lamps are those of the scene, or of its setting.
  const lamps = () => (scene().lamps?.length ? scene().lamps : (act.look()?.lamps ?? []));
  const current = () => lamps().find((l) => l.name === act.chosen.lamp) ?? null;
  // known reports whether the lamps are those of the state: those of a setting are told by
  // the server a moment later.
  const known = () => scene().lamps?.length > 0 || !!act.look();
  const put = (list, label) => known() && act.scene({ lamps: list }, label);
  const change = (l, label) => put(lamps().map((o) => (o.name === act.chosen.lamp ? l : o)), `${label} of ${act.chosen.lamp}`);

  const setting = listOf("setting", "setting", (v) => act.scene({ setting: v, lamps: [] }, "Lamps"));
  const list = el("ul", { class: "lamplist", "aria-label": "Lamps" });
  const button = (name, text, title_, onclick) =>
    el("button", { class: "plainbutton", type: "button", "data-act": name, title: title_, onclick }, text);
  const fresh = (kind) => {
    const r = act.look()?.reach ?? 100;
    const base = title(kind);
    let name = base;
    for (let i = 2; lamps().some((l) => l.name === name); i++) name = `${base} ${i}`;
    const round = (v) => Math.round(v);
    const size = kind === "panel" ? [round(r), round(r)] : kind === "spot" ? [round(r / 10), 0] : [0, 0];
    const at = [round(-1.2 * r), round(1.6 * r), round(2 * r)];
    return { kind, name, at, aim: [0, 0, 0], size, angle: freshAngle[kind] ?? 0, strength: -1 };
  };
  const add = (kind) => {
    if (!known()) return;
    const l = fresh(kind);
    act.picked(l.name);
    put([...lamps(), l], `Add ${l.name}`);
  };
  const adding = el("div", { class: "lampacts" }, ...optionsOf("lamp").map(([k]) => button(`add-${k}`, `+ ${k}`, `Add a ${k}`, () => add(k))));
  const drop = button("drop-lamp", "Delete", "Delete this lamp (Delete)", () => act.dropLamp());
  const twin = button("copy-lamp", "Copy", "A second one like this", () => {
    const l = current();
    if (!l) return;
    const name = fresh(l.kind).name;
    put([...lamps(), { ...l, name, at: [-l.at[0], l.at[1], l.at[2]] }], `Copy ${l.name}`);
    act.picked(name);
  });
  const name = el("input", { class: "keepname", "data-scene": "lamp-name", maxlength: 60, "aria-label": "Name of the lamp" });
  name.addEventListener("change", () => {
    const text = name.value.trim();
    if (!text || lamps().some((l) => l.name === text)) return (name.value = act.chosen.lamp ?? "");
    const l = { ...current(), name: text };
    const all = lamps().map((o) => (o.name === act.chosen.lamp ? l : o));
    act.picked(text);
    put(all, `Name of ${text}`);
  });
  draft(name, "the name of the lamp", { keeps: true });
  const color = el("input", { type: "color", "data-scene": "lamp-color", "aria-label": "Colour of the lamp" });
  color.addEventListener("change", () => change({ ...current(), color: color.value }, "Colour"));
  const white = button("lamp-white", "by warmth", "Colour by its temperature alone", () => change({ ...current(), color: "" }, "Colour"));
  const fields = figures.map(([path, of, kinds]) => {
    const made = field({ of, name: `lamp.${path}`, value: 0, done: (v) => change(write(current(), path, v), made.label) });
    return [path, kinds, made];
  });
  const one = el(
    "div",
    { class: "onelamp" },
    el("div", { class: "keepline" }, name, twin, drop),
    el("div", { class: "dial" }, el("span", {}, "Colour"), color, white),
    ...fields.map(([, , f]) => f.row),
  );

  const around = () => scene().surroundings ?? {};
  const own = "own …";
  const file = el("input", { type: "file", accept: ".hdr,.pic", hidden: true, "data-scene": "hdr" });
  file.addEventListener("change", () => {
    const [f] = file.files;
    if (f) act.surround(f);
    file.value = "";
  });
  const sky = listOf("surroundings", "surroundings", (v) => {
    if (v === own) {
      sky.set(around().name || firstOf("surroundings"));
      file.click();
    } else act.scene({ surroundings: { ...around(), name: v, file: "" } }, "Surroundings");
  });
  const skyFigures = ["turn", "strength"].map((key) => {
    const done = (v) => act.scene({ surroundings: { ...around(), [key]: v } }, `${made.label} of the surroundings`);
    const made = field({ of: `sky.${key}`, value: 0, done });
    return [key, made];
  });
  const exposure = field({ of: "exposure", value: 0, done: (v) => act.scene({ exposure: v }, "Exposure") });
  const contrast = listOf("contrast", "contrast", (v) => act.scene({ contrast: v }, "Contrast"));
  const back = behind(act, scene);

  const showLamps = () => {
    const names = lamps();
    if (!names.some((l) => l.name === act.chosen.lamp)) act.chosen.lamp = names[0]?.name ?? null;
    list.replaceChildren(
      ...names.map((l) => {
        const on = el("input", { type: "checkbox", "aria-label": `${l.name} is on` });
        on.checked = !l.off;
        on.addEventListener("change", () => {
          act.picked(l.name);
          change({ ...l, off: !on.checked }, on.checked ? "Lamp on" : "Lamp off");
        });
        const pick = el("button", { type: "button", "data-lamp": l.name, onclick: () => act.picked(l.name) }, l.name, el("i", {}, l.kind));
        pick.setAttribute("aria-pressed", String(l.name === act.chosen.lamp));
        return el("li", {}, on, pick);
      }),
    );
    const l = current();
    one.hidden = !l;
    if (l) {
      if (document.activeElement !== name) name.value = l.name;
      color.value = l.color || "#ffffff";
      for (const [path, kinds, f] of fields) {
        f.row.hidden = !kinds.split(" ").includes(l.kind);
        f.set(read(l, path));
      }
    }
  };
  const show = () => {
    setting.set(scene().setting || firstOf("setting"));
    if (known()) showLamps();
    const mine = around().file ? [[around().name, around().name]] : [];
    sky.fill([...optionsOf("surroundings"), ...mine, [own, "Own HDR panorama …"]]);
    sky.set(around().name || firstOf("surroundings"));
    for (const [key, f] of skyFigures) f.set(around()[key] ?? 0);
    exposure.set(scene().exposure ?? 0);
    contrast.set(scene().contrast || firstOf("contrast"));
    back.show();
  };
  const part = (heading, ...rows) => el("section", { class: "showgroup" }, el("h2", {}, heading), ...rows);
  const element = el(
    "div",
    {},
    part("Lamps", setting.row, list, adding, one),
    part("Surroundings", sky.row, file, ...skyFigures.map(([, f]) => f.row)),
    part("Backdrop", ...back.rows),
    part("Exposure", exposure.row, contrast.row),
  );
  return { element, show, lamps, current, put };
}

// upload sends a panorama.
export const upload = (piece, file, job) => uploadTo(`${piece.base}/surroundings?base=${piece.state.rev}`, [file], null, job);

function behind(act, scene) {
  const now = () => scene().backdrop ?? {};
  const kind = listOf("backdrop", "backdrop", (v) => act.scene({ backdrop: { ...now(), kind: v } }, "Backdrop"));
  const picker = (key, label) => {
    const input = el("input", { type: "color", "data-scene": `backdrop-${key}`, "aria-label": label });
    input.addEventListener("change", () => act.scene({ backdrop: { ...now(), [key]: input.value } }, label));
    return { input, row: el("label", { class: "dial" }, el("span", {}, label), input) };
  };
  const color = picker("color", "Colour");
  const below = picker("below", "Colour below");
  const shadow = el("input", { type: "checkbox", "data-scene": "shadow" });
  shadow.addEventListener("change", () => act.scene({ backdrop: { ...now(), shadow: shadow.checked } }, "Shadow"));
  const falls = el("label", { class: "checkline" }, shadow, " with the shadow");
  const show = () => {
    const k = now().kind || firstOf("backdrop");
    kind.set(k);
    color.input.value = now().color || "#d8cdbf";
    below.input.value = now().below || "#6f6a63";
    shadow.checked = !!now().shadow;
    color.row.hidden = k === "clear" || k === "surroundings";
    below.row.hidden = k !== "gradient";
    falls.hidden = k !== "clear";
  };
  return { rows: [kind.row, color.row, below.row, falls], show };
}
