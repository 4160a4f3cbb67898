// The tree of layers, groups and shapes. Only the rows in sight are in the
// page, so thousands stay quick.

import { coarse } from "../lib/drag.js";
import { el } from "../lib/page.js";
import { count } from "../lib/length.js";
import { longestName } from "../lib/terms.js";

const rowHeight = coarse ? 40 : 26;

export const filters = [
  { id: "all", label: "All", test: () => true },
  { id: "in", label: "Included", test: (s, t) => t.included(s) },
  { id: "out", label: "Excluded", test: (s, t) => !t.included(s) },
  { id: "hidden", label: "Hidden", test: (s) => s.hidden },
  { id: "shine", label: "Shine and shade", test: (s) => s.shine },
  { id: "bitmaps", label: "Bitmaps", test: (s) => s.bitmap },
  { id: "off", label: "Off the page", test: (s) => s.offPage },
  { id: "strokes", label: "Strokes", test: (s) => s.stroke },
  { id: "texts", label: "Texts", test: (s) => !!s.text },
  { id: "tiny", label: "Tiny", test: (s, t) => s.size < t.tiny },
];

const tagsOf = (s) =>
  [s.stroke && "stroke", s.text && "text", s.hidden && "hidden", s.offPage && "off the page"].filter(Boolean).join(", ");

export class Tree {
  // act: {choose(shapes, on, what), edit(shapes, patch, what), name(group, name), group(shapes), light(keys)}
  // ctx.signal ends its listeners (frame/steps.js).
  constructor(ctx, act) {
    this.act = act;
    this.box = ctx.list;
    this.shut = new Set();
    this.selected = new Set();
    this.filter = "all";
    this.word = "";
    this.focus = null;
    this.inner = el("div", {
      class: "treerows",
      role: "tree",
      "aria-label": "Layers and shapes",
      "aria-multiselectable": "true",
    });
    this.chips = el("div", { class: "chips", role: "group", "aria-label": "Show only" });
    this.search = el("input", {
      class: "treesearch",
      type: "search",
      placeholder: "Find by name or words",
      "aria-label": "Find by name or words",
      oninput: () => {
        this.word = this.search.value.trim().toLowerCase();
        this.flatten();
      },
    });
    this.bar = el("div", { class: "treebar", hidden: true });
    this.port = el("div", { class: "treeport scroll" }, this.inner);
    this.box.replaceChildren(this.chips, this.search, this.port, this.bar);
    this.port.addEventListener("scroll", () => this.draw());
    ctx.on(window, "resize", () => this.draw());
    this.inner.addEventListener("keydown", (e) => this.key(e));
    this.inner.addEventListener("pointerover", (e) => {
      const r = this.rowAt(e.target);
      this.act.light(r ? this.keysOf(r) : []);
    });
    this.inner.addEventListener("pointerleave", () => this.act.light([]));
  }

  included(s) {
    return this.recipe.choice?.[s.key] ?? (!s.hidden && !s.offPage && !s.shine && !s.bitmap);
  }
  nameOf(s) {
    return this.recipe.shapes?.[s.key]?.name || s.name;
  }
  colorOf(s) {
    return this.recipe.shapes?.[s.key]?.color || s.color;
  }

  // set takes the drawing and the recipe in force.
  set(data, recipe) {
    this.data = data;
    this.recipe = recipe;
    this.tiny = 0.006 * Math.max(data.page[2], data.page[3], 1);
    const keys = new Set(data.shapes.map((s) => s.key));
    for (const k of this.selected) if (!keys.has(k)) this.selected.delete(k);
    this.build();
    this.flatten();
    this.paintBar();
  }

