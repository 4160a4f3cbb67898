// Raise: how each part becomes a body, seen on the stand.

import { complain, el, plain } from "../lib/page.js";
import { Solids } from "../stand/solids.js";
import { coloursOffer } from "./colours.js";
import { fields } from "./fields.js";
import { toolbar } from "./partstools.js";
import { reliefOffer } from "./relief.js";
import { patched, section } from "./section.js";

export const mount = (ctx) => new Raise(ctx);

class Raise {
  constructor(ctx) {
    this.ctx = ctx;
    this.piece = ctx.piece;
    this.stand = ctx.stand();
    this.stand.attach(ctx);
    this.veil = el("div", { class: "veil", hidden: true }, el("p", {}));
    ctx.view.append(this.veil);
    this.solids = this.stand.solids ??= new Solids(this.piece, this.stand);
    this.act = this.makeAct();
    this.title = el("h2", {}, "");
    this.limits = el("ul", { class: "limited", hidden: true });
    const { act } = this;
    // The section is as deep as the part is; its grip sets what the measures say.
    const own = (patch) => (patch.depth === undefined ? patch : { ...patch, depth: patch.depth - act.lift(this.first) });
    this.cut = section({ live: (patch) => act.live(own(patch)), done: (patch, label) => act.done(own(patch), label) });
    this.form = fields(act);
    this.tools = toolbar(act);
    this.offer = reliefOffer(act);
    this.few = coloursOffer(act);
    // What is offered comes later than the rest: it lies in the view, where it moves nothing.
    this.offers = el("div", { class: "offers" }, this.few.element, this.offer.element);
    ctx.view.append(this.offers);
    ctx.list.before(this.tools.element);
    this.stand.pick.act = {
      name: (id) => this.nameOf(id),
      select: (ids, how) => {
        if (!ids.length && how === "only") this.piece.select("*");
        ids.forEach((id, i) => this.piece.select(id, i || how === "add" ? "add" : "only"));
      },
    };
    this.solids.onBuilt = () => this.built();
    ctx.on(document, "copy", (e) => this.copying(e));
    ctx.on(document, "paste", (e) => this.pasting(e), { capture: true });
  }

  get first() {
    return this.piece.picked()[0];
  }

  nameOf(id) {
    return this.piece.state.parts.find((p) => p.id === id)?.name ?? "";
  }

  who() {
    const list = this.piece.picked();
    if (list.length > 1 && list.length === this.piece.state.parts.length) return "all parts";
    return list.length > 1 ? `${list.length} parts` : (list[0]?.name ?? "");
  }

  // spread gives a patch to all that are selected. A change of all parts is one of what new parts are raised
  // like, too.
  spread(patch) {
    const list = this.piece.picked();
    const { parts } = this.piece.state;
    const out = Object.fromEntries(list.map((p) => [p.id, patch]));
    if (list.length === parts.length && parts.length > 1 && !patch.role) out["*"] = patch;
    return out;
  }

  // makeAct is what fields and tools know of the parts and may do with them.
  makeAct() {
    const { piece } = this;
    const targets = () => piece.picked();
    // Of a relief to a height, parts have the depth of their level; what their own measures say more than is
    // usual is added to that. lift returns by how much a part is deeper than its measures say.
    const lift = (p) => (piece.state.all.relief.total && p.level ? p.depth - p.how.depth : 0);
    return {
      piece,
      targets,
      lift,
      who: () => this.who(),
      // oneDepth tells whether the targets can be given a depth: they are not deep by their levels alone.
      oneDepth: () => targets().every((p) => !lift(p) || (p.level === targets()[0].level && piece.pickedSome())),
      live: (patch) => {
        this.draw(patched(this.first.how, patch), null);
        this.solids.preview(this.spread(patch));
      },
      done: (patch, label) => piece.change(`${label} of ${this.who()}`, { kind: "parts", parts: this.spread(patch) }),
      all: (patch, label) => piece.change(label, { kind: "allParts", ...patch }),
      // shared returns what all targets have for a figure, or null where they differ.
      shared: (get) => {
        const values = targets().map((p) => get(p.how, p));
        return values.every((v) => v === values[0]) ? values[0] : null;
      },
    };
  }

  draw(how, got) {
    const { first, act } = this;
    this.cut.set({ ...how, depth: how.depth + act.lift(first), given: !act.oneDepth() }, got, first.role.kind);
  }

  // refresh shows the measures of what is selected; fresh says that other parts are
  // selected than before.
  refresh(fresh) {
    const { first, form, few, offer, title } = this;
    const { panel } = this.ctx;
    if (!first) {
      panel.replaceChildren();
      return;
    }
    title.textContent = `Section, ${this.who()}`;
    this.draw(first.how, this.solids.gotOf(first.id));
    if (fresh || !panel.contains(title)) {
      form.build();
      panel.replaceChildren(title, this.cut.element, this.limits, form.element);
    }
    form.show();
    few.show();
    offer.show();
    this.sayLimits();
  }

  // sayLimits tells what of the measures could not be.
  sayLimits() {
    const ids = [...new Set(this.piece.picked().map((p) => p.host || p.id))];
    const said = ids.flatMap((id) => this.solids.limitsOf(id).map((text) => `${this.nameOf(id)}: ${text}.`));
    this.limits.hidden = !said.length;
    const shown = said.slice(0, 3);
    if (said.length > 3) shown.push(`and ${said.length - 3} more`);
    this.limits.replaceChildren(...shown.map((text) => el("li", {}, text)));
  }

  built() {
    this.sayLimits();
    if (this.first) this.draw(this.first.how, this.solids.gotOf(this.first.id));
  }

  // Measures are copied as text, so that they can go to another piece, too.
  copying(e) {
    if (!plain({ target: e.target }) || String(getSelection())) return;
    if (!this.first) return;
    e.preventDefault();
    e.clipboardData.setData("text/plain", JSON.stringify({ measures: this.first.how }));
    this.piece.say(`The measures of ${this.first.name} are copied`);
  }

  pasting(e) {
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
    this.act.done({ all: measures }, "Measures");
  }

  update(state) {
    this.veil.hidden = !state.problem;
    this.veil.firstChild.textContent = state.problem ? `${state.problem} Go back to Intake to choose shapes.` : "";
    this.tools.show(state);
    this.refresh(false);
    this.solids.show().catch(complain);
  }

  select() {
    this.refresh(true);
    this.tools.show(this.piece.state);
    this.stand.light(this.piece.pickedSome() ? this.piece.picked().map((p) => p.id) : []);
  }

  unmount() {
    this.tools.element.remove();
    this.offers.remove();
    this.solids.stop();
    this.stand.detach();
  }
}
