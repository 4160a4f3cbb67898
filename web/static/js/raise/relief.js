// The offer of a relief by order: artwork of several colours whose parts all end at one
// height reads better when they step up as they were painted.

import { el } from "../lib/page.js";

// step is a hundredth of the larger side, as a round figure.
function step(state) {
  const mm = Math.max(state.width, state.height) / 100;
  const ten = 10 ** Math.floor(Math.log10(mm));
  return Number((Math.max(1, Math.round(mm / ten)) * ten).toFixed(3));
}

// reliefOffer makes the offer; show() shows it where it is due.
export function reliefOffer(act) {
  const { piece } = act;
  const key = `bildhauer:relief:${piece.base}`;
  const kept = () => {
    try {
      return localStorage.getItem(key);
    } catch {
      return "no";
    }
  };
  const button = (text, name, onclick) => el("button", { class: "button is-small", type: "button", "data-act": name, onclick }, text);
  const yes = button("Step up", "relief", () => act.all({ relief: step(piece.state) }, "Relief by order"));
  const no = button("Leave level", "no-relief", () => {
    try {
      localStorage.setItem(key, "no");
    } catch {
      // asked again next time
    }
    show();
  });
  const text = el("p", {});
  const element = el("div", { class: "offer", hidden: true }, text, el("div", { class: "buttons are-small mb-0" }, yes, no));
  const show = () => {
    const { parts, all } = piece.state;
    const level = parts.length > 1 && parts.every((p) => !p.own && !p.role.kind) && !all.relief && !all.spread;
    element.hidden = !level || kept() === "no";
    text.textContent =
      `All ${parts.length} parts end at one height. As a relief, each steps up by ` +
      `${step(piece.state)} mm in the order they were painted.`;
  };
  return { element, show };
}