  // build makes the tree of groups; nameless groups with one child vanish.
  build() {
    const { data, recipe } = this;
    const nodes = new Map();
    const made = (recipe.newGroups ?? []).map((g) => ({
      key: g.key,
      name: g.name,
      layer: true,
      parent: -1,
    }));
    const groups = [...data.groups, ...made];
    const at = new Map(groups.map((g, i) => [g.key, i]));
    const root = { kids: [], key: "", name: "", index: -1 };
    const nodeOf = (i) => {
      if (i < 0) return root;
      if (nodes.has(i)) return nodes.get(i);
      const g = groups[i];
      const n = {
        kids: [],
        key: g.key,
        name: recipe.groupNames?.[g.key] || g.name,
        named: !!(recipe.groupNames?.[g.key] || g.name),
        layer: g.layer,
        index: i,
      };
      nodes.set(i, n);
      nodeOf(g.parent).kids.push(n);
      n.parent = nodeOf(g.parent);
      return n;
    };
    for (const s of data.shapes) {
      const moved = recipe.shapes?.[s.key]?.group;
      nodeOf(moved && at.has(moved) ? at.get(moved) : s.group).kids.push({ shape: s });
    }
    for (let i = data.groups.length; i < groups.length; i++) nodeOf(i);
    const lift = (n) => {
      n.kids = n.kids.map((k) => (k.shape ? k : lift(k)));
      return !n.named && n.index >= 0 && n.kids.length === 1 ? n.kids[0] : n;
    };
    root.kids = root.kids.map((k) => (k.shape ? k : lift(k)));
    this.root = root;
  }

  shapesOf(n) {
    return n.shape ? [n.shape] : n.kids.flatMap((k) => this.shapesOf(k));
  }
  keysOf(row) {
    return this.shapesOf(row.node).map((s) => s.key);
  }

  // flatten lists the rows that the filter and the open groups leave.
  flatten() {
    const { test } = filters.find((f) => f.id === this.filter);
    const fits = (s) =>
      test(s, this) &&
      (!this.word || `${this.nameOf(s)} ${s.text ?? ""}`.toLowerCase().includes(this.word));
    const rows = [];
    const walk = (n, depth) => {
      for (const k of n.kids) {
        if (k.shape) {
          if (fits(k.shape)) rows.push({ id: `s${k.shape.key}`, node: k, shape: k.shape, depth });
          continue;
        }
        const all = this.shapesOf(k),
          left = all.filter(fits);
        if (!left.length && (this.filter !== "all" || this.word)) continue;
        rows.push({ id: `g${k.key}`, node: k, depth, all, left });
        if (!this.shut.has(k.key)) walk(k, depth + 1);
      }
    };
    walk(this.root, 0);
    this.rows = rows;
    this.inner.style.height = `${rows.length * rowHeight}px`;
    this.paintChips();
    this.draw();
  }

  paintChips() {
    this.chips.replaceChildren(
      ...filters
        .map(({ id, label, test }) => {
          const n = this.data.shapes.filter((s) => test(s, this)).length;
          if (!n && id !== "all" && id !== this.filter) return null;
          return el(
            "button",
            {
              type: "button",
              class: "chip",
              "data-filter": id,
              "aria-pressed": String(this.filter === id),
              onclick: () => {
                this.filter = this.filter === id ? "all" : id;
                this.flatten();
              },
            },
            label,
            el("i", {}, count(n)),
          );
        })
        .filter(Boolean),
    );
  }

  draw() {
    if (!this.rows) return;
    const from = Math.max(0, Math.floor(this.port.scrollTop / rowHeight) - 8);
    const to = Math.min(this.rows.length, from + Math.ceil(this.port.clientHeight / rowHeight) + 16);
    const hadFocus =
      this.inner.contains(document.activeElement) && !document.activeElement.matches("input.rename");
    if (this.inner.querySelector("input.rename")) return; // not while a name is being written
    this.inner.replaceChildren(...this.rows.slice(from, to).map((r, i) => this.row(r, from + i)));
    if (!this.rows.length)
      this.inner.append(el("p", { class: "soft empty" }, "No shape fits this filter."));
    if (hadFocus)
      this.inner
        .querySelector(`[data-id="${CSS.escape(this.focus ?? "")}"]`)
        ?.focus({ preventScroll: true });
  }

