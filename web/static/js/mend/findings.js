// The list of findings: what is to decide, to heal and to tidy, by kind, each with a picture of the spot.

import { withKey } from "../lib/acts.js";
import { post } from "../lib/api.js";
import { count } from "../lib/length.js";
import { el, say } from "../lib/page.js";
import { optionsOf } from "../lib/terms.js";

// The parts of the list, by what the proposals do.
const parts = [
  {
    name: "decide",
    title: "To decide",
    hint: "What was meant is a guess, or much would change. None is taken without being asked.",
    opens: true,
    has: (f) => f.class === "decide" && !f.copes,
    says: (list) =>
      list[0].together
        ? `Together they change ${percent(list[0].together)} of the picture: too much to be taken without being asked.`
        : "",
  },
  {
    name: "heal",
    title: "To heal",
    hint: "What you see changes as little as the trouble demands.",
    opens: true,
    has: (f) => f.class === "heal" && !f.copes,
  },
  { name: "tidy", title: "To tidy", hint: "Nothing that you see changes.", has: (f) => f.class === "tidy" && !f.copes },
  {
    name: "copes",
    title: "No trouble",
    hint: "Raising does the same by itself.",
    has: (f) => f.copes,
    says: () => "Raising does the same by itself; take them to have it in the outlines.",
  },
];

const purposeKey = "bildhauer:mend:purpose";
const purposes = optionsOf("purpose");

function purposeNow() {
  try {
    return localStorage.getItem(purposeKey) ?? "";
  } catch {
    return ""; // private mode
  }
}

// matters reports whether a kind does for what the piece is for.
function matters(kind) {
  const now = purposeNow();
  return kind.matters !== "nobody" && (!now || !kind.matters || kind.matters === now);
}

const percent = (share) => (share < 0.0005 ? "less than 0.1 %" : `${Number((100 * share).toFixed(1))} %`);

// beyond says how many of a kind are not shown.
function beyond(list) {
  const more = list.reduce((sum, f) => sum + (f.more ?? 0), 0);
  return more ? `${count(more)} more of this kind come when these are done.` : "";
}

export class Findings {
  constructor(desk, box) {
    this.desk = desk;
    this.box = box;
    this.at = 0;
    this.way = new Map(); // chosen fix by finding, if not the first
    this.folds = new Map(); // of groups that somebody folded or opened
    this.trials = new Map(); // what proposals do, by revision, finding and way
    desk.trial = () => this.trial();
    desk.marked = () => {
      let n = 0;
      return this.groups().flatMap((g) => {
        const open = this.unfolded(g);
        return g.list
          .map((f) => ({ finding: f, number: ++n, on: f === this.current() }))
          .filter((m) => open || m.on);
      });
    };
    desk.pick = (f) => this.pick(f);
    desk.lit = () => {
      if (desk.mode === "shapes" || desk.mode === "nodes") return desk.tools.shapes.chosen;
      return new Set(desk.mode === "findings" ? this.current()?.shapes : []);
    };
    // Pictures are drawn when they come into sight.
    this.sight = new IntersectionObserver((seen) => {
      for (const s of seen) {
        if (!s.isIntersecting) continue;
        this.sight.unobserve(s.target);
        s.target.append(el("use", { href: "#mendart" }));
      }
    });
    desk.ctx.signal.addEventListener("abort", () => this.sight.disconnect());
  }

  // open returns the open findings in the order of the list.
  open() {
    return this.groups().flatMap((g) => g.list);
  }

  // groups returns the open findings: by what their proposals do, then by kind, the most harmful first.
  groups() {
    const { data } = this.desk;
    const kinds = data.kinds.toSorted((a, b) => b.harm - a.harm);
    const out = [];
    for (const part of parts)
      for (const kind of kinds) {
        const list = data.findings.filter((f) => !f.left && f.kind === kind.name && part.has(f));
        if (list.length) out.push({ part, kind, list, key: `${part.name} ${kind.name}` });
      }
    return out;
  }

