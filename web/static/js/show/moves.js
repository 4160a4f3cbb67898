// Ready moves: of the whole piece, or of its parts one after the other.

import { get, post } from "../lib/api.js";
import { field, listOf, optionsOf, select, usual } from "../lib/field.js";
import { ask, bringBack, complain, el, say } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";

// keptOf makes a move of selected keys: of the first part that has one, and of all that are no parts; its time counts from
// the first key. It also names the parts that stay out.
function keptOf(timeline) {
  const list = timeline.chosen();
  const parts = timeline.things().filter((t) => t.kind === "part");
  const isPart = (id) => parts.some((p) => p.id === id);
  const mover = list.find((t) => isPart(t.of))?.of;
  const first = Math.min(...list.flatMap((t) => t.frames));
  const named = (of) => (of === mover ? "mover" : of);
  const taken = list.filter((t) => t.of === mover || !isPart(t.of));
  const tracks = taken.map(({ of, what, frames }) => {
    const track = timeline.tracks.find((t) => t.of === of && t.what === what);
    const keys = track.keys.filter((k) => frames.includes(k.frame)).map((k) => ({ ...k, frame: k.frame - first }));
    return { of: named(of), what, into: track.into, keys };
  });
  const along = (of) => taken.some((t) => t.of === of && t.what === "along");
  const paths = (timeline.motion.paths ?? []).filter((p) => along(p.of)).map((p) => ({ ...p, of: named(p.of) }));
  const out = [...new Set(list.filter((t) => !taken.includes(t)).map((t) => parts.find((p) => p.id === t.of).name))];
  return { motion: { rate: timeline.motion.rate, reach: timeline.act.look()?.reach, tracks, paths }, out };
}

// moves opens the dialog; a click on a move takes it.
export function moves({ timeline, piece, moved, pick }) {
  const rate = timeline.rate;
  const some = piece.pickedSome();
  const parts = piece.state.parts.filter((p) => !p.out && p.host === p.id);
  const was = (timeline.asked ??= {
    values: { overlap: 0, right: 0, up: 0, markRight: 0, markUp: 0, delay: usual("move.delay"), lasts: 0, seed: usual("move.seed") },
    order: "in order",
    unit: "part",
    pivot: "",
  });
  const values = { ...was.values, from: Math.round(timeline.frame) / rate };
  const who = select(
    "move-who",
    "Moves",
    [
      ["", "the whole piece"],
      ["all", `each of the ${parts.length} parts`],
      ...(some ? [["some", `the ${piece.picked().length} selected`]] : []),
    ],
    () => show(),
  );
  const order = listOf("move-order", "order", () => show());
  const unit = listOf("move-unit", "unit", () => show());
  const pivot = select("move-pivot", "Pivot", [["", "automatic"], ...optionsOf("pivot")], () => show());
  const figure = (key, of = `move.${key}`, changed = () => {}) => {
    const done = (v) => {
      values[key] = v;
      changed();
    };
    return field({ of, name: `move.${key}`, value: values[key], slider: false, done });
  };
  const delay = figure("delay");
  const overlap = figure("overlap", "move.overlap", () => show());
  const right = figure("right", "move.x");
  const up = figure("up", "move.y");
  const markRight = figure("markRight", "move.pivot.x");
  const markUp = figure("markUp", "move.pivot.y");
  const from = figure("from");
  const lasts = figure("lasts");
  const seed = figure("seed");
  // inView closes the dialog, lets a point be picked and opens it again.
  const inView = (x, y, says) => {
    const button = el("button", { class: "plainbutton", type: "button", "data-move-pick": x, title: "Click on it in the view" }, "Pick in the view");
    button.addEventListener("click", async () => {
      remember();
      d.close();
      const at = await pick(says);
      if (at) [timeline.asked.values[x], timeline.asked.values[y]] = at;
      timeline.moves(who.input.value);
    });
    return button;
  };
  const pickFrom = inView("right", "up", "Click where the first one is. Escape leaves it as it was.");
  const pickMark = inView("markRight", "markUp", "Click the point that it turns about. Escape leaves it as it was.");
  const remember = () => (timeline.asked = { values, order: order.input.value, unit: unit.input.value, pivot: pivot.input.value });
  who.set(timeline.askedOf ?? (some ? "some" : ""));
  timeline.askedOf = null;
  order.set(was.order);
  unit.set(was.unit);
  pivot.set(was.pivot);
  const pairs = {};
  const pair = (name, ...list) => (pairs[name] = el("div", { class: "movepair" }, ...list.map((f) => f.row ?? f)));
  const rows = [
    pair("from", right, up, pickFrom),
    pair("mark", markRight, markUp, pickMark),
    pair("delay", overlap, delay),
    pair("seed", seed),
    pair("time", from, lasts),
  ];
  const show = () => {
    const apart = who.input.value !== "";
    order.row.hidden = !apart;
    unit.row.hidden = pivot.row.hidden = !apart;
    const together = !apart || order.input.value === "together" || unit.input.value === "group";
    overlap.row.hidden = together;
    delay.row.hidden = together || values.overlap > 0;
    pairs.delay.hidden = together;
    pairs.from.hidden = !apart || order.input.value !== "from a point";
    pairs.mark.hidden = !apart || pivot.input.value !== "point";
    pairs.seed.hidden = !apart || order.input.value !== "at random";
  };
  const take = async (what) => {
    remember();
    d.close();
    const ids = { all: parts.map((p) => p.id), some: piece.picked().map((p) => p.id) }[who.input.value] ?? [];
    const act = {
      ...what,
      parts: ids,
      from: Math.round(values.from * rate),
      frames: Math.round(values.lasts * rate),
      order: ids.length ? order.input.value : "",
      delay: values.overlap ? 0 : values.delay * rate,
      overlap: values.overlap,
      unit: ids.length ? unit.input.value : "",
      pivot: ids.length ? pivot.input.value : "",
      at: [values.right, values.up],
      mark: [values.markRight, values.markUp],
      seed: values.seed,
    };
    if (await piece.changeBy(() => post(`${piece.base}/move?base=${piece.state.rev}`, act))) moved();
  };
  const list = el(
    "div",
    { class: "movelist" },
    ...optionsOf("move").map(([m, label, help]) => {
      const what = [el("b", {}, label), el("span", {}, help ?? "")];
      return el("button", { type: "button", "data-move": m, onclick: () => take({ move: m }) }, ...what);
    }),
  );
  const close = el("button", { class: "button is-small", type: "button", onclick: () => d.close() }, "Close");
  const kept = keptMoves(timeline, (name) => take({ kept: name }));
  const d = ask("Ready moves", "movebox", who.row, unit.row, pivot.row, order.row, ...rows, list, ...kept, close);
  show();
  return d;
}

