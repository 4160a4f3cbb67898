// Recipes for any piece: those that come with the program and those that were kept.

import { get, post } from "../lib/api.js";
import { bringBack, complain, el, say } from "../lib/page.js";
import { draft } from "../lib/unsaved.js";
import { picture } from "./section.js";

// recipes makes the list. act is that of raise.js.
export function recipes(act) {
  const list = el("div", { class: "recipelist" });
  const name = el("input", {
    class: "num wide",
    type: "text",
    maxlength: 60,
    placeholder: "Name",
    "aria-label": "Name of the recipe",
    "data-recipe": "name",
  });
  draft(name, "the name of a recipe");
  const file = el("input", { type: "file", accept: ".json,application/json", hidden: true, "data-recipe": "file" });
  const button = (text, key, onclick) => el("button", { class: "button is-small", type: "button", "data-recipe": key, onclick }, text);
  const keep = button("Save these measures", "keep", () => {
    const [first] = act.targets();
    const all = act.piece.state.all;
    if (!name.value.trim()) return say("Give the recipe a name first.", { bad: true });
    const named = {
      name: name.value.trim(),
      how: first.how,
      asTube: first.role.kind === "tube",
      by: all.by,
      relief: all.relief,
      spread: all.spread,
      clearance: all.clearance,
      fused: all.fused,
    };
    return send({ named });
  });
  const open = button("From a file", "open", () => file.click());
  file.addEventListener("change", async () => {
    if (file.files[0]) await send({ document: await file.files[0].text() });
    file.value = "";
  });
  const send = async (what) => {
    try {
      const kept = await post("/recipes", what);
      if (kept.instead) {
        const back = async () => bringBack("recipe", kept.instead, show);
        say(`The recipe ${kept.name} is saved in place of the one of that name.`, { action: "Undo", stay: 12_000, act: back });
      } else say(`The recipe ${kept.name} is saved.`, { stay: 3000 });
      name.value = "";
      await show();
    } catch (e) {
      complain(e);
    }
  };
  const drop = async (r) => {
    try {
      const { dropped } = await post("/recipes/drop", { name: r.name });
      say(`The recipe ${r.name} is deleted.`, { action: "Undo", stay: 12_000, act: () => bringBack("recipe", dropped, show) });
      await show();
    } catch (e) {
      complain(e);
    }
  };
  // apply gives the selected parts the measures; what concerns all parts comes along
  // when all are selected.
  const apply = (r) => {
    const { piece } = act;
    const targets = act.targets();
    const every = targets.length === piece.state.parts.length;
    const kindOf = (p) => (r.asTube ? "tube" : p.role.kind === "tube" ? "" : p.role.kind);
    const parts = Object.fromEntries(targets.map((p) => [p.id, { all: r.how, role: { ...p.role, kind: kindOf(p) ?? "" } }]));
    if (every) parts["*"] = { all: r.how };
    const edits = [{ kind: "parts", parts }];
    if (every) {
      const { relief, spread, clearance, fused } = r;
      edits.push({ kind: "allParts", relief, spread, clearance, fused });
    }
    piece.change(`${r.name}, ${act.who()}`, ...edits);
  };
  const row = (r) =>
    el(
      "div",
      { class: "recipe" },
      el(
        "button",
        { type: "button", "data-recipe-name": r.name, title: `Give ${act.who()} these measures`, onclick: () => apply(r) },
        picture(r.how),
        el("span", {}, r.name),
      ),
      el(
        "a",
        {
          class: "plainbutton",
          href: `/recipes/file/${encodeURIComponent(r.name)}`,
          title: `Download ${r.name}`,
          "aria-label": `Download ${r.name}`,
        },
        "↧",
      ),
      r.ready
        ? null
        : el(
            "button",
            {
              class: "plainbutton",
              type: "button",
              title: `Delete ${r.name}`,
              "aria-label": `Delete ${r.name}`,
              "data-recipe-drop": r.name,
              onclick: () => drop(r),
            },
            "✕",
          ),
    );
  const show = async () => {
    const { recipes: all } = await get("/recipes");
    list.replaceChildren(...all.map(row));
  };
  show().catch(complain);
  return {
    rows: [list, el("div", { class: "recipekeep" }, name, keep, open, file)],
    show: () => {},
  };
}