  row(r, index) {
    const { shape } = r;
    const picked = shape ? this.selected.has(shape.key) : r.all.length > 0 && r.all.every((s) => this.selected.has(s.key));
    const name = shape ? this.nameOf(shape) : r.node.name || "Group";
    const inside = shape ? 0 : r.all.filter((s) => this.included(s)).length;
    const off = shape && !this.included(shape);
    const tags = shape ? tagsOf(shape) : `${count(inside)} of ${count(r.all.length)}`;
    const e = el(
      "div",
      {
        class: `treerow ${shape ? "shaperow" : "grouprow"}${off ? " off" : ""}${picked ? " picked" : ""}`,
        role: "treeitem",
        tabindex: this.focus === r.id || (!this.focus && index === 0) ? "0" : "-1",
        "data-id": r.id,
        "data-index": index,
        "data-key": shape?.key,
        "aria-label": `${name} ${tags}${off ? ", excluded" : ""}`,
        "aria-level": r.depth + 1,
        "aria-selected": String(picked),
        "aria-expanded": shape ? null : String(!this.shut.has(r.node.key)),
        draggable: "true",
        ...this.deeds(r, picked, name),
      },
      shape ? null : this.twist(r, name),
      this.tick(r, name, inside),
      shape ? this.colour(shape, name) : null,
      el("span", { class: "nm", title: shape?.text ? `“${shape.text}”` : name }, name),
      " ",
      el("span", { class: "tagline" }, tags),
    );
    e.style.top = `${index * rowHeight}px`;
    e.style.paddingLeft = `${4 + Math.min(r.depth, 8) * 14 + (shape ? 18 : 0)}px`;
    return e;
  }

  // deeds are what happens with a row.
  deeds(r, picked, name) {
    return {
      onclick: (ev) => this.pick(r, ev),
      ondblclick: () => this.rename(r),
      onfocus: () => (this.focus = r.id),
      ondragstart: (ev) => {
        if (!picked) this.pick(r, {});
        ev.dataTransfer.effectAllowed = "move";
        ev.dataTransfer.setData("text/plain", name);
      },
      ondragover: (ev) => {
        if (!this.target(r)) return;
        ev.preventDefault();
        ev.currentTarget.classList.add("under");
      },
      ondragleave: (ev) => ev.currentTarget.classList.remove("under"),
      ondrop: (ev) => {
        if ([...ev.dataTransfer.types].includes("Files")) return;
        ev.preventDefault();
        this.moveTo(this.target(r));
      },
    };
  }

  // Within a row, what the pointer can press has keys of the row for those who have none: its role is told to nobody else.
  twist(r, name) {
    const shut = this.shut.has(r.node.key);
    const fold = (e) => {
      e.stopPropagation();
      this.fold(r);
    };
    return el("span", { class: "twist", "aria-hidden": "true", title: `${shut ? "Open" : "Close"} ${name}`, onclick: fold });
  }

  tick(r, name, inside) {
    const { shape } = r;
    const box = el("input", {
      type: "checkbox",
      tabindex: "-1",
      "aria-hidden": "true",
      title: `Include ${name}`,
      onclick: (e) => e.stopPropagation(),
      onchange: (e) => this.act.choose(shape ? [shape] : r.all, e.target.checked, name),
    });
    box.checked = shape ? this.included(shape) : inside > 0;
    if (!shape) box.indeterminate = inside > 0 && inside < r.all.length;
    return box;
  }

  colour(shape, name) {
    const recolor = (e) => {
      e.stopPropagation();
      this.recolor(this.selected.has(shape.key) ? this.picked() : [shape]);
    };
    const title = `Colour of ${name}, ${this.colorOf(shape)}: change it`;
    const sw = el("span", { class: "sw", "aria-hidden": "true", title, onclick: recolor });
    sw.style.background = this.colorOf(shape);
    return sw;
  }

  // target is the group that a drop on a row means.
  target(r) {
    if (!r.shape) return r.node;
    for (let i = this.rows.indexOf(r); i >= 0; i--)
      if (!this.rows[i].shape && this.rows[i].depth < r.depth) return this.rows[i].node;
    return null;
  }

  moveTo(group) {
    const shapes = this.picked();
    if (!group || !group.key || !shapes.length) return;
    this.act.edit(
      shapes,
      { group: group.key },
      `Move ${what(shapes, this)} to ${group.name || "the group"}`,
    );
  }

  // moveBy moves what is selected, or the row, into the group before or after the one that the row is in.
  moveBy(r, by) {
    const groups = this.rows.filter((x) => !x.shape);
    const own = this.target(r);
    const at = groups.findIndex((x) => x.node === own);
    const to = groups[at + by]?.node;
    if (!to || !r.shape) return;
    if (!this.selected.has(r.shape.key)) this.pick(r, { type: "key" });
    this.moveTo(to);
  }