  // unfolded reports whether a group lies open: as somebody left it, or because it matters.
  unfolded(g) {
    return this.folds.get(g.key) ?? (g.part.opens && matters(g.kind) && !g.list.every((f) => f.quiet));
  }

  left() {
    const { data } = this.desk;
    return data.kinds.flatMap((k) => data.findings.filter((f) => f.kind === k.name && f.left));
  }

  current() {
    return this.all()[this.at];
  }

  all() {
    return [...this.open(), ...this.left()];
  }

  draw() {
    const list = this.all();
    this.at = Math.max(0, Math.min(this.at, list.length - 1));
    const top = this.box.scrollTop;
    const kids = [];
    const groups = this.groups();
    let number = 0;
    let part = null;
    for (const g of groups) {
      if (g.part !== part) {
        part = g.part;
        const n = groups.filter((x) => x.part === part).reduce((sum, x) => sum + x.list.length, 0);
        kids.push(el("h3", { class: "findpart", title: part.hint, "data-part-of": part.name }, `${part.title} (${n})`));
      }
      kids.push(this.group(g, number));
      number += g.list.length;
    }
    const left = this.left();
    if (left.length) {
      kids.push(el("div", { class: "findhead left" }, el("b", {}, `Left as they are (${left.length})`)));
      for (const f of left) kids.push(this.row(f, "–"));
    }
    if (!kids.length) kids.push(el("p", { class: "soft nothing" }, "No findings: the outlines are sound."));
    else kids.unshift(this.purpose(), ...this.allButton());
    this.box.replaceChildren(...kids);
    this.box.scrollTop = top;
    this.reveal();
    this.foresee();
  }

  // purpose chooses what matters.
  purpose() {
    const pick = el(
      "select",
      { "data-find": "purpose", "aria-label": "What the piece is for" },
      ...purposes.map(([k, text]) => el("option", { value: k, selected: k === purposeNow() }, text)),
    );
    pick.addEventListener("change", () => {
      try {
        localStorage.setItem(purposeKey, pick.value);
      } catch {
        // not kept
      }
      this.folds.clear();
      this.draw();
      this.desk.view.draw();
    });
    return el("label", { class: "findpurpose" }, "What matters is ", pick);
  }

  allButton() {
    const taken = this.open().filter((f) => f.class !== "decide" && !f.copes && !f.fails);
    if (!taken.length) return [];
    const share = taken.reduce((sum, f) => sum + f.share, 0);
    const said = share > 0 ? `at most ${percent(share)} of the picture changes` : "nothing that you see changes";
    const button = el(
      "button",
      { class: "button is-small is-primary takeall", type: "button", onclick: () => this.takeAll([], []) },
      taken.length === 1 ? "Take the safe one" : `Take all ${taken.length} safe ones`,
    );
    return [button, el("p", { class: "soft takesaid" }, `${said[0].toUpperCase()}${said.slice(1)}.`)];
  }

  // group is a kind that can be folded. Its rows are made when it lies open.
  group(g, number) {
    const { kind, list, part } = g;
    const takes = list.filter((f) => !f.fails).length;
    const take = el(
      "button",
      {
        class: "plainbutton",
        type: "button",
        title: withKey("Take all of these", "mend.takeKind"),
        "data-takeall": kind.name,
        disabled: !takes,
        onclick: () => this.takeKind(list[0]),
      },
      list.length > 1 ? `Take ${takes}` : "Take",
    );
    const open = this.unfolded(g);
    const head = el("summary", { class: "findhead" }, el("b", {}, `${kind.title} (${list.length})`));
    const box = el("details", { open }, head);
    const fill = () => {
      if (box.childElementCount > 1) return;
      const said = [part.says?.(list), beyond(list)].filter(Boolean).join(" ");
      if (said) box.append(el("p", { class: "soft" }, said));
      list.forEach((f, i) => box.append(this.row(f, number + i + 1)));
    };
    if (open) fill();
    box.addEventListener("toggle", () => {
      if (box.open === this.unfolded(g)) return;
      this.folds.set(g.key, box.open);
      if (box.open) fill();
      this.desk.view.draw();
    });
    return el("div", { class: "findgroup", "data-group-of": g.key }, box, take);
  }

