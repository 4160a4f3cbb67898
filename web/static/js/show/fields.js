// The fields of Show.

import { el } from "../lib/page.js";

const aspects = ["16:9", "1:1", "4:5", "9:16", "3:2"];
const sides = ["960", "1920", "2560"];
const qualities = [
  ["8", "quick"],
  ["32", "good"],
  ["128", "fine"],
];
const faceNames = { "": "all faces", front: "fronts", bevel: "bevels", side: "sides", back: "backs" };

const title = (text) => text.charAt(0).toUpperCase() + text.slice(1);

// dial is a figure as a slider with what it says beside it.
function dial(name, label, [min, max, step], text, done) {
  const say = el("output", {});
  const input = el("input", { type: "range", min, max, step, "data-dial": name, "aria-label": label });
  input.addEventListener("input", () => (say.textContent = text(Number(input.value))));
  input.addEventListener("change", () => done(Number(input.value)));
  const set = (v) => {
    if (document.activeElement !== input || input.value === "") input.value = v;
    say.textContent = text(Number(v));
  };
  return { row: el("label", { class: "dial" }, el("span", {}, label), input, say), set };
}

function select(name, label, options, done) {
  const input = el("select", { "data-scene": name, "aria-label": label });
  input.append(...options.map(([value, text]) => el("option", { value }, text)));
  input.addEventListener("change", () => done(input.value));
  return { row: el("label", { class: "dial" }, el("span", {}, label), input), set: (v) => (input.value = v), input };
}

const share = (v) => `${Math.round(v * 100)} %`;
const degrees = (v) => `${v}°`;
const stops = (v) => `${v > 0 ? "+" : ""}${v} stops`;

// fields makes the panel. act is {piece, words, make(), scene(patch, label), paint(faces,
// material, label)}.
export function fields(act) {
  const { piece, words } = act;
  const scene = () => piece.state.scene;
  const lists = [material(act), light(act, scene), behind(act, scene), camera(act, scene)];
  const side = select("side", "Longer side", sides.map((s) => [s, `${s} px`]), () => {});
  const samples = select("samples", "Quality", qualities, () => {});
  side.set("1920");
  samples.set("32");
  const make = el(
    "button",
    { class: "button is-primary is-fullwidth mt-2", type: "button", "data-act": "make-picture", title: "Ctrl Enter", onclick: act.make },
    "Make the picture",
  );
  const group = (heading, ...rows) => el("section", { class: "showgroup" }, el("h2", {}, heading), ...rows);
  const element = el(
    "div",
    { class: "showfields" },
    ...lists.map((l) => group(l.title, ...l.rows)),
    group("Picture", side.row, samples.row, make),
  );
  return {
    element,
    show: () => lists.forEach((l) => l.show()),
    side: () => side.input.value,
    samples: () => samples.input.value,
    words,
  };
}

// material is what the selected parts, or all, are made of.
function material(act) {
  const { piece, words } = act;
  const faces = select("faces", "On", words.faces.map((f) => [f, faceNames[f]]), () => show());
  // now returns what the first of the parts is made of: the last paint that fits.
  const now = () => {
    const id = piece.pickedSome() ? piece.picked()[0]?.id : "";
    const fits = (p) => (!p.part || p.part === id) && (!p.faces || p.faces === faces.input.value);
    return (piece.state.scene.paints ?? []).filter(fits).at(-1)?.material ?? null;
  };
  const usual = { rough: 0.45 };
  const put = (patch, label) => act.paint(faces.input.value, { ...(now() ?? usual), name: "", ...patch }, label);
  const ready = el(
    "div",
    { class: "materials", role: "group", "aria-label": "Ready materials" },
    ...words.materials.map((m) => {
      const ball = el("i");
      ball.style.setProperty("--base", m.color ?? "#9a938a");
      ball.style.setProperty("--shine", 1 - m.rough);
      const press = () => act.paint(faces.input.value, m, m.name);
      return el("button", { type: "button", "data-material": m.name, onclick: press }, ball, m.name);
    }),
  );
  const color = el("input", { type: "color", "data-scene": "color", "aria-label": "Colour" });
  color.addEventListener("change", () => put({ color: color.value }, "Colour"));
  const button = (name, text, title, onclick) =>
    el("button", { class: "plainbutton", type: "button", "data-act": name, title, onclick }, text);
  const artwork = button("artwork-colour", "drawn", "The colour of the artwork", () => put({ color: "" }, "Colour"));
  const bare = button("bare", "reset", "No material of its own", () => act.paint(faces.input.value, null, "Material"));
  const unit = [0, 1, 0.01];
  const dials = [
    ["rough", "Roughness", unit, share],
    ["metal", "Metal", unit, share],
    ["coat", "Lacquer", unit, share],
    ["glow", "Glow", [0, 20, 0.5], (v) => `${v} ×`],
    ["clear", "Lets light through", unit, share],
  ].map(([key, label, range, text]) => [key, dial(key, label, range, text, (v) => put({ [key]: v }, label))]);
  const show = () => {
    const m = now() ?? usual;
    for (const [key, d] of dials) d.set(m[key] ?? 0);
    color.value = m.color || piece.picked()[0]?.color || "#808080";
    for (const b of ready.children) b.setAttribute("aria-pressed", String(b.dataset.material === m.name));
  };
  const colours = el("div", { class: "dial" }, el("span", {}, "Colour"), color, artwork, bare);
  return { title: "Material", rows: [faces.row, ready, colours, ...dials.map(([, d]) => d.row)], show };
}