  picked() {
    return this.data.shapes.filter((s) => this.selected.has(s.key));
  }

  pick(r, e) {
    const keys = this.keysOf(r);
    if (e.shiftKey && this.anchor !== undefined) {
      const a = this.rows.findIndex((x) => x.id === this.anchor),
        b = this.rows.indexOf(r);
      if (a >= 0) {
        this.selected.clear();
        for (const x of this.rows.slice(Math.min(a, b), Math.max(a, b) + 1))
          for (const k of this.keysOf(x)) this.selected.add(k);
      }
    } else if (e.ctrlKey || e.metaKey) {
      const on = keys.every((k) => this.selected.has(k));
      for (const k of keys)
        if (on) this.selected.delete(k);
        else this.selected.add(k);
    } else {
      const only = keys.length === this.selected.size && keys.every((k) => this.selected.has(k));
      this.selected.clear();
      if (!only || !e.type) for (const k of keys) this.selected.add(k);
    }
    if (!e.shiftKey) this.anchor = r.id;
    this.focus = r.id;
    this.draw();
    this.inner.querySelector(`[data-id="${CSS.escape(r.id)}"]`)?.focus({ preventScroll: true });
    this.paintBar();
    this.act.selected?.();
  }

  // show selects shapes and brings the first into sight.
  show(keys) {
    this.filter = "all";
    this.word = this.search.value = "";
    this.selected = new Set(keys);
    for (const n of this.parents(keys)) this.shut.delete(n);
    this.flatten();
    const i = this.rows.findIndex((r) => r.shape && this.selected.has(r.shape.key));
    if (i >= 0) {
      this.focus = this.rows[i].id;
      this.anchor = this.focus;
      this.port.scrollTop = Math.max(0, i * rowHeight - this.port.clientHeight / 3);
      this.draw();
    }
    this.paintBar();
    this.act.selected?.();
  }

  parents(keys) {
    const want = new Set(keys),
      out = [];
    const walk = (n) => {
      let has = false;
      for (const k of n.kids) if (k.shape ? want.has(k.shape.key) : walk(k)) has = true;
      if (has && n.key) out.push(n.key);
      return has;
    };
    walk(this.root);
    return out;
  }

  paintBar() {
    const shapes = this.picked();
    this.bar.hidden = !shapes.length;
    if (!shapes.length) return;
    const edited = shapes.filter((s) => this.recipe.shapes?.[s.key]);
    const b = (text, act, title) =>
      el("button", { class: "plainbutton", type: "button", title, onclick: act }, text);
    this.bar.replaceChildren(
      el("span", { class: "soft" }, `${count(shapes.length)} selected`),
      b("Include", () => this.act.choose(shapes, true, what(shapes, this))),
      b("Exclude", () => this.act.choose(shapes, false, what(shapes, this))),
      b("Colour", () => this.recolor(shapes)),
      b("New group", () => this.act.group(shapes), "Put them into a group of their own"),
      ...(edited.length
        ? [
            b(
              "As in the file",
              () =>
                this.act.edit(
                  edited,
                  { name: "", color: "", group: "" },
                  `${what(edited, this)} as in the file`,
                ),
              "Take name, colour and group from the file again",
            ),
          ]
        : []),
    );
  }

  recolor(shapes) {
    if (!shapes.length) return;
    const input = el("input", {
      type: "color",
      class: "colorpick",
      value: this.colorOf(shapes[0]),
      "aria-label": "New colour",
    });
    input.addEventListener("change", () => {
      this.act.edit(shapes, { color: input.value }, `Colour of ${what(shapes, this)}`);
      input.remove();
    });
    input.addEventListener("blur", () => setTimeout(() => input.remove(), 200));
    this.bar.after(input);
    input.focus();
    try {
      input.showPicker();
    } catch {
      input.click();
    }
  }

  fold(r, shut = !this.shut.has(r.node.key)) {
    if (shut) this.shut.add(r.node.key);
    else this.shut.delete(r.node.key);
    this.flatten();
  }

