// The printer at work: whether one answers, how warm it is, how far the piece's prints are.

import { get, post } from "../lib/api.js";
import { duration, figure } from "../lib/length.js";
import { complain, el, say } from "../lib/page.js";

const states = {
  sending: "on its way to the printer",
  lost: "the printer does not answer",
  heating: "heats up",
  printing: "is being printed",
  paused: "paused",
  waiting: "waits for you",
  done: "done",
  cancelled: "cancelled",
  failed: "failed",
};
const ends = ["done", "cancelled", "failed"];
const every = 700; // ms between two questions

export class Machine {
  // act is {piece, layer(n)}: layer is told at which layer the printer is.
  constructor(act) {
    this.act = act;
    this.status = el("div", { class: "machine" });
    this.send = el(
      "button",
      { class: "button is-primary", type: "button", "data-act": "send-print", title: "Ctrl Enter", onclick: () => this.sendPiece() },
      "Send to the printer",
    );
    this.list = el("div", { class: "prints" });
    this.element = el("div", { class: "machineview scroll" }, el("h1", {}, "The printer"), this.status, this.send, this.list);
  }

  // watch asks again and again until it is stopped.
  watch() {
    if (this.watching) return;
    this.watching = true;
    const ask = async () => {
      if (!this.watching) return;
      try {
        this.show(await get(`${this.act.piece.base}/data/printer`));
      } catch {
        this.status.replaceChildren(el("p", { class: "verdict bad" }, "Bildhauer does not answer. It is asked again."));
      }
      this.timer = setTimeout(ask, every);
    };
    ask();
  }

  stop() {
    this.watching = false;
    clearTimeout(this.timer);
    delete document.body.dataset.prints;
    delete document.body.dataset.printer;
  }

  // sendPiece sends it once, however often it is asked for meanwhile.
  async sendPiece() {
    if (this.send.disabled) return;
    this.send.disabled = true;
    try {
      const { piece } = this.act;
      const made = await piece.run("Laying out the print", (job) => post(`${piece.base}/prints`, {}, job));
      say(`${made.name} is on its way to the printer.`);
      this.show(await get(`${piece.base}/data/printer`));
    } catch (e) {
      complain(e);
    }
    this.send.disabled = false;
  }

  async do(p, what) {
    try {
      this.show(await post(`${this.act.piece.base}/prints/${p.id}/${what}`));
    } catch (e) {
      complain(e);
    }
  }

  show({ found, status, prints }) {
    const heat = (h) => `${Math.round(h.now)} of ${Math.round(h.want)} °C`;
    const rows = found
      ? [
          el("p", {}, el("b", {}, status.name), ` answers: bed ${status.bed.map(figure).join(" × ")} mm`),
          el("p", { class: "soft" }, `nozzle ${heat(status.nozzle)}, plate ${heat(status.plate)}; ${figure(status.speed)} times faster than real`),
        ]
      : [
          el("p", { class: "verdict bad" }, "No printer answers."),
          el("p", { class: "soft" }, "Start the stand-in with “bildhauer printer”. What is sent waits and goes on as soon as one answers."),
        ];
    this.status.replaceChildren(...rows);
    // Rows are kept as long as they say the same, so that nothing jumps under the pointer.
    const text = JSON.stringify(prints);
    if (text !== this.told) this.list.replaceChildren(...prints.map((p) => this.row(p)));
    this.told = text;
    const now = prints.find((p) => !ends.includes(p.state));
    if (now) this.act.layer(now.layer);
    document.body.dataset.printer = found ? "found" : "none";
    document.body.dataset.prints = JSON.stringify(prints.map((p) => p.state));
  }

  row(p) {
    const over = ends.includes(p.state);
    const button = (what, label) =>
      el("button", { class: "button is-small", type: "button", "data-print": what, onclick: () => this.do(p, what) }, label);
    const acts = over
      ? [button("forget", "Delete it")]
      : [
          p.state === "paused" || p.state === "waiting" ? button("resume", "Resume") : null,
          p.state === "printing" || p.state === "heating" ? button("pause", "Pause") : null,
          button("cancel", "Cancel the print"),
        ];
    const wish = p.wish ? `; will ${p.wish === "resume" ? "go on" : `be ${p.wish === "pause" ? "paused" : "cancelled"}`} when it hears it` : "";
    const far = over ? "" : `layer ${p.layer} of ${p.layers}, ${duration(p.left)} left in real time`;
    const bar = el("progress", { class: "progress", max: 1, value: p.share, "aria-label": "How far it is" });
    return el(
      "section",
      { class: `print ${p.state}`, "data-print-state": p.state },
      el("p", {}, el("b", {}, p.name), ` ${states[p.state] ?? p.state}${wish}`),
      p.note ? el("p", { class: over ? "verdict bad" : "reason" }, p.note) : null,
      over ? null : bar,
      el("p", { class: "soft" }, far || new Date(p.created).toLocaleString()),
      el("div", { class: "printacts" }, ...acts),
    );
  }
}
