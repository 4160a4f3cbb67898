// What to do with a file that comes to a piece: add it, let it take the place
// of a sheet, or begin a piece of its own.

import { post, uploadTo } from "./api.js";
import { complain, el, say } from "./page.js";
import { count } from "./length.js";

const fonts = /\.(ttf|otf|ttc|woff2?)$/i;

// receive asks what files are for and does it.
export async function receive(piece, files) {
  const faces = files.filter((f) => fonts.test(f.name)), art = files.filter((f) => !fonts.test(f.name));
  for (const f of faces) await add(piece, [f], `The font in ${f.name} is used now.`);
  if (!art.length) return;
  const sheets = piece.state.sheets;
  const d = el("dialog", { class: "ask", "aria-labelledby": "asktitle" });
  const choice = (title, small, act) => el("button", { class: "bigchoice", type: "button", onclick: () => { d.close(); act(); } }, el("b", {}, title), el("span", {}, small));
  d.append(el("h2", { id: "asktitle" }, art.length === 1 ? art[0].name : `${art.length} files`),
    ...(art.length === 1 ? sheets.slice(0, 5).map((s) => choice(`Exchange ${s.name}`, "a changed file: your decisions stay with the shapes they belong to", () => exchange(piece, s, art[0]))) : []),
    choice("Add to this piece", art.length === 1 ? "as one more sheet" : "as further sheets", () => add(piece, art, art.length === 1 ? `${art[0].name} was added.` : `${art.length} sheets were added.`)),
    choice(art.length === 1 ? "New piece" : "New pieces", "this one stays as it is", () => begin(piece, art)),
    el("button", { class: "plainbutton", type: "button", onclick: () => d.close() }, "Cancel"));
  d.addEventListener("close", () => d.remove());
  document.body.append(d);
  d.showModal();
}

export async function add(piece, files, done) {
  piece.busy(`Reading ${files[0].name}`, null);
  try { piece.take(await uploadTo(`${piece.base}/sheets`, files)); say(done, { action: "Undo", act: () => document.getElementById("undo").click() }); } catch (e) { complain(e); }
  piece.done();
}

async function begin(piece, files) {
  for (const f of files) {
    piece.busy(`Reading ${f.name}`, null);
    try {
      const r = await uploadTo("/pieces", [f]);
      say(`${f.name} became a new piece.`, { action: "Open it", act: () => { location.href = r.address; }, stay: 15000 });
    } catch (e) { complain(e); }
    piece.done();
  }
}

// exchange shows what a changed file keeps, brings and loses before it is
// accepted.
export async function exchange(piece, sheet, file) {
  piece.busy(`Comparing ${file.name}`, null);
  let x;
  try { x = await uploadTo(`${piece.base}/sheets/${sheet.slot}/propose`, [file]); } catch (e) { complain(e); return; } finally { piece.done(); }
  const d = el("dialog", { class: "ask wide", "aria-labelledby": "asktitle" });
  const pad = 0.04 * Math.max(x.box[2], x.box[3]);
  const picture = el("svg", { class: "compare", viewBox: `${x.box[0] - pad} ${x.box[1] - pad} ${x.box[2] + 2 * pad} ${x.box[3] + 2 * pad}`, role: "img", "aria-label": "Kept, changed, new and gone shapes" },
    ...["kept", "changed", "new", "gone"].flatMap((kind) => x[kind].paths.map((d) => el("path", { class: kind, d }))));
  const list = (kind, title, part, sign) => el("section", { class: `was ${kind}` }, el("h3", {}, el("i", { "aria-hidden": "true" }, sign), `${count(part.count)} ${title}`),
    part.names?.length ? el("ul", {}, ...part.names.slice(0, 12).map((n) => { const sw = el("span", { class: "sw" }); sw.style.background = n.color; return el("li", {}, sw, n.name); }),
      ...(part.count > 12 ? [el("li", { class: "soft" }, `and ${count(part.count - 12)} more`)] : [])) : null);
  let settled = false;
  const yes = el("button", { class: "button is-primary", type: "button", onclick: async () => {
    settled = true; d.close();
    try { piece.take(await post(`${piece.base}/sheets/${sheet.slot}/accept`, { file: x.file })); say(`${x.name} took the place of ${sheet.name}.`, { action: "Undo", act: () => document.getElementById("undo").click(), stay: 10000 }); } catch (e) { complain(e); }
  } }, "Exchange");
  d.append(el("h2", { id: "asktitle" }, `${x.name} for ${sheet.name}`),
    el("div", { class: "comparison" }, picture, el("div", { class: "lists" }, list("kept", "kept as they were", x.kept, "="), list("changed", "kept, but look different", x.changed, "~"), list("new", "new", x.new, "+"), list("gone", "gone", x.gone, "−"))),
    el("p", { class: "soft" }, "Names, colours, what is left out and the measures of parts stay with the shapes that are kept. Undo brings the old file back."),
    el("div", { class: "buttons" }, yes, el("button", { class: "button", type: "button", onclick: () => d.close() }, "Leave as it is")));
  d.addEventListener("close", () => { d.remove(); if (!settled) post(`${piece.base}/decline`, { file: x.file }).catch(() => {}); });
  document.body.append(d);
  d.showModal();
  yes.focus();
}

// onPaste takes SVG code or files from the clipboard.
export function onPaste(take) {
  addEventListener("paste", (e) => {
    if (e.target.matches?.("input, textarea")) return;
    const files = [...(e.clipboardData?.files ?? [])];
    const text = e.clipboardData?.getData("text/plain") ?? "";
    if (/<svg[\s>]/i.test(text)) { e.preventDefault(); take([new File([text.slice(text.search(/<(\?xml|!DOCTYPE|!--|svg)/i))], "pasted.svg", { type: "image/svg+xml" })]); return; }
    if (files.length) { e.preventDefault(); take(files); return; }
    if (text.trim()) say("The clipboard holds text, but no SVG code. Copy the artwork as SVG, or drop its file.", { bad: true });
  });
}
