// Near colours gathered: how many shades become how many colours, shown beside the original
// before it is taken; palettes that are given, kept by name and picked from the drawing.

import { get, post } from "../lib/api.js";
import { bringBack, complain, el, say } from "../lib/page.js";
import { above } from "../lib/above.js";
import { field, oneOf, usual } from "../lib/field.js";
import { count } from "../lib/length.js";
import { draft } from "../lib/unsaved.js";
import { longestName } from "../lib/terms.js";

const mostChips = 48;
const usualCount = usual("colours");
const usualDistance = usual("shade");

const wayOf = (p) => (p.given?.length ? "given" : p.distance ? "distance" : p.count ? "count" : "");
const percent = (share) => (share > 0 && share < 0.001 ? "under 0.1 %" : `${(100 * share).toFixed(1)} %`);

// coloursLine is the line above the list of parts that tells of the colours and opens the dialog.
export function coloursLine(act) {
  const open = el(
    "button",
    { class: "plainbutton", type: "button", "data-parts": "colours", onclick: () => gather(act) },
    "",
  );
  const show = ({ all, parts }) => {
    open.hidden = all.by !== "" || all.shades < 2;
    const left = new Set(parts.map((p) => p.color)).size;
    open.textContent =
      left < all.shades ? `${count(all.shades)} shades as ${left} colours…` : `${count(all.shades)} colours…`;
    open.title = "Gather near colours to fewer, or keep all";
  };
  return { element: open, show };
}

// coloursOffer tells that a new piece began with its colours gathered, with one act to keep all.
export function coloursOffer(act) {
  const { piece } = act;
  const key = `bildhauer:colours:${piece.base}`;
  let gone = false;
  try {
    gone = localStorage.getItem(key) === "seen";
  } catch {
    // told again next time
  }
  const button = (text, name, onclick) =>
    el("button", { class: "button is-small", type: "button", "data-act": name, onclick }, text);
  const dismiss = () => {
    gone = true;
    try {
      localStorage.setItem(key, "seen");
    } catch {
      // told again next time
    }
    show();
  };
  const text = el("p", {});
  const keep = button("", "all-colours", () =>
    piece.change("All colours kept", { kind: "allParts", palette: {} }),
  );
  const look = button("Compare", "compare-colours", () => gather(act));
  const element = el(
    "div",
    { class: "offer", "data-offer": "colours", hidden: true },
    text,
    el("div", { class: "buttons are-small mb-0" }, button("Fine", "fine-colours", dismiss), look, keep),
  );
  const show = () => {
    const { all, parts } = piece.state;
    const left = new Set(parts.map((p) => p.color)).size;
    const began = all.palette.count === usualCount && all.shades > usualCount && !all.palette.moved;
    element.hidden = gone || !began;
    text.textContent = `The ${count(all.shades)} shades of the artwork are gathered to ${left} colours, so that parts are few.`;
    keep.textContent = `Keep all ${count(all.shades)}`;
  };
  return { element, show };
}

// gather opens the dialog.
export function gather(act) {
  new Dialog(act.piece).open();
}

class Dialog {
  constructor(piece) {
    this.piece = piece;
    this.palette = structuredClone(piece.state.all.palette);
    this.held = null; // a shade that waits to be moved
    this.pictures = ["Original", "Gathered"].map((text) => el("img", { alt: text }));
    this.captions = this.pictures.map(() => el("figcaption", {}, ""));
    this.list = el("div", { class: "inklist" });
    this.told = el("p", { class: "soft" });
    this.error = el("p", { class: "field-error", role: "alert", "data-inks": "error", hidden: true });
    this.kept = el("select", { "aria-label": "Saved palettes", "data-inks": "kept" });
    this.take = el(
      "button",
      { class: "button is-primary", type: "button", "data-inks": "take", onclick: () => this.done() },
      "Take these colours",
    );
    this.form = this.makeForm();
    this.given = this.makeGiven();
  }

  makeForm() {
    const shades = this.piece.state.all.shades;
    this.way = oneOf("gathering", wayOf(this.palette), (k) => {
      const colours = this.got?.colours ?? [];
      this.put(
        {
          "": {},
          count: { count: Math.min(usualCount, shades) },
          distance: { distance: usualDistance },
          given: { given: colours.slice(0, 64) },
        }[k],
      );
    });
    this.count = field({
      of: "colours",
      value: this.palette.count ?? usualCount,
      high: Math.max(12, Math.min(shades, 24)),
      live: (v) => this.put({ count: v }),
      done: (v) => this.put({ count: v }),
    });
    this.distance = field({
      of: "shade",
      value: this.palette.distance ?? usualDistance,
      live: (v) => this.put({ distance: Math.max(v, 0.1) }),
      done: (v) => this.put({ distance: Math.max(v, 0.1) }),
    });
    return el("div", { class: "inkform" }, this.way.row, this.count.row, this.distance.row);
  }