function light(act, scene) {
  const { words } = act;
  const around = () => scene().surroundings ?? {};
  const setting = select("setting", "Lamps", words.settings.map((s) => [s, title(s)]), (v) => act.scene({ setting: v }, "Lamps"));
  const sky = select("surroundings", "Around", words.surroundings.map((s) => [s, title(s)]), (v) =>
    act.scene({ surroundings: { ...around(), name: v } }, "Surroundings"),
  );
  const turn = dial("sky-turn", "Turned by", [-180, 180, 5], degrees, (v) =>
    act.scene({ surroundings: { ...around(), turn: v } }, "Turn of the surroundings"),
  );
  const strength = dial("sky-strength", "Strength", [-6, 6, 0.25], stops, (v) =>
    act.scene({ surroundings: { ...around(), strength: v } }, "Strength of the surroundings"),
  );
  const exposure = dial("exposure", "Exposure", [-6, 6, 0.25], stops, (v) => act.scene({ exposure: v }, "Exposure"));
  const contrast = select("contrast", "Contrast", words.contrasts.map((s) => [s, title(s)]), (v) => act.scene({ contrast: v }, "Contrast"));
  const show = () => {
    setting.set(scene().setting || words.settings[0]);
    sky.set(around().name || words.surroundings[0]);
    turn.set(around().turn ?? 0);
    strength.set(around().strength ?? 0);
    exposure.set(scene().exposure ?? 0);
    contrast.set(scene().contrast || words.contrasts[0]);
  };
  return { title: "Light", rows: [setting, sky, turn, strength, exposure, contrast].map((f) => f.row), show };
}

function behind(act, scene) {
  const { words } = act;
  const now = () => scene().backdrop ?? {};
  const kind = select("backdrop", "Behind", words.backdrops.map((s) => [s, title(s)]), (v) =>
    act.scene({ backdrop: { ...now(), kind: v } }, "Backdrop"),
  );
  const color = el("input", { type: "color", "data-scene": "backdrop-color", "aria-label": "Colour behind" });
  color.addEventListener("change", () => act.scene({ backdrop: { ...now(), color: color.value } }, "Colour behind"));
  const shadow = el("input", { type: "checkbox", "data-scene": "shadow" });
  shadow.addEventListener("change", () => act.scene({ backdrop: { ...now(), shadow: shadow.checked } }, "Shadow"));
  const colours = el("label", { class: "dial" }, el("span", {}, "Colour"), color);
  const falls = el("label", { class: "checkline" }, shadow, " with the shadow");
  const show = () => {
    const k = now().kind || words.backdrops[0];
    kind.set(k);
    color.value = now().color || "#d8cdbf";
    shadow.checked = !!now().shadow;
    colours.hidden = k === "clear" || k === "surroundings";
    falls.hidden = k !== "clear";
  };
  return { title: "Backdrop", rows: [kind.row, colours, falls], show };
}

function camera(act, scene) {
  const now = () => scene().camera ?? {};
  // A camera that nobody has moved stands where the program puts it.
  const still = () => !now().turn && !now().height;
  const put = (patch, label) => act.scene({ camera: { ...now(), ...(still() ? { turn: -24, height: 10 } : {}), ...patch } }, label);
  const aspect = select("aspect", "Frame", aspects.map((a) => [a, a]), (v) => put({ aspect: v }, "Frame"));
  const dials = [
    ["turn", "Turned by", [-180, 180, 1], degrees, -24],
    ["height", "Height", [-90, 90, 1], degrees, 10],
    ["focal", "Focal length", [14, 300, 1], (v) => `${v} mm`, 70],
    ["margin", "Margin", [0, 0.4, 0.01], share, 0.12],
    ["level", "Leans by", [-45, 45, 1], degrees, 0],
    ["blur", "Blur, f-number", [0, 16, 0.5], (v) => (v ? `f/${v}` : "all sharp"), 0],
  ].map(([key, label, range, text, usual]) => [key, dial(key, label, range, text, (v) => put({ [key]: v }, label)), usual]);
  const show = () => {
    aspect.set(now().aspect || "16:9");
    for (const [key, d, usual] of dials) {
      const view = key === "turn" || key === "height";
      d.set(view ? (still() ? usual : (now()[key] ?? 0)) : now()[key] || usual);
    }
  };
  return { title: "Camera", rows: [aspect.row, ...dials.map(([, d]) => d.row)], show };
}
