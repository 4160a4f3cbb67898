// Intake: the drawing, what was read and what was not, what takes part.

import { inScope } from "../lib/acts.js";
import { get } from "../lib/api.js";
import { complain, el } from "../lib/page.js";
import { Drawing } from "../lib/drawing.js";
import { count } from "../lib/length.js";
import { several } from "../lib/told.js";
import { report } from "./report.js";
import { beneath, sheets } from "./sheets.js";
import { Tree } from "./tree.js";

const byKey = (shapes, value) => Object.fromEntries(shapes.map((s) => [s.key, value]));

export function mount(ctx) {
  const { piece, panel, view } = ctx;
  const drawing = new Drawing(ctx, view, "Drawing of the artwork");
  const sheet = new SheetView(drawing);
  let data = null;
  let version = null; // of the artwork that is drawn

  const choose = (shapes, on, what) =>
    piece.change(`${on ? "Include" : "Exclude"} ${what}`, { kind: "choose", choice: byKey(shapes, on) });
  const group = async (shapes) => {
    const taken = new Set((piece.state.intake.newGroups ?? []).map((g) => g.key));
    let n = 1;
    while (taken.has(`new${n}`)) n++;
    const key = `new${n}`;
    await piece.change(
      `Group ${count(shapes.length)} shapes`,
      { kind: "newGroup", key, name: `Group ${n}` },
      { kind: "shapes", shapes: byKey(shapes, { group: key }) },
    );
    tree.show(shapes.map((s) => s.key));
  };
  const tree = new Tree(ctx, {
    choose,
    group,
    light: (shapes) => sheet.light(shapes),
    edit: (shapes, patch, label) => piece.change(label, { kind: "shapes", shapes: byKey(shapes, patch) }),
    name: (g, name) => piece.change(`Name ${name}`, { kind: "groupNames", names: { [g.key]: name } }),
    selected: () => sheet.pick(tree.selected),
  });

  sheet.listen(ctx, tree);
  const exclude = () => {
    const s = tree.picked();
    if (!s.length) return false;
    return choose(s, false, s.length === 1 ? tree.nameOf(s[0]) : `${count(s.length)} shapes`);
  };
  const none = () => tree.selected.size > 0 && tree.show([]);
  inScope("intake", { fit: () => drawing.fit(), out: exclude, none }, ctx.signal);

  const show = () => {
    tree.set(data, piece.state.intake);
    sheet.paint(data, tree);
    sheet.show(beneath());
    sheet.paper.style.setProperty("--ground", piece.state.ground);
    sheet.pick(tree.selected);
    const act = {
      choose,
      light: (keys, places) => sheet.light(keys, places),
      show: (list) => tree.show(list),
    };
    const problem = piece.state.problem ? [el("p", { class: "verdict bad" }, piece.state.problem)] : [];
    panel.replaceChildren(...sheets(piece, show), ...report(piece.state, data, tree, act), ...problem);
  };
  return {
    async update(state) {
      if (version === state.artwork) {
        show();
        return;
      }
      const wanted = (version = state.artwork);
      try {
        const fetched = await piece.run(
          "Drawing the artwork",
          (job) => get(`${piece.base}/data/drawing`, job),
          { cancel: false },
        );
        if (ctx.signal.aborted || version !== wanted) return;
        data = fetched;
        sheet.load(data, piece.base);
        show();
      } catch (e) {
        version = null;
        complain(e);
      }
    },
  };
}

// SheetView is the artwork as drawn in the file.
class SheetView {
  constructor(drawing) {
    this.drawing = drawing;
    this.paper = el("g", {});
    this.under = el("g", {}); // bitmaps that were traced
    this.art = el("g", {});
    this.marks = el("g", { class: "marks" });
    drawing.svg.append(this.paper, this.under, this.art, this.marks);
    this.paths = new Map(); // by shape key
    this.lit = new Set();
    this.framed = "";
  }

  load(data, base) {
    this.paths.clear();
    this.under.replaceChildren(
      ...data.pictures.map(({ slot, file, box: [x, y, width, height] }) => {
        const href = `${base}/sheets/${slot}/picture?of=${encodeURIComponent(file)}`;
        return el("image", { href, x, y, width, height, preserveAspectRatio: "none" });
      }),
    );
    const [x, y, width, height] = data.page;
    this.paper.replaceChildren(...(width > 0 ? [el("rect", { class: "page", x, y, width, height })] : []));
    this.art.replaceChildren(
      ...data.shapes.map((s) => {
        const p = el("path", {
          class: "shape",
          d: s.path,
          "fill-rule": s.evenOdd ? "evenodd" : "nonzero",
          "data-key": s.key,
        });
        this.paths.set(s.key, p);
        return p;
      }),
    );
    const [bx, by, bw, bh] = data.box;
    const pad = Math.max(bw, bh) * 0.05;
    const frame = [bx - pad, by - pad, bw + 2 * pad, bh + 2 * pad];
    if (frame.join() !== this.framed) this.drawing.frame(...frame);
    this.framed = frame.join();
  }

  paint(data, tree) {
    const out = data.shapes.filter((s) => !tree.included(s)).length;
    this.drawing.tell(`The artwork: ${several(data.shapes.length, "shape")}${out ? `, ${out} excluded` : ""}`);
    for (const s of data.shapes) {
      const p = this.paths.get(s.key);
      const on = tree.included(s);
      p.classList.toggle("outshape", !on);
      p.setAttribute("fill", on ? tree.colorOf(s) : "none");
      p.setAttribute("fill-opacity", s.opacity);
    }
  }

  // show lays what was traced over its bitmaps, so that both can be seen.
  show(on) {
    this.under.toggleAttribute("hidden", !on);
    this.art.classList.toggle("tracedover", on && this.under.childElementCount > 0);
  }

  // light shows which shapes, and which places on the page, something is about.
  light(keys, places = []) {
    for (const k of this.lit) this.paths.get(k)?.classList.remove("lit");
    this.lit = new Set(keys);
    for (const k of this.lit) this.paths.get(k)?.classList.add("lit");
    this.marks.replaceChildren(
      ...places.map(([x, y, width, height]) => el("rect", { x, y, width, height })),
    );
  }

  pick(selected) {
    for (const [k, p] of this.paths) p.classList.toggle("picked", selected.has(k));
  }

  // listen lets the drawing answer to the pointer as the rows of the tree do.
  listen({ signal }, tree) {
    const shapeAt = (e) => e.target.closest?.(".shape")?.dataset.key;
    const over = (e) => shapeAt(e) && this.light([shapeAt(e)]);
    this.art.addEventListener("pointerover", over, { signal });
    this.art.addEventListener("pointerout", () => this.light([]), { signal });
    let downAt = null;
    const down = (e) => {
      downAt = [e.clientX, e.clientY];
    };
    this.drawing.svg.addEventListener("pointerdown", down, { signal });
    const click = (e) => {
      if (!downAt || Math.hypot(e.clientX - downAt[0], e.clientY - downAt[1]) > 4) return;
      const under = document.elementsFromPoint(e.clientX, e.clientY);
      const key = under.find((x) => x.classList?.contains("shape"))?.dataset.key;
      const keys = new Set(key && (e.shiftKey || e.ctrlKey || e.metaKey) ? tree.selected : []);
      if (key && !keys.delete(key)) keys.add(key);
      tree.show([...keys]);
    };
    this.drawing.svg.addEventListener("click", click, { signal });
  }
}
