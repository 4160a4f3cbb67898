// A flat drawing that can be slid and neared.

import { drag, pinch } from "./drag.js";
import { el } from "./page.js";
import { tell } from "./told.js";

export class Drawing {
  // The drawing fills a box; ctx.signal ends its listeners (frame/steps.js).
  constructor(ctx, box, label) {
    this.svg = el("svg", {
      class: "sheet",
      role: "img",
      "aria-label": label,
      preserveAspectRatio: "xMidYMid meet",
    });
    const tool = (text, title, act, name = title) =>
      el("button", { class: "plainbutton", type: "button", title, "aria-label": name, onclick: act }, text);
    box.append(
      this.svg,
      el(
        "div",
        { class: "tools", role: "group", "aria-label": "Drawing" },
        tool("+", "Zoom in", () => this.zoom(0.8)),
        tool("−", "Zoom out", () => this.zoom(1.25)),
        tool("Fit", "Fit (F)", () => this.fit(), "Fit"),
      ),
    );
    /** @type {(e: PointerEvent) => boolean | ((e: PointerEvent) => void)} */
    this.grab = (_event) => false; // whether a pointer that goes down is for others, or what a click on nothing does
    this.seen = () => {}; // called when what is seen changes
    this.pointer(ctx);
    this.frame(0, 0, 10, 10);
  }

  pointer({ signal }) {
    const svg = this.svg;
    const down = (e) => {
      const other = this.grab(e);
      if (other === true) return;
      svg.classList.add("turning");
      const over = () => svg.classList.remove("turning");
      drag(e, svg, {
        move: (_, dx, dy) => this.slide(dx, dy),
        end: (f, moved) => {
          over();
          if (!moved && other) other(f);
        },
        undo: over,
      });
    };
    pinch(
      svg,
      (by, dx, dy, at) => {
        this.slide(dx, dy);
        this.zoom(1 / by, at);
      },
      { signal },
    );
    svg.addEventListener("pointerdown", down, { signal });
    const wheel = (e) => {
      e.preventDefault();
      this.zoom(Math.exp(e.deltaY * 0.0012), e);
    };
    svg.addEventListener("wheel", wheel, { signal, passive: false });
  }

  // slide moves the drawing by px.
  slide(dx, dy) {
    const k = this.perPx();
    this.view[0] -= dx * k;
    this.view[1] -= dy * k;
    this.apply();
  }

  perPx() {
    return Math.max(this.view[2] / this.svg.clientWidth, this.view[3] / this.svg.clientHeight);
  }

  // zoom scales by f about a pointer, or about the middle.
  zoom(f, at) {
    const [x, y, w, h] = this.view;
    const r = this.svg.getBoundingClientRect();
    const k = this.perPx();
    const px = at ? x + w / 2 + (at.clientX - r.left - r.width / 2) * k : x + w / 2;
    const py = at ? y + h / 2 + (at.clientY - r.top - r.height / 2) * k : y + h / 2;
    if (w * f < this.home[2] / 500 || w * f > this.home[2] * 6) return;
    this.view = [px - (px - x) * f, py - (py - y) * f, w * f, h * f];
    this.apply();
  }

  // frame sets what fit shows.
  frame(x, y, w, h) {
    this.home = [x, y, w, h];
    this.fit();
  }

  fit() {
    this.view = [...this.home];
    this.apply();
  }

  apply() {
    this.svg.setAttribute("viewBox", this.view.join(" "));
    this.seen();
  }

  // tell says in words what is drawn.
  tell(...sentences) {
    tell(this.svg, ...sentences);
  }

  // show brings a box into the middle, no nearer than a share of the whole.
  show(x, y, w, h, least = 0.06) {
    const size = Math.max(w, h, Math.max(this.home[2], this.home[3]) * least);
    this.view = [x + w / 2 - size / 2, y + h / 2 - size / 2, size, size];
    this.apply();
  }

  // place returns where a pointer is in the drawing.
  place(e) {
    const [x, y, w, h] = this.view;
    const r = this.svg.getBoundingClientRect();
    const k = this.perPx();
    return [x + w / 2 + (e.clientX - r.left - r.width / 2) * k, y + h / 2 + (e.clientY - r.top - r.height / 2) * k];
  }
}