  // makeGiven is what belongs to given colours: to add one, and to keep them by a name.
  makeGiven() {
    const colour = el("input", {
      type: "color",
      value: "#a9492b",
      "aria-label": "A colour to add",
      "data-inks": "colour",
    });
    const button = (text, name, onclick) =>
      el("button", { class: "button is-small", type: "button", "data-inks": name, onclick }, text);
    const add = button("Add", "add", () =>
      this.put({ given: [...new Set([...(this.palette.given ?? []), colour.value])] }),
    );
    const name = el("input", {
      class: "num wide",
      type: "text",
      maxlength: longestName,
      placeholder: "Name of the palette",
      "aria-label": "Name of the palette",
      "data-inks": "name",
    });
    draft(name, "the name of a palette");
    const keep = button("Save", "keep", async () => {
      try {
        const { instead } = await post("/palettes", { name: name.value, colours: this.palette.given });
        say(`The palette ${name.value.trim()} is saved.`, instead ? this.undoing(instead) : { stay: 3000 });
        this.palette.name = name.value.trim();
        name.value = "";
        await this.fillKept();
      } catch (e) {
        this.fail(e);
      }
    });
    const forget = button("Delete", "forget", async () => {
      if (!this.kept.value) return;
      try {
        const { dropped } = await post("/palettes/drop", { name: this.kept.value });
        say(`The palette ${this.kept.value} is deleted.`, this.undoing(dropped));
        await this.fillKept();
      } catch (e) {
        this.fail(e);
      }
    });
    this.kept.addEventListener("change", () => {
      const p = this.palettes.find((x) => x.name === this.kept.value);
      if (p) this.put({ given: p.colours, name: p.name });
    });
    this.swatches = el("div", { class: "inkswatches" });
    return el(
      "div",
      { class: "inkgiven", hidden: true },
      this.swatches,
      el("div", { class: "inkrow" }, colour, add, this.kept, forget),
      el("div", { class: "inkrow" }, name, keep),
    );
  }

  undoing(id) {
    return { action: "Undo", stay: 12_000, act: () => bringBack("palette", id, () => this.fillKept()) };
  }

  async fillKept() {
    const { palettes } = await get("/palettes");
    this.palettes = palettes;
    this.kept.replaceChildren(
      el("option", { value: "" }, palettes.length ? "Saved palettes" : "No saved palettes"),
      ...palettes.map((p) => el("option", { value: p.name }, p.name)),
    );
    this.kept.value = palettes.some((p) => p.name === this.palette.name) ? this.palette.name : "";
  }

  open() {
    const figures = this.pictures.map((img, i) => el("figure", {}, img, this.captions[i]));
    const cancel = el(
      "button",
      { class: "button", type: "button", "data-inks": "cancel", onclick: () => this.box.close() },
      "Cancel",
    );
    this.box = above(
      el(
        "dialog",
        { class: "inks", "aria-labelledby": "inkstitle" },
        el("h2", { id: "inkstitle" }, "Gather near colours"),
        el(
          "div",
          { class: "inkbody" },
          el("div", { class: "inkfigures" }, ...figures),
          el("div", { class: "inkside" }, this.form, this.given, this.told, this.error, this.list),
        ),
        el(
          "div",
          { class: "inkfoot" },
          this.take,
          cancel,
          el("span", { class: "soft" }, "Press a shade, then the colour that it moves to; or drag it there."),
        ),
      ),
    );
    this.fillKept().catch(complain);
    this.put(this.palette);
  }

  // put tries a palette; only the answer to the last one counts.
  async put(palette) {
    const moved = palette.moved ?? this.palette.moved;
    this.palette = { ...palette, ...(moved ? { moved } : {}) };
    this.wanted = this.palette;
    if (this.asking) return;
    this.asking = true;
    while (this.wanted) {
      const asked = this.wanted;
      this.wanted = null;
      try {
        const got = await this.piece.run("Gathering the colours", (job) =>
          post(`${this.piece.base}/data/colours`, { palette: asked, before: !this.pictures[0].src }, job),
        );
        if (!this.box.open) break;
        this.fail(null);
        if (!this.wanted) this.show(got);
      } catch (e) {
        if (!this.wanted) this.fail(e);
      }
    }
    this.asking = false;
  }

