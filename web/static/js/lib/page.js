// What every page has: elements, messages, the drop of files, the help on keys.

import { post } from "./api.js";
import { above } from "./above.js";
import { $, el } from "./el.js";
import { tellBy } from "./doing.js";

export { $, el } from "./el.js";
export { modal, plain, typing } from "./keys.js";

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
    line.append(el("button", { class: "answer", onclick: answer }, action));
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
      say(`Saved as ${where}`, { stay: 20_000 });
    } catch (again) {
      complain(again);
    }
  };
  say(e.message, { bad: true, action: "Save the file for a report", act });
};

tellBy(complain, (why) => say(why, { stay: 4000 }));

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

// ask opens a dialog with a title and what it holds; it returns the dialog.
export function ask(title, kind, ...kids) {
  const d = el(
    "dialog",
    { class: `ask ${kind}`, "aria-labelledby": "asktitle" },
    el("h2", { id: "asktitle" }, title),
    ...kids,
  );
  return above(d);
}

// bigChoice is one answer of a dialog.
export const bigChoice = (title, small, act) =>
  el(
    "button",
    { class: "bigchoice", type: "button", onclick: act },
    el("b", {}, title),
    el("span", {}, small),
  );

// bringBack takes back that something was deleted: a piece, a version or a recipe. done() happens
// when it is there again.
export async function bringBack(kind, id, done) {
  try {
    const { say: more } = await post(`/deleted/${kind}/${id}/back`);
    await done();
    if (more) say(more);
  } catch (e) {
    complain(e);
  }
}

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
