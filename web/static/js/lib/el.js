// Elements of a page, made and found.

import { doing } from "./doing.js";

/** @param {string} id @returns {any} */
export const $ = (id) => document.getElementById(id);

const drawn = new Set([
  "svg",
  "path",
  "g",
  "rect",
  "circle",
  "line",
  "text",
  "pattern",
  "defs",
  "polyline",
  "use",
  "image",
  "title",
]);

/**
 * el makes an element: el("b", {class: "x", onclick: f}, "text", child). A click goes through doing.js.
 * @param {string} name
 * @param {Record<string, any>} [attrs]
 * @param {...(Node | string | null | undefined)} kids
 * @returns {any}
 */
export function el(name, attrs = {}, ...kids) {
  const e = drawn.has(name)
    ? document.createElementNS("http://www.w3.org/2000/svg", name)
    : document.createElement(name);
  for (const [k, v] of Object.entries(attrs)) {
    if (v === undefined || v === null || v === false) continue;
    if (k === "onclick") e.addEventListener("click", doing(v));
    else if (k.startsWith("on")) e.addEventListener(k.slice(2), v);
    else e.setAttribute(k, v === true ? "" : v);
  }
  e.append(...kids.filter((k) => k !== null && k !== undefined));
  return e;
}
