// Ready moves: of the whole piece, or of its parts one after the other.

import { get, post } from "../lib/api.js";
import { field, listOf, optionsOf, select, usual } from "../lib/field.js";
import { ask, bringBack, complain, el, say } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { longestName } from "../lib/terms.js";

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
export const moves = (act) => new Moves(act).open();

// What is asked for at first.
const asked = () => ({
  values: { overlap: 0, right: 0, up: 0, markRight: 0, markUp: 0, delay: usual("move.delay"), lasts: 0, seed: usual("move.seed") },
  order: "in order",
  unit: "part",
  pivot: "",
});

const pair = (...list) => el("div", { class: "movepair" }, ...list.map((f) => f.row ?? f));

class Moves {
  // act is {timeline, piece, moved(), pick(says)}.
  constructor({ timeline, piece, moved, pick }) {
    this.timeline = timeline;
    this.piece = piece;
    this.moved = moved;
    this.pick = pick;
    this.rate = timeline.rate;
    this.parts = piece.state.parts.filter((p) => !p.out && p.host === p.id);
    const was = (timeline.asked ??= asked());
    this.values = { ...was.values, from: Math.round(timeline.frame) / this.rate };
    this.choose(was);
  }

  // choose makes the choices, as they were when the dialog was open last.
  choose(was) {
    const show = () => this.show();
    const some = this.piece.pickedSome();
    const whom = [["", "the whole piece"], ["all", `each of the ${this.parts.length} parts`]];
    if (some) whom.push(["some", `the ${this.piece.picked().length} selected`]);
    this.who = select("move-who", "Moves", whom, show);
    this.order = listOf("move-order", "order", show);
    this.unit = listOf("move-unit", "unit", show);
    this.pivot = select("move-pivot", "Pivot", [["", "automatic"], ...optionsOf("pivot")], show);
    this.who.set(this.timeline.askedOf ?? (some ? "some" : ""));
    this.timeline.askedOf = null;
    for (const key of ["order", "unit", "pivot"]) this[key].set(was[key]);
  }

  figure(key, of = `move.${key}`) {
    const done = (v) => {
      this.values[key] = v;
      this.show();
    };
    return field({ of, name: `move.${key}`, value: this.values[key], slider: false, done });
  }

  // inView closes the dialog, lets a point be picked and opens it again.
  inView(x, y, says) {
    const pick = async () => {
      this.remember();
      this.dialog.close();
      const at = await this.pick(says);
      if (at) [this.timeline.asked.values[x], this.timeline.asked.values[y]] = at;
      this.timeline.moves(this.who.input.value);
    };
    const attrs = { class: "plainbutton", type: "button", "data-move-pick": x, title: "Click on it in the view", onclick: pick };
    return el("button", attrs, "Pick in the view");
  }

  open() {
    const pickFrom = this.inView("right", "up", "Click where the first one is. Escape leaves it as it was.");
    const pickMark = this.inView("markRight", "markUp", "Click the point that it turns about. Escape leaves it as it was.");
    this.overlap = this.figure("overlap");
    this.delay = this.figure("delay");
    this.pairs = {
      from: pair(this.figure("right", "move.x"), this.figure("up", "move.y"), pickFrom),
      mark: pair(this.figure("markRight", "move.pivot.x"), this.figure("markUp", "move.pivot.y"), pickMark),
      delay: pair(this.overlap, this.delay),
      seed: pair(this.figure("seed")),
      time: pair(this.figure("from"), this.figure("lasts")),
    };
    const list = el(
      "div",
      { class: "movelist" },
      ...optionsOf("move").map(([move, label, help]) =>
        el("button", { type: "button", "data-move": move, onclick: () => this.take({ move }) }, el("b", {}, label), el("span", {}, help ?? "")),
      ),
    );
    const close = el("button", { class: "button is-small", type: "button", onclick: () => this.dialog.close() }, "Close");
    const kept = keptMoves(this.timeline, (name) => this.take({ kept: name }));
    const choices = [this.who, this.unit, this.pivot, this.order].map((c) => c.row);
    this.dialog = ask("Ready moves", "movebox", ...choices, ...Object.values(this.pairs), list, ...kept, close);
    this.show();
    return this.dialog;
  }

  remember() {
    const { values, order, unit, pivot } = this;
    this.timeline.asked = { values, order: order.input.value, unit: unit.input.value, pivot: pivot.input.value };
  }

  show() {
    const { pairs, values } = this;
    const apart = this.who.input.value !== "";
    for (const c of [this.order, this.unit, this.pivot]) c.row.hidden = !apart;
    const together = !apart || this.order.input.value === "together" || this.unit.input.value === "group";
    this.overlap.row.hidden = together;
    this.delay.row.hidden = together || values.overlap > 0;
    pairs.delay.hidden = together;
    pairs.from.hidden = !apart || this.order.input.value !== "from a point";
    pairs.mark.hidden = !apart || this.pivot.input.value !== "point";
    pairs.seed.hidden = !apart || this.order.input.value !== "at random";
  }

  async take(what) {
    this.remember();
    this.dialog.close();
    const { piece, rate, values } = this;
    const ids = { all: this.parts.map((p) => p.id), some: piece.picked().map((p) => p.id) }[this.who.input.value] ?? [];
    const act = {
      ...what,
      parts: ids,
      from: Math.round(values.from * rate),
      frames: Math.round(values.lasts * rate),
      order: ids.length ? this.order.input.value : "",
      delay: values.overlap ? 0 : values.delay * rate,
      overlap: values.overlap,
      unit: ids.length ? this.unit.input.value : "",
      pivot: ids.length ? this.pivot.input.value : "",
      at: [values.right, values.up],
      mark: [values.markRight, values.markUp],
      seed: values.seed,
    };
    if (await piece.changeBy(() => post(`${piece.base}/move?base=${piece.state.rev}`, act))) this.moved();
  }
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
  const field = el("input", { class: "keepname", "data-move": "name", placeholder: "name", maxlength: longestName, "aria-label": "Name of the move" });
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