  row(f, number) {
    const on = f === this.current();
    const row = el(
      "div",
      {
        class: `finding${on ? " on" : ""}${f.left ? " left" : ""}`,
        role: "group",
        tabindex: on ? "0" : "-1",
        "aria-current": String(on),
        "aria-label": `Finding ${number}: ${f.measure}. ${this.fix(f).will}.`,
        "data-finding": f.kind,
        onclick: () => this.pick(f),
      },
      this.picture(f),
      el(
        "div",
        { class: "what" },
        el("span", { class: "measure" }, el("i", {}, number), f.measure),
        el("p", {}, this.fix(f).will, "."),
        el("p", { class: "effect" }, this.effect(f)),
        on ? this.acts(f) : null,
      ),
      on && f.class === "decide" && !f.left ? this.outcomes(f) : null,
    );
    return row;
  }

  // effect says what the chosen way does to the picture.
  effect(f) {
    const other = this.way.get(sign(f)) ?? 0;
    if (other) return this.trials.get(this.sign(f))?.effect ?? "";
    return f.fails || f.effect;
  }

  // outcomes draws both ends of a decision side by side.
  outcomes(f) {
    const trial = this.trials.get(this.sign(f));
    const frame = this.frame(f);
    const one = (name, ...kids) =>
      el("figure", {}, el("svg", { viewBox: frame.join(" "), "aria-hidden": "true" }, ...kids), el("figcaption", {}, name));
    const after = (trial?.shapes ?? []).map((s) => el("path", { d: s.path, fill: s.color, "fill-rule": rule(s) }));
    return el(
      "div",
      { class: "outcomes", "data-shown": String(Boolean(trial)) },
      one("as it is", el("use", { href: "#mendart" })),
      one(trial?.fails ?? "if taken", ...after),
    );
  }

  // frame is the box around a finding that its pictures show.
  frame(f) {
    const [x, y, w, h] = f.box;
    const whole = Math.max(...this.desk.data.box.slice(2));
    const size = Math.max(w, h, whole * 0.05) * 1.5;
    return [x + w / 2 - size / 2, y + h / 2 - size / 2, size, size];
  }

  // foresee asks what the chosen way of the current finding does, once for each.
  foresee() {
    const f = this.current();
    clearTimeout(this.asking);
    if (!f || f.left || this.trials.has(this.sign(f))) return this.desk.view.foreseen?.();
    this.asking = setTimeout(async () => {
      const key = this.sign(f);
      const { piece } = this.desk;
      let trial;
      try {
        trial = await post(`${piece.base}/data/trial`, { do: this.fix(f).do, box: this.frame(f) });
      } catch (e) {
        trial = { fails: e.message, effect: e.message };
      }
      if (piece.state.rev !== this.desk.data.rev) return;
      this.trials.set(key, trial);
      if (f === this.current()) this.draw();
    }, 60);
  }

  trial() {
    const f = this.current();
    return f && !f.left ? this.trials.get(this.sign(f)) : null;
  }

  sign(f) {
    return `${this.desk.data.rev} ${sign(f)} ${this.way.get(sign(f)) ?? 0}`;
  }

  picture(f) {
    const svg = el("svg", { class: "spot", viewBox: this.frame(f).join(" "), "aria-hidden": "true" });
    this.sight.observe(svg);
    return svg;
  }

  fix(f) {
    return f.fixes[this.way.get(sign(f)) ?? 0] ?? f.fixes[0];
  }

