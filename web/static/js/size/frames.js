// Frames: plates and beds that the piece is fitted into, some ready, own ones
// kept by name.

import { el } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { field, usual } from "../lib/field.js";
import { figure } from "../lib/length.js";
import { longestName } from "../lib/terms.js";

// Sizes in use for beds and sign plates, by size and not by maker.
const ready = [
  ["Small bed", 180, 180, 5],
  ["Usual bed", 220, 220, 5],
  ["Wide bed", 250, 210, 5],
  ["Large bed", 350, 350, 5],
  ["Door plate", 150, 60, 6],
  ["House sign", 300, 200, 12],
  ["Harbour sign", 600, 400, 25],
  ["Key tag", 60, 30, 2],
].map(([name, width, height, margin]) => ({ name, width, height, margin }));

export function frames(piece, scaled) {
  const own = { name: "Own frame", width: usual("frame.width"), height: usual("frame.height"), margin: usual("frame.margin") };
  const pick = el("select", { class: "pagepick", "aria-label": "Frame", "data-frame": "pick" });
  const set = (f) => piece.change(f.name ? `Frame: ${f.name}` : "No frame", { kind: "size", frame: f });
  pick.addEventListener("change", () => {
    const list = [...ready, ...(piece.state.size.frames ?? [])];
    const f = list[Number(pick.value)];
    set(f ?? { name: pick.value === "own" ? own.name : "", width: own.width, height: own.height, margin: own.margin });
  });
  const side = (name, of, key) => field({ of, name, value: own[key], done: (v) => set({ ...piece.state.size.frame, [key]: v }) });
  const width = side("framewidth", "frame.width", "width");
  const height = side("frameheight", "frame.height", "height");
  const margin = side("framemargin", "frame.margin", "margin");
  const name = el("input", { class: "num framename", type: "text", maxlength: longestName, "aria-label": "Name of the frame" });
  name.addEventListener("change", () => name.value.trim() && set({ ...piece.state.size.frame, name: name.value.trim() }));
  draft(name, "the name of the frame", { keeps: true });
  const button = (text, act) =>
    el("button", { class: "button is-small", type: "button", onclick: act }, text);
  const kept = () => (piece.state.size.frames ?? []).some((f) => f.name === piece.state.size.frame?.name);
  const keep = button("Save", () => {
    const { frame } = piece.state.size;
    const drop = kept();
    piece.change(`${drop ? "Delete" : "Save"} the frame ${frame.name}`, { kind: "frame", frame, drop });
  });
  const fit = button("Fit into it", () => {
    const s = piece.state;
    const f = s.size.frame;
    const room = [f.width - 2 * f.margin, f.height - 2 * f.margin];
    scaled("Fit into the frame", Math.min(room[0] / s.width, room[1] / s.height));
  });
  const says = el("p", { class: "soft" });
  const own_ = el(
    "div",
    { hidden: true },
    el("div", { class: "field-row noslider" }, el("label", {}, "Name"), name),
    width.row,
    height.row,
    margin.row,
    says,
    el("div", { class: "buttons are-small" }, fit, keep),
  );
  const box = el("div", {}, el("h2", {}, "Frame"), pick, own_);
  return {
    box,
    update(s) {
      const list = [...ready, ...(s.size.frames ?? [])];
      const f = s.size.frame;
      const at = f ? list.findIndex((o) => o.name === f.name) : -1;
      pick.replaceChildren(
        el("option", { value: "", selected: !f }, "none"),
        ...list.map((o, i) => el("option", { value: i, selected: i === at }, `${o.name}, ${o.width} × ${o.height} mm`)),
        el("option", { value: "own", selected: f && at < 0 }, f && at < 0 ? f.name : "own size"),
      );
      own_.hidden = !f;
      if (!f) return;
      if (document.activeElement !== name) name.value = f.name;
      width.set(f.width);
      height.set(f.height);
      margin.set(f.margin);
      keep.textContent = kept() ? "Delete" : "Save";
      keep.hidden = ready.some((o) => o.name === f.name);
      const over = Math.max(s.width / (f.width - 2 * f.margin), s.height / (f.height - 2 * f.margin));
      says.textContent =
        over > 1 + 1e-6
          ? `The piece is ${figure((over - 1) * 100)} % too large for it.`
          : `The piece fits; it takes ${figure(over * 100)} % of the room.`;
    },
  };
}
