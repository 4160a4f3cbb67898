// What every page has: elements, messages, the drop of files, the help on keys.

import { post } from "./api.js";

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

// el makes an element: el("b", {class: "x", onclick: f}, "text", child).
export function el(name, attrs = {}, ...kids) {
  const e = drawn.has(name)
    ? document.createElementNS("http://www.w3.org/2000/svg", name)
    : document.createElement(name);
  for (const [k, v] of Object.entries(attrs)) {
    if (v === undefined || v === null || v === false) continue;
    if (k.startsWith("on")) e.addEventListener(k.slice(2), v);
    else e.setAttribute(k, v === true ? "" : v);
  }
  e.append(...kids.filter((k) => k !== null && k !== undefined));
  return e;
}

// swatch is a small field of a colour.
export function swatch(color) {
  const s = el("span", { class: "sw" });
  s.style.background = color;
  return s;
}

// say shows a message; with an action it can be answered.
export function say(text, { bad = false, action = null, act = null, stay = 6000 } = {}) {
  const line = el(
    "div",
    { class: `message-line${bad ? " bad" : ""}`, role: bad ? "alert" : "status" },
    el("p", {}, text),
  );
  const gone = () => line.remove();
  if (action) {
    const answer = () => {
      gone();
      act();
    };
    line.append(el("button", { onclick: answer }, action));
  }
  line.append(el("button", { onclick: gone, "aria-label": "Close this message" }, "✕"));
  $("messages").append(line);
  while ($("messages").children.length > 4) $("messages").firstChild.remove();
  if (!bad) setTimeout(gone, stay);
}

export const complain = (e) => {
  if (e.name === "AbortError" || e.kind === "cancelled") return;
  if (!e.body?.aside) {
    say(e.message, { bad: true });
    return;
  }
  // A file broke its reader: it can be kept for a report.
  const act = async () => {
    try {
      const { where } = await post(`/aside/${e.body.aside}`);
      say(`Kept as ${where}`, { stay: 20_000 });
    } catch (again) {
      complain(again);
    }
  };
  say(e.message, { bad: true, action: "Keep the file for a report", act });
};

// onDrop calls take(files) for files dropped anywhere on the page.
export function onDrop(take) {
  let depth = 0;
  const veil = $("dropveil");
  const files = (e) => [...(e.dataTransfer?.types ?? [])].includes("Files");
  const lift = () => {
    depth = 0;
    veil.hidden = true;
  };
  addEventListener("dragenter", (e) => {
    if (!files(e)) return;
    depth++;
    veil.hidden = false;
    e.preventDefault();
  });
  addEventListener("dragover", (e) => {
    if (files(e)) e.preventDefault();
  });
  addEventListener("dragleave", () => {
    if (--depth <= 0) lift();
  });
  addEventListener("drop", (e) => {
    lift();
    if (!files(e)) return;
    e.preventDefault();
    take([...e.dataTransfer.files]);
  });
}

// onPaste takes SVG code or files from the clipboard.
export function onPaste(take) {
  addEventListener("paste", (e) => {
    if (e.target.matches?.("input, textarea")) return;
    const files = [...(e.clipboardData?.files ?? [])];
    const text = e.clipboardData?.getData("text/plain") ?? "";
    if (/<svg[\s>]/i.test(text)) {
      e.preventDefault();
      const code = text.slice(text.search(/<(\?xml|!DOCTYPE|!--|svg)/i));
      take([new File([code], "pasted.svg", { type: "image/svg+xml" })]);
    } else if (files.length) {
      e.preventDefault();
      take(files);
    } else if (text.trim()) {
      say("The clipboard holds text, but no SVG code. Copy the artwork as SVG, or drop its file.", {
        bad: true,
      });
    }
  });
}

const written = "input:not([type=range]):not([type=checkbox]), textarea, select";

// typing reports whether a key goes into a field.
export const typing = (e) => e.target.matches?.(written) ?? false;

// plain reports whether a key is pressed by itself and not into a field.
export const plain = (e) => !typing(e) && !e.ctrlKey && !e.metaKey && !e.altKey;

// keysDialog shows the keys that entries() lists, on ? and on the help button.
export function keysDialog(entries) {
  const open = () => {
    if (document.querySelector("dialog.keys")) return;
    const rows = entries().flatMap(([k, what]) => [
      el("dt", {}, ...k.split(" ").map((x) => el("kbd", {}, x))),
      el("dd", {}, what),
    ]);
    const close = el("button", { class: "button is-small", onclick: () => d.close() }, "Close");
    const d = el("dialog", { class: "keys" }, el("h2", {}, "Keys"), el("dl", {}, ...rows), close);
    d.addEventListener("close", () => d.remove());
    document.body.append(d);
    d.showModal();
  };
  $("help").addEventListener("click", open);
  addEventListener("keydown", (e) => {
    if (e.key !== "?" || typing(e)) return;
    e.preventDefault();
    open();
  });
}

// ask opens a dialog with a title and what it holds; it returns the dialog.
export function ask(title, kind, ...kids) {
  const d = el(
    "dialog",
    { class: `ask ${kind}`, "aria-labelledby": "asktitle" },
    el("h2", { id: "asktitle" }, title),
    ...kids,
  );
  d.addEventListener("close", () => d.remove());
  document.body.append(d);
  d.showModal();
  return d;
}

// bigChoice is one answer of a dialog.
export const bigChoice = (title, small, act) =>
  el(
    "button",
    { class: "bigchoice", type: "button", onclick: act },
    el("b", {}, title),
    el("span", {}, small),
  );

// hand gives a file to the browser's downloads.
export function hand({ name, blob }) {
  const a = el("a", { href: URL.createObjectURL(blob), download: name });
  document.body.append(a);
  a.click();
  a.remove();
  setTimeout(() => URL.revokeObjectURL(a.href), 60000);
  const size =
    blob.size >= 1e6 ? `${(blob.size / 1e6).toFixed(1)} MB` : `${Math.ceil(blob.size / 1000)} kB`;
  say(`${name}, ${size}, is in your downloads.`);
}
