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
  assemble: "parts come together from all sides",
  "light sweep": "a strip of light runs across",
  "camera round": "the camera goes from left to right",
};
const orderNames = {
  together: "all at once",
  "in order": "one after the other, as listed",
  "left to right": "from left to right",
  "from the middle": "from the middle outwards",
  "at random": "at random",
};

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
  const values = { delay: 0.2, from: Math.round(timeline.frame) / rate, lasts: 0, seed: 1 };
  const seconds = { unit: "s", slider: false, figure: "clip", arrow: 0.1 };
  const field = (key, label, o) => lengthField({ name: `move.${key}`, label, value: values[key], ...o, done: (v) => (values[key] = v) });
  const delay = field("delay", "Each later by", seconds);
  const from = field("from", "Begins at", seconds);
  const lasts = field("lasts", "Takes", { ...seconds, words: (v) => (v ? undefined : "to the end") });
  const seed = field("seed", "Chance number", { plain: true, slider: false, figure: "clip" });
  who.set(some ? "some" : "");
  if (some) order.set("in order");
  const show = () => {
    const apart = who.input.value !== "";
    order.row.hidden = !apart;
    delay.row.hidden = !apart || order.input.value === "together";
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
      delay: values.delay * rate,
      seed: values.seed,
    };
    if (await piece.changeBy(() => post(`${piece.base}/move?base=${piece.state.rev}`, act))) moved();
  };
  const list = el(
    "div",
    { class: "movelist" },
    ...words.moves.map((m) => {
      const what = [el("b", {}, title(m)), el("span", {}, says[m] ?? "")];
      return el("button", { type: "button", "data-move": m, onclick: () => take(m) }, ...what);
    }),
  );
  const close = el("button", { class: "button is-small", type: "button", onclick: () => d.close() }, "Close");
  const d = ask("Ready moves", "movebox", who.row, order.row, delay.row, seed.row, from.row, lasts.row, list, close);
  show();
  return d;
}
