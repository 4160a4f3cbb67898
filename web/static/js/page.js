// What every page has: messages, the drop of files, the help on keys.

export const $ = (id) => document.getElementById(id);

// el makes an element: el("b", {class: "x", onclick: f}, "text", child).
export function el(name, attrs = {}, ...kids) {
  const svg = ["svg", "path", "g", "rect", "circle", "line", "text", "pattern", "defs", "polyline"].includes(name);
  const e = svg ? document.createElementNS("http://www.w3.org/2000/svg", name) : document.createElement(name);
  for (const [k, v] of Object.entries(attrs)) {
    if (v === undefined || v === null || v === false) continue;
    if (k.startsWith("on")) e.addEventListener(k.slice(2), v);
    else e.setAttribute(k, v === true ? "" : v);
  }
  e.append(...kids.filter((k) => k !== null && k !== undefined));
  return e;
}

export function say(text, { bad = false, action = null, act = null, stay = 6000 } = {}) {
  const line = el("div", { class: `message-line${bad ? " bad" : ""}`, role: bad ? "alert" : "status" }, el("p", {}, text));
  const gone = () => line.remove();
  if (action) line.append(el("button", { onclick: () => { gone(); act(); } }, action));
  line.append(el("button", { onclick: gone, "aria-label": "Close this message" }, "✕"));
  $("messages").append(line);
  while ($("messages").children.length > 4) $("messages").firstChild.remove();
  if (!bad) setTimeout(gone, stay);
}

export const complain = (e) => { if (e.name !== "AbortError") say(e.message, { bad: true }); };

// onDrop calls take(files) for files dropped anywhere on the page.
export function onDrop(take) {
  let depth = 0;
  const veil = $("dropveil");
  const files = (e) => [...(e.dataTransfer?.types ?? [])].includes("Files");
  addEventListener("dragenter", (e) => { if (files(e)) { depth++; veil.hidden = false; e.preventDefault(); } });
  addEventListener("dragover", (e) => { if (files(e)) e.preventDefault(); });
  addEventListener("dragleave", () => { if (--depth <= 0) { depth = 0; veil.hidden = true; } });
  addEventListener("drop", (e) => {
    depth = 0; veil.hidden = true;
    if (!files(e)) return;
    e.preventDefault();
    take([...e.dataTransfer.files]);
  });
}

export const typing = (e) => e.target.matches?.("input:not([type=range]):not([type=checkbox]), textarea, select") ?? false;

export function keysDialog(entries) {
  const open = () => {
    if (document.querySelector("dialog.keys")) return;
    const d = el("dialog", { class: "keys" }, el("h2", {}, "Keys"),
      el("dl", {}, ...entries.flatMap(([k, what]) => [el("dt", {}, ...k.split(" ").map((x) => el("kbd", {}, x))), el("dd", {}, what)])),
      el("button", { class: "button is-small", onclick: () => d.close() }, "Close"));
    d.addEventListener("close", () => d.remove());
    document.body.append(d);
    d.showModal();
  };
  $("help").addEventListener("click", open);
  addEventListener("keydown", (e) => { if (e.key === "?" && !typing(e)) { e.preventDefault(); open(); } });
}
