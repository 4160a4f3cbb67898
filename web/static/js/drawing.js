// A flat drawing that can be slid and neared.

import { el } from "./page.js";

export class Drawing {
  constructor(box, label) {
    this.box = box;
    this.svg = el("svg", { class: "sheet", role: "img", "aria-label": label, preserveAspectRatio: "xMidYMid meet" });
    box.append(this.svg, el("div", { class: "tools", role: "group", "aria-label": "Drawing" },
      el("button", { class: "plainbutton", type: "button", title: "Nearer", "aria-label": "Nearer", onclick: () => this.zoom(0.8) }, "+"),
      el("button", { class: "plainbutton", type: "button", title: "Farther", "aria-label": "Farther", onclick: () => this.zoom(1.25) }, "−"),
      el("button", { class: "plainbutton", type: "button", title: "Fit (F)", onclick: () => this.fit() }, "Fit")));
    let last = null;
    this.svg.addEventListener("pointerdown", (e) => { last = e; this.svg.setPointerCapture(e.pointerId); this.svg.classList.add("turning"); });
    this.svg.addEventListener("pointermove", (e) => {
      if (!last) return;
      const k = this.perPx();
      this.view[0] -= (e.clientX - last.clientX) * k; this.view[1] -= (e.clientY - last.clientY) * k;
      last = e;
      this.apply();
    });
    const up = () => { last = null; this.svg.classList.remove("turning"); };
    this.svg.addEventListener("pointerup", up);
    this.svg.addEventListener("pointercancel", up);
    this.svg.addEventListener("wheel", (e) => { e.preventDefault(); this.zoom(Math.exp(e.deltaY * 0.0012), e); }, { passive: false });
  }
  perPx() { return Math.max(this.view[2] / this.svg.clientWidth, this.view[3] / this.svg.clientHeight); }
  zoom(f, at) {
    const [x, y, w, h] = this.view;
    const r = this.svg.getBoundingClientRect(), k = this.perPx();
    const px = at ? x + w / 2 + (at.clientX - r.left - r.width / 2) * k : x + w / 2;
    const py = at ? y + h / 2 + (at.clientY - r.top - r.height / 2) * k : y + h / 2;
    if (w * f < this.home[2] / 500 || w * f > this.home[2] * 6) return;
    this.view = [px - (px - x) * f, py - (py - y) * f, w * f, h * f];
    this.apply();
  }
  frame(x, y, w, h) { this.home = [x, y, w, h]; this.fit(); }
  fit() { this.view = [...this.home]; this.apply(); }
  apply() { this.svg.setAttribute("viewBox", this.view.join(" ")); }
}
