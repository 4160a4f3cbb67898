// Recipes for any piece: those that come with the program and those that were kept.

import { get, post } from "../lib/api.js";
import { bringBack, complain, el, say } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { longestName } from "../lib/terms.js";
import { picture } from "./section.js";

const button = (text, key, onclick) => el("button", { class: "button is-small", type: "button", "data-recipe": key, onclick }, text);

// recipes makes the list. act is that of raise.js.
export function recipes(act) {
  const list = new Recipes(act);
  list.show().catch(complain);
  return { rows: [list.element, list.saving], show: () => {} };
}

class Recipes {
  constructor(act) {
    this.act = act;
    this.element = el("div", { class: "recipelist" });
    this.name = el("input", {
      class: "num wide",
      type: "text",
      maxlength: longestName,
      placeholder: "Name",
      "aria-label": "Name of the recipe",
      "data-recipe": "name",
    });
    draft(this.name, "the name of a recipe");
    const accept = ".json,application/json";
    const file = el("input", { type: "file", accept, hidden: true, "data-recipe": "file", "aria-label": "File of a recipe" });
    file.addEventListener("change", async () => {
      if (file.files[0]) await this.send({ document: await file.files[0].text() });
      file.value = "";
    });
    const save = button("Save these measures", "keep", () => this.save());
    const open = button("From a file", "open", () => file.click());
    this.saving = el("div", { class: "recipekeep" }, this.name, save, open, file);
  }

  save() {
    const [first] = this.act.targets();
    const { by, relief, spread, clearance, fused } = this.act.piece.state.all;
    const name = this.name.value.trim();
    if (!name) {
      this.name.focus();
      return say("Give the recipe a name first.", { bad: true });
    }
    return this.send({ named: { name, how: first.how, asTube: first.role.kind === "tube", by, relief, spread, clearance, fused } });
  }

  async send(what) {
    const kept = await post("/recipes", what);
    const back = async () => bringBack("recipe", kept.instead, () => this.show());
    if (kept.instead)
      say(`The recipe ${kept.name} is saved in place of the one of that name.`, { action: "Undo", stay: 12_000, act: back });
    else say(`The recipe ${kept.name} is saved.`, { stay: 3000 });
    this.name.value = "";
    await this.show();
  }

  async drop(r) {
    const { dropped } = await post("/recipes/drop", { name: r.name });
    const back = () => bringBack("recipe", dropped, () => this.show());
    say(`The recipe ${r.name} is deleted.`, { action: "Undo", stay: 12_000, act: back });
    await this.show();
  }

  // apply gives the selected parts the measures; what concerns all parts comes along
  // when all are selected.
  apply(r) {
    const { act } = this;
    const targets = act.targets();
    const every = targets.length === act.piece.state.parts.length;
    const kindOf = (p) => (r.asTube ? "tube" : p.role.kind === "tube" ? "" : p.role.kind);
    const parts = Object.fromEntries(targets.map((p) => [p.id, { all: r.how, role: { ...p.role, kind: kindOf(p) ?? "" } }]));
    if (every) parts["*"] = { all: r.how };
    /** @type {object[]} */
    const edits = [{ kind: "parts", parts }];
    if (every) {
      const { relief, spread, clearance, fused } = r;
      edits.push({ kind: "allParts", relief, spread, clearance, fused });
    }
    return act.piece.change(`${r.name}, ${act.who()}`, ...edits);
  }

  row(r) {
    const give = { type: "button", "data-recipe-name": r.name, title: `Give ${this.act.who()} these measures`, onclick: () => this.apply(r) };
    const named = (what) => ({ class: "plainbutton", title: `${what} ${r.name}`, "aria-label": `${what} ${r.name}` });
    const drop = { type: "button", ...named("Delete"), "data-recipe-drop": r.name, onclick: () => this.drop(r) };
    return el(
      "div",
      { class: "recipe" },
      el("button", give, picture(r.how), el("span", {}, r.name)),
      el("a", { ...named("Download"), href: `/recipes/file/${encodeURIComponent(r.name)}` }, "↧"),
      r.ready ? null : el("button", drop, "✕"),
    );
  }

  async show() {
    const { recipes: all } = await get("/recipes");
    this.element.replaceChildren(...all.map((r) => this.row(r)));
  }
}