// keptMoves is the part of the dialog about moves that are kept by names: a click takes one, and the selected keys
// become another.
function keptMoves(timeline, take) {
  const list = el("ul", { class: "keptmoves", "aria-label": "Saved moves" });
  const small = (name, text, label, act) =>
    el("button", { class: "plainbutton", type: "button", title: label, "aria-label": label, "data-move-drop": name, onclick: act }, text);
  const refresh = async () => {
    try {
      const { moves: names } = await get("/moves");
      list.replaceChildren(
        ...names.map((name) => {
          const go = el("button", { type: "button", "data-kept-move": name, onclick: () => take(name) }, name);
          const download = { title: `Download ${name}`, "aria-label": `Download ${name}` };
          const file = el("a", { class: "plainbutton", href: `/moves/file/${encodeURIComponent(name)}`, ...download }, "↧");
          return el("li", {}, go, file, small(name, "✕", `Delete ${name}`, () => drop(name)));
        }),
      );
      if (!names.length) list.append(el("li", { class: "soft" }, "None yet."));
    } catch (e) {
      complain(e);
    }
  };
  const drop = async (name) => {
    try {
      const { dropped } = await post("/moves/drop", { name });
      say(`The move ${name} is deleted.`, { action: "Undo", stay: 12_000, act: () => bringBack("move", dropped, refresh) });
      await refresh();
    } catch (e) {
      complain(e);
    }
  };
  const send = async (what, more = "") => {
    try {
      const { name, instead } = await post("/moves", what);
      const back = { action: "Undo", stay: 12_000, act: () => bringBack("move", instead, refresh) };
      if (instead) say(`The move ${name} is saved in place of the one of that name.`, back);
      else say(`The move ${name} is saved, for any piece.${more}`, { stay: 5000 });
      field.value = "";
      settled();
      await refresh();
    } catch (e) {
      complain(e);
    }
  };
  const field = el("input", { class: "keepname", "data-move": "name", placeholder: "name", maxlength: 60, "aria-label": "Name of the move" });
  const settled = draft(field, "the name of a move");
  const keep = () => {
    const name = field.value.trim();
    if (!name) return field.focus();
    const { motion, out } = keptOf(timeline);
    return send({ name, motion }, out.length ? ` It is that of one part; ${out.join(", ")} stayed out.` : "");
  };
  field.addEventListener("keydown", (e) => e.key === "Enter" && keep());
  const file = el("input", { type: "file", accept: ".json,application/json", hidden: true, "data-move": "file" });
  file.addEventListener("change", async () => {
    if (file.files[0]) await send({ document: await file.files[0].text() });
    file.value = "";
  });
  const n = timeline.picked.size;
  const button = (name, text, act) => el("button", { class: "button is-small", type: "button", "data-move": name, onclick: act }, text);
  const keepButton = button("keep", n ? `Save the ${n === 1 ? "selected key" : `${n} selected keys`}` : "Save the selected keys", keep);
  keepButton.disabled = field.disabled = !n;
  keepButton.title = n ? "As a move for any part of any piece" : "Select keys in the timeline first";
  refresh();
  return [
    el("h3", {}, "Saved moves"),
    list,
    el("div", { class: "keepline" }, field, keepButton, button("file", "From a file", () => file.click()), file),
  ];
}
