// Raise: how each part becomes a body, seen on the stand.

import { complain, el, plain } from "../lib/page.js";
import { Solids } from "../stand/solids.js";
import { coloursOffer } from "./colours.js";
import { fields } from "./fields.js";
import { toolbar } from "./partstools.js";
import { reliefOffer } from "./relief.js";
import { patched, section } from "./section.js";

export const keys = [
  ["V", "Next view of the piece"],
  ["F", "Fit the piece into the view"],
  ["C", "Next shading"],
  ["Click", "Select the part under the pointer; with Shift beside others"],
  ["Alt drag", "Draw a lasso around parts"],
  ["F2", "Rename the part in the list"],
  ["Ctrl C", "Copy the measures of the part"],
  ["Ctrl V", "Give them to the parts that are selected"],
];

export function mount(ctx) {
  const { piece, panel, view } = ctx;
  const stand = ctx.stand();
  stand.attach(ctx);
  const veil = el("div", { class: "veil", hidden: true }, el("p", {}));
  view.append(veil);
  const solids = (stand.solids ??= new Solids(piece, stand));

  const targets = () => piece.picked();
  const who = () => {
    const list = targets();
    if (list.length > 1 && list.length === piece.state.parts.length) return "all parts";
    return list.length > 1 ? `${list.length} parts` : (list[0]?.name ?? "");
  };
  // A change of all parts is one of what new parts are raised like, too.
  const spread = (patch) => {
    const parts = Object.fromEntries(targets().map((p) => [p.id, patch]));
    if (targets().length === piece.state.parts.length && piece.state.parts.length > 1 && !patch.role) parts["*"] = patch;
    return parts;
  };
  const act = {
    piece,
    targets,
    who,
    // Of a relief to a height, parts have the depth of their level; what their own measures say more than is
    // usual is added to that. lift returns by how much a part is deeper than its measures say.
    lift: (p) => (piece.state.all.relief.total && p.level ? p.depth - p.how.depth : 0),
    // oneDepth tells whether the targets can be given a depth: they are not deep by their levels alone.
    oneDepth: () => targets().every((p) => !act.lift(p) || (p.level === targets()[0].level && piece.pickedSome())),
    live: (patch) => {
      const [first] = targets();
      draw(patched(first.how, patch), null);
      solids.preview(spread(patch));
    },
    done: (patch, label) => piece.change(`${label} of ${who()}`, { kind: "parts", parts: spread(patch) }),
    all: (patch, label) => piece.change(label, { kind: "allParts", ...patch }),
    // shared returns what all targets have for a figure, or null where they differ.
    shared: (get) => {
      const values = targets().map((p) => get(p.how, p));
      return values.every((v) => v === values[0]) ? values[0] : null;
    },
  };

  const title = el("h2", {}, "");
  const limits = el("ul", { class: "limited", hidden: true });
  // The section is as deep as the part is; its grip sets what the measures say.
  const own = (patch) => (patch.depth === undefined ? patch : { ...patch, depth: patch.depth - act.lift(targets()[0]) });
  const cut = section({ live: (patch) => act.live(own(patch)), done: (patch, label) => act.done(own(patch), label) });
  const draw = (how, got) => {
    const [first] = targets();
    cut.set({ ...how, depth: how.depth + act.lift(first), given: !act.oneDepth() }, got, first.role.kind);
  };
  const form = fields(act);
  const tools = toolbar(act);
  const offer = reliefOffer(act);
  const few = coloursOffer(act);
  ctx.list.before(tools.element);
  stand.pick.act = {
    name: (id) => piece.state.parts.find((p) => p.id === id)?.name ?? "",
    select: (ids, how) => {
      if (!ids.length && how === "only") piece.select("*");
      ids.forEach((id, i) => piece.select(id, i || how === "add" ? "add" : "only"));
    },
  };

  // refresh shows the measures of what is selected; fresh says that other parts are
  // selected than before.
  const refresh = (fresh) => {
    const [first] = targets();
    if (!first) {
      panel.replaceChildren();
      return;
    }
    title.textContent = `Section, ${who()}`;
    draw(first.how, solids.gotOf(first.id));
    if (fresh || !panel.contains(title)) {
      form.build();
      panel.replaceChildren(few.element, offer.element, title, cut.element, limits, form.element);
    }
    form.show();
    few.show();
    offer.show();
    sayLimits();
  };

  // sayLimits tells what of the measures could not be.
  const sayLimits = () => {
    const said = [...new Set(targets().map((p) => p.host || p.id))].flatMap((id) =>
      solids.limitsOf(id).map((text) => [id, text]),
    );
    limits.hidden = !said.length;
    const name = (id) => piece.state.parts.find((p) => p.id === id)?.name ?? "";
    const shown = said.slice(0, 3).map(([id, text]) => el("li", {}, `${name(id)}: ${text}.`));
    if (said.length > 3) shown.push(el("li", {}, `and ${said.length - 3} more`));
    limits.replaceChildren(...shown);
  };
  solids.onBuilt = () => {
    sayLimits();
    const [first] = targets();
    if (first) draw(first.how, solids.gotOf(first.id));
  };

  // Measures are copied as text, so that they can go to another piece, too.
  const copying = (e) => {
    if (!plain({ target: e.target }) || String(getSelection())) return;
    const [first] = targets();
    if (!first) return;
    e.preventDefault();
    e.clipboardData.setData("text/plain", JSON.stringify({ measures: first.how }));
    piece.say(`The measures of ${first.name} are copied`);
  };
  const pasting = (e) => {
    if (!plain({ target: e.target })) return;
    let measures;
    try {
      ({ measures } = JSON.parse(e.clipboardData.getData("text/plain")));
    } catch {
      return; // something else, see frame
    }
    if (!measures?.front) return;
    e.preventDefault();
    e.stopPropagation();
    act.done({ all: measures }, "Measures");
  };
  ctx.on(document, "copy", copying);
  ctx.on(document, "paste", pasting, { capture: true });

  return {
    update(state) {
      veil.hidden = !state.problem;
      veil.firstChild.textContent = state.problem
        ? `${state.problem} Go back to Intake to choose shapes.`
        : "";
      tools.show(state);
      refresh(false);
      solids.show().catch(complain);
    },
    select() {
      refresh(true);
      tools.show(piece.state);
      stand.light(piece.pickedSome() ? targets().map((p) => p.id) : []);
    },
    unmount() {
      tools.element.remove();
      solids.stop();
      stand.detach();
    },
  };
}