  acts(f) {
    const button = (text, title, act, more = "") =>
      el(
        "button",
        {
          class: `button is-small ${more}`,
          type: "button",
          title,
          onclick: (e) => {
            e.stopPropagation();
            act();
          },
        },
        text,
      );
    const kids = [];
    if (f.left) {
      kids.push(button("Open again", "Open again (L)", () => this.leave(f)));
    } else {
      kids.push(button("Take", "Take the proposal (Enter)", () => this.take(f), "is-primary"));
      kids.push(button("Leave", "Leave it as it is (L)", () => this.leave(f)));
    }
    if (f.fixes.length > 1 && !f.left) {
      const pick = el(
        "select",
        { class: "otherways", "aria-label": "What to do", onclick: (e) => e.stopPropagation() },
        ...f.fixes.map((x, i) => {
          const chosen = i === (this.way.get(sign(f)) ?? 0);
          return el("option", { value: i, selected: chosen }, x.will);
        }),
      );
      pick.addEventListener("change", () => {
        this.way.set(sign(f), Number(pick.value));
        this.draw();
      });
      kids.push(pick);
    }
    return el("div", { class: "findacts" }, ...kids);
  }

  // seek picks the finding of a kind that is nearest to a place, px of the page.
  seek(kind, [x, y]) {
    const far = (f) => Math.hypot(f.at[0] - x, f.at[1] - y);
    const near = this.all().filter((f) => f.kind === kind).sort((a, b) => far(a) - far(b))[0];
    if (near) this.pick(near);
    else say("Mend finds nothing there: the place comes about by how parts are raised. Change it in Raise.");
  }

  pick(f) {
    const i = this.all().indexOf(f);
    if (i < 0) return;
    this.at = i;
    const group = this.groups().find((g) => g.list.includes(f));
    if (group && !this.unfolded(group)) this.folds.set(group.key, true);
    if (this.desk.mode !== "findings") this.desk.go("findings");
    this.draw();
    this.desk.view.draw();
    this.show(f);
  }

  show(f = this.current()) {
    if (f) this.desk.view.go(f.box);
  }

  reveal() {
    this.box.querySelector(".finding.on")?.scrollIntoView({ block: "nearest" });
  }

  step(by) {
    const list = this.all();
    if (!list.length) return;
    this.pick(list[(this.at + by + list.length) % list.length]);
    this.box.querySelector(".finding.on")?.focus({ preventScroll: true });
  }

  take(f) {
    const x = this.fix(f);
    return this.desk.piece.change(x.will, { kind: "mends", list: x.do });
  }

  // takeKind takes all findings of the kind that have the same said of them as f.
  takeKind(f) {
    return this.takeAll([f.kind], f.copes ? ["tidy", "heal", "decide"] : [f.class]);
  }

  takeAll(kinds, classes) {
    const { piece } = this.desk;
    return piece.changeBy(() =>
      piece.run("Taking the proposals", (job) =>
        post(`${piece.base}/mend?base=${piece.state.rev}`, { kinds, classes }, job),
      ),
    );
  }

  leave(f) {
    const one = { kind: f.kind, shapes: f.shapes, at: f.at };
    const { piece } = this.desk;
    if (!f.left) return piece.change(`Leave: ${f.measure}`, { kind: "leave", list: [one] });
    return piece.change(`Open again: ${f.measure}`, { kind: "leave", list: [one], reopen: true });
  }

  // does tells what the acts about findings do (web/acts).
  does() {
    const on = (act) => () => {
      const f = this.desk.data && this.current();
      return f ? act(f) : false;
    };
    return {
      next: () => this.desk.data && this.step(1),
      previous: () => this.desk.data && this.step(-1),
      take: on((f) => (f.left ? false : this.take(f))),
      takeKind: on((f) => this.takeKind(f)),
      leave: on((f) => this.leave(f)),
      go: on((f) => this.show(f)),
    };
  }
}

const rule = (s) => (s.evenOdd ? "evenodd" : "nonzero");

const sign = (f) => `${f.kind} ${f.shapes.join()} ${f.at.join()}`;
