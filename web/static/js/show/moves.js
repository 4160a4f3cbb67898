// Ready moves: of the whole piece, or of its parts one after the other.

import { post } from "../lib/api.js";
import { lengthField, select } from "../lib/field.js";
import { ask, el } from "../lib/page.js";

const title = (text) => text.charAt(0).toUpperCase() + text.slice(1);
const says = {
  turntable: "once around, evenly",
  rise: "up out of the ground",
  "drop in": "falls and settles",
  "swing open": "turns into view, a little too far and back",
  "unroll from the left": "each turns down on its left edge",
  "spring out": "out of nothing, springing",
  "bounce in": "falls, and bounces till it lies",
  assemble: "parts come together from all sides",
  "light sweep": "a strip of light runs across",
  "camera round": "the camera goes from left to right",
};
const orderNames = {
  together: "all at once",
  "in order": "one after the other, as listed",
  "left to right": "from left to right",
  "right to left": "from right to left",
  "top down": "from top to bottom",
  "from the middle": "from the middle to both sides",
  "from a point": "from a point outwards",
  "at random": "at random",
};

const unitNames = { part: "each by itself", word: "words", line: "lines", group: "all as one" };

// moves opens the dialog; a click on a move takes it.
export function moves({ timeline, piece, words, moved }) {
  const rate = timeline.rate;
  const some = piece.pickedSome();
  const parts = piece.state.parts.filter((p) => !p.out && p.host === p.id);
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
  const order = select("move-order", "Follow", words.orders.map((o) => [o, orderNames[o]]), () => show());
  const unit = select("move-unit", "As one", words.units.map((u) => [u, unitNames[u]]), () => show());
  const pivot = select("move-pivot", "About", [["", "as the move has it"], ...words.pivots.map((p) => [p, `the ${p}`])], () => {});
  const values = { overlap: 0, right: 0, up: 0, delay: 0.2, from: Math.round(timeline.frame) / rate, lasts: 0, seed: 1 };
  const seconds = { unit: "s", slider: false, figure: "clip", arrow: 0.1 };
  const field = (key, label, o) => lengthField({ name: `move.${key}`, label, value: values[key], ...o, done: (v) => ((values[key] = v), o.changed?.()) });
  const delay = field("delay", "Each later by", seconds);
  const overlap = field("overlap", "Overlap", {
    unit: "%",
    scale: 100,
    slider: false,
    figure: "share",
    arrow: 10,
    words: (v) => (v ? undefined : "by time"),
    changed: () => show(),
  });
  const millimetres = { slider: false, figure: "place" };
  const right = field("right", "Point, right", millimetres);
  const up = field("up", "Point, up", millimetres);
  const from = field("from", "Begins at", seconds);
  const lasts = field("lasts", "Takes", { ...seconds, words: (v) => (v ? undefined : "to the end") });
  const seed = field("seed", "Chance number", { plain: true, slider: false, figure: "clip" });
  who.set(some ? "some" : "");
  if (some) order.set("in order");
  const show = () => {
    const apart = who.input.value !== "";
    order.row.hidden = !apart;
    unit.row.hidden = pivot.row.hidden = !apart;
    const together = !apart || order.input.value === "together" || unit.input.value === "group";
    overlap.row.hidden = together;
    delay.row.hidden = together || values.overlap > 0;
    right.row.hidden = up.row.hidden = !apart || order.input.value !== "from a point";
    seed.row.hidden = !apart || order.input.value !== "at random";
  };
  const take = async (move) => {
    d.close();
    const ids = { all: parts.map((p) => p.id), some: piece.picked().map((p) => p.id) }[who.input.value] ?? [];
    const act = {
      move,
      parts: ids,
      from: Math.round(values.from * rate),
      frames: Math.round(values.lasts * rate),
      order: ids.length ? order.input.value : "",
      delay: values.overlap ? 0 : values.delay * rate,
      overlap: values.overlap,
      unit: ids.length ? unit.input.value : "",
      pivot: ids.length ? pivot.input.value : "",
      at: [values.right, values.up],
      seed: values.seed,
    };
    if (await piece.changeBy(() => post(`${piece.base}/move?base=${piece.state.rev}`, act))) moved();
  };
  const pairs = [[right, up], [overlap, delay], [seed], [from, lasts]].map((list) => el("div", { class: "movepair" }, ...list.map((f) => f.row)));
  const list = el(
    "div",
    { class: "movelist" },
    ...words.moves.map((m) => {
      const what = [el("b", {}, title(m)), el("span", {}, says[m] ?? "")];
      return el("button", { type: "button", "data-move": m, onclick: () => take(m) }, ...what);
    }),
  );
  const close = el("button", { class: "button is-small", type: "button", onclick: () => d.close() }, "Close");
  const d = ask("Ready moves", "movebox", who.row, unit.row, pivot.row, order.row, ...pairs, list, close);
  show();
  return d;
}