  fail(e) {
    this.error.textContent = e ? e.message : "";
    this.error.hidden = !e;
    this.take.disabled = Boolean(e);
  }

  show(got) {
    this.got = got;
    const way = wayOf(this.palette);
    this.way.set(way);
    this.count.row.hidden = way !== "count";
    this.distance.row.hidden = way !== "distance";
    this.given.hidden = way !== "given";
    if (way === "count") this.count.set(this.palette.count);
    if (way === "distance") this.distance.set(this.palette.distance);
    if (got.before) {
      const [first] = this.pictures;
      // Tall artwork is seen larger side by side.
      first.onload = () =>
        first
          .closest(".inkfigures")
          .classList.toggle("abreast", first.naturalWidth < 1.5 * first.naturalHeight);
      first.src = got.before;
    }
    this.pictures[1].src = got.after;
    this.captions[0].textContent = `Original, ${count(got.count)} shades`;
    this.captions[1].textContent = `${count(got.colours.length)} colours`;
    this.told.textContent =
      got.mean > 0
        ? `What is seen differs by ${got.mean} on average (2 is just seen side by side), one shade by ${got.most}.`
        : "Nothing changes.";
    this.swatches.replaceChildren(...(this.palette.given ?? []).map((hex) => this.swatchOf(hex)));
    this.list.replaceChildren(...got.colours.map((hex, i) => this.row(hex, got.shares[i])));
    document.body.dataset.inks = `${got.colours.length} of ${got.count}`;
  }

  swatchOf(hex) {
    const drop = () => this.put({ ...this.palette, given: this.palette.given.filter((h) => h !== hex) });
    const b = el(
      "button",
      {
        type: "button",
        class: "ink",
        title: `Delete ${hex} from the palette`,
        "data-given": hex,
        onclick: drop,
      },
      "✕",
    );
    b.style.background = hex;
    return b;
  }

  // row is a colour that is left, with the shades that it takes.
  row(hex, share) {
    const shades = this.got.shades.filter((s) => s.to === hex).sort((a, b) => b.share - a.share);
    const target = el("button", {
      type: "button",
      class: "ink large",
      title: `Move the shade that is pressed to ${hex}`,
      "data-ink": hex,
      onclick: () => this.move(this.held, hex),
    });
    target.style.background = hex;
    const more = shades.length - mostChips;
    const row = el(
      "div",
      { class: "inkline" },
      target,
      el("span", { class: "figures" }, percent(share)),
      el(
        "div",
        { class: "inkchips" },
        ...shades.slice(0, mostChips).map((s) => this.chip(s)),
        more > 0 ? el("span", { class: "soft" }, `and ${count(more)} more`) : null,
      ),
    );
    row.addEventListener("dragover", (e) => e.preventDefault());
    row.addEventListener("drop", (e) => {
      e.preventDefault();
      this.move(e.dataTransfer.getData("text/plain"), hex);
    });
    return row;
  }

  chip(s) {
    const keeps = s.keeps ? `, keeps its own for ${s.keeps}` : "";
    const press = () => {
      this.held = this.held === s.hex ? null : s.hex;
      for (const c of this.list.querySelectorAll("[data-shade]"))
        c.setAttribute("aria-pressed", String(c.dataset.shade === this.held));
    };
    const b = el("button", {
      type: "button",
      class: "ink",
      draggable: "true",
      title: `${s.hex}, ${percent(s.share)} of what is seen${keeps}`,
      "aria-pressed": "false",
      "data-shade": s.hex,
      onclick: press,
    });
    b.addEventListener("dragstart", (e) => e.dataTransfer.setData("text/plain", s.hex));
    b.style.background = s.hex;
    return b;
  }

  move(shade, to) {
    if (!shade || !this.got.shades.some((s) => s.hex === shade)) return;
    this.held = null;
    this.put({ ...this.palette, moved: { ...this.palette.moved, [shade]: to } });
  }

  done() {
    const palette = wayOf(this.palette) ? this.palette : {};
    this.box.close();
    const label = wayOf(palette) ? `Colours gathered to ${this.got.colours.length}` : "All colours kept";
    this.piece.change(label, { kind: "allParts", palette });
  }
}
