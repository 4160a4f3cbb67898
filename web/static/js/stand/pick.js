// Picking in the view: what lies under the pointer, parts by a click or a lasso, and the
// distance between two points.

import { Raycaster, Vector2, Vector3 } from "../../vendor/three.min.js";
import { drag } from "../lib/drag.js";
import { el } from "../lib/page.js";
import { mm } from "../lib/length.js";
import { firstHit } from "./ray.js";

// How far, in px, a pointer may move for a press to be a click.
const still = 4;

const faceNames = {
  front: "front",
  bevel: "bevel",
  side: "wall",
  back: "back",
  backbevel: "bevel behind",
  inside: "inside",
};

// Pick belongs to a stand. act: {name(part), select(ids, how)}; without it nothing is
// picked.
export class Pick {
  constructor(stand) {
    this.stand = stand;
    this.act = null;
    this.ray = new Raycaster();
    this.hovered = null; // {part, face}
    this.tag = el("span", { class: "viewtag", hidden: true });
    this.loop = el("path", { class: "lasso" });
    this.overlay = el("svg", { class: "lassoview", "aria-hidden": "true" }, this.loop);
    this.measuring = false;
    this.ends = []; // of the distance that is measured, in the body
    const button = el("input", { type: "checkbox", "data-stand": "measure", onchange: () => this.measure(button.checked) });
    this.tools = el("label", { class: "cuttools" }, button, " measure");
    this.line = el("path", { class: "tapeline" });
    this.overlay.append(this.line);
    this.distance = el("span", { class: "viewlabel picked", hidden: true });
    this.listen();
  }

  get elements() {
    return [this.overlay, this.tag, this.distance];
  }

  listen() {
    const c = this.stand.canvas;
    let from = null;
    const down = (e) => {
      from = [e.clientX, e.clientY];
      if (!e.altKey || !this.act) return;
      from = null;
      e.stopImmediatePropagation();
      this.rope(e);
    };
    c.addEventListener("pointerdown", down, { capture: true });
    c.addEventListener("pointermove", (e) => e.buttons || this.hover(e));
    c.addEventListener("pointerup", (e) => {
      if (from && Math.hypot(e.clientX - from[0], e.clientY - from[1]) <= still) this.click(e);
      from = null;
    });
    c.addEventListener("pointerleave", () => this.light(null));
  }

  // rope draws a lasso and selects what is in it.
  rope(e) {
    const lasso = [this.place(e)];
    const away = () => this.loop.removeAttribute("d");
    drag(e, this.stand.canvas, {
      move: (f) => {
        lasso.push(this.place(f));
        this.loop.setAttribute("d", `M${lasso.map((p) => p.join(" ")).join("L")}Z`);
      },
      end: (f) => {
        away();
        this.inLasso(lasso, f.shiftKey);
      },
      undo: away,
    });
  }

  place(e) {
    const box = this.stand.canvas.getBoundingClientRect();
    return [e.clientX - box.left, e.clientY - box.top];
  }

  // at returns what lies under a place: {part, face, point}.
  at(e) {
    const { canvas, camera, parts, cut, body } = this.stand;
    const box = canvas.getBoundingClientRect();
    const [x, y] = this.place(e);
    this.ray.setFromCamera(new Vector2((x / box.width) * 2 - 1, 1 - (y / box.height) * 2), camera);
    const planes = cut.planes();
    const hit = firstHit(this.ray.ray, parts, body, (p) => planes.every((plane) => plane.distanceToPoint(p) >= 0));
    const run = hit?.entry.solid.runs.find((r) => hit.triangle >= r.start && hit.triangle < r.start + r.count);
    return run ? { body: hit.entry.id, part: run.part, face: run.face, point: hit.point } : null;
  }

  hover(e) {
    if (!this.act || this.waiting) return;
    this.waiting = requestAnimationFrame(() => {
      this.waiting = null;
      const hit = this.at(e);
      this.light(hit);
      if (!hit) return;
      const [x, y] = this.place(e);
      this.tag.textContent = `${this.act.name(hit.part)}, ${faceNames[hit.face] ?? hit.face}`;
      this.tag.style.left = `${x + 14}px`;
      this.tag.style.top = `${y + 16}px`;
    });
  }

  // light tells the face group under the pointer apart.
  light(hit) {
    this.tag.hidden = !hit;
    const same = this.hovered?.part === hit?.part && this.hovered?.face === hit?.face;
    if (same) return;
    this.hovered = hit && { body: hit.body, part: hit.part, face: hit.face };
    this.stand.marked = false;
    this.stand.draw();
  }

  click(e) {
    const hit = this.at(e);
    if (this.measuring) {
      if (hit) this.mark(hit.point);
    } else if (this.act) {
      this.act.select(hit ? [hit.part] : [], e.shiftKey || e.ctrlKey || e.metaKey ? "add" : "only");
    }
  }

  // inLasso selects the parts whose middle lies within a loop of the view.
  inLasso(loop, add) {
    const { canvas, camera, parts, body } = this.stand;
    const inside = ([x, y]) => {
      let odd = false;
      loop.forEach(([ax, ay], i) => {
        const [bx, by] = loop[(i + 1) % loop.length];
        if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) odd = !odd;
      });
      return odd;
    };
    const ids = [];
    for (const [id, { solid }] of parts) {
      const middle = solid.lo.map((l, i) => l + solid.side[i] / 2);
      const v = new Vector3(...middle).applyMatrix4(body.matrixWorld).project(camera);
      if (inside([((v.x + 1) / 2) * canvas.clientWidth, ((1 - v.y) / 2) * canvas.clientHeight])) ids.push(id);
    }
    if (ids.length) this.act.select(ids, add ? "add" : "only");
  }

  // measure begins or ends measuring between two points.
  measure(on) {
    this.measuring = on;
    this.ends = [];
    this.draw();
  }

  mark(point) {
    if (this.ends.length > 1) this.ends = [];
    this.ends.push(this.stand.body.worldToLocal(point.clone()));
    this.draw();
    this.stand.draw();
  }

  // draw shows the distance where the view has it now.
  draw() {
    const { canvas, camera, body } = this.stand;
    const at = this.ends.map((p) => {
      const v = body.localToWorld(p.clone()).project(camera);
      return [((v.x + 1) / 2) * canvas.clientWidth, ((1 - v.y) / 2) * canvas.clientHeight];
    });
    const d = at.map(([x, y]) => `M${x - 5} ${y}h10M${x} ${y - 5}v10`).join("");
    this.line.setAttribute("d", at.length > 1 ? `${d}M${at[0].join(" ")}L${at[1].join(" ")}` : d);
    this.distance.hidden = at.length < 2;
    if (at.length < 2) return;
    this.distance.textContent = mm(Number(this.ends[0].distanceTo(this.ends[1]).toFixed(2)));
    this.distance.style.left = `${(at[0][0] + at[1][0]) / 2}px`;
    this.distance.style.top = `${(at[0][1] + at[1][1]) / 2}px`;
  }
}