  rename(r) {
    const e = this.inner.querySelector(`[data-id="${CSS.escape(r.id)}"] .nm`);
    if (!e) return;
    const old = r.shape ? this.nameOf(r.shape) : r.node.name;
    const input = el("input", { class: "rename", value: old, maxlength: longestName, "aria-label": "New name" });
    let over = false;
    const end = (keep) => {
      if (over) return;
      over = true;
      const name = input.value.trim();
      input.replaceWith(e);
      this.draw();
      if (keep && name && name !== old) {
        if (r.shape) this.act.edit([r.shape], { name }, `Name ${name}`);
        else this.act.name(r.node, name);
      }
    };
    input.addEventListener("blur", () => end(true));
    input.addEventListener("keydown", (ev) => {
      ev.stopPropagation();
      if (ev.key === "Enter") {
        end(true);
        this.refocus(r);
      }
      if (ev.key === "Escape") {
        end(false);
        this.refocus(r);
      }
    });
    input.addEventListener("click", (ev) => ev.stopPropagation());
    input.addEventListener("dblclick", (ev) => ev.stopPropagation());
    e.replaceWith(input);
    input.closest(".treerow").draggable = false;
    input.focus();
    input.select();
  }

  refocus(r) {
    this.focus = r.id;
    this.inner.querySelector(`[data-id="${CSS.escape(r.id)}"]`)?.focus({ preventScroll: true });
  }
  rowAt(target) {
    const e = target.closest?.(".treerow");
    return e && this.rows[Number(e.dataset.index)];
  }

  key(e) {
    if (e.target.matches("input")) return;
    const r = this.rowAt(e.target);
    if (!r) return;
    const i = this.rows.indexOf(r);
    const go = (j) => {
      j = Math.max(0, Math.min(this.rows.length - 1, j));
      this.focus = this.rows[j].id;
      const top = j * rowHeight;
      if (top < this.port.scrollTop) this.port.scrollTop = top;
      if (top + rowHeight > this.port.scrollTop + this.port.clientHeight)
        this.port.scrollTop = top + rowHeight - this.port.clientHeight;
      this.draw();
      const next = this.inner.querySelector(`[data-id="${CSS.escape(this.focus)}"]`);
      next?.focus({ preventScroll: true });
      this.act.light(this.keysOf(this.rows[j]));
      if (e.shiftKey) this.pick(this.rows[j], { shiftKey: true, type: "key" });
    };
    if (e.altKey && (e.key === "ArrowUp" || e.key === "ArrowDown")) {
      e.preventDefault();
      e.stopPropagation();
      this.moveBy(r, e.key === "ArrowUp" ? -1 : 1);
      return;
    }
    const page = Math.floor(this.port.clientHeight / rowHeight) - 1;
    const acts = {
      ArrowDown: () => go(i + 1),
      ArrowUp: () => go(i - 1),
      PageDown: () => go(i + page),
      PageUp: () => go(i - page),
      Home: () => go(0),
      End: () => go(this.rows.length - 1),
      ArrowLeft: () => {
        if (!r.shape && !this.shut.has(r.node.key)) this.fold(r, true);
        else {
          const j = this.rows.slice(0, i).findLastIndex((x) => x.depth < r.depth);
          if (j >= 0) go(j);
        }
      },
      ArrowRight: () => {
        if (!r.shape && this.shut.has(r.node.key)) this.fold(r, false);
        else go(i + 1);
      },
      " ": () => {
        const list = r.shape ? [r.shape] : r.all;
        this.act.choose(
          list,
          !list.every((s) => this.included(s)),
          r.shape ? this.nameOf(r.shape) : r.node.name || "the group",
        );
      },
      Enter: () => this.pick(r, { type: "key", ctrlKey: e.ctrlKey }),
      F2: () => this.rename(r),
      a: () => {
        if (e.ctrlKey || e.metaKey) {
          for (const x of this.rows) if (x.shape) this.selected.add(x.shape.key);
          this.draw();
          this.paintBar();
          this.act.selected?.();
        }
      },
      Escape: () => {
        this.selected.clear();
        this.draw();
        this.paintBar();
        this.act.selected?.();
      },
    };
    if (acts[e.key] && (e.key !== "a" || e.ctrlKey || e.metaKey)) {
      e.preventDefault();
      e.stopPropagation();
      acts[e.key]();
    }
  }
}

const what = (shapes, tree) =>
  shapes.length === 1 ? tree.nameOf(shapes[0]) : `${count(shapes.length)} shapes`;
