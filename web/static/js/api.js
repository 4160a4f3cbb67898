// Talking to the server: JSON in and out, with the token that changes need.

let token = document.querySelector('meta[name="csrf"]')?.content ?? "";

export class Refusal extends Error {
  constructor(text, status) { super(text); this.status = status; }
}

async function refreshToken() {
  const r = await fetch("/token", { cache: "no-store" });
  if (r.ok) token = (await r.json()).token;
}

async function send(address, options, again = true) {
  let r;
  try {
    r = await fetch(address, { ...options, headers: { Accept: "application/json", ...options.headers, ...(options.method === "POST" ? { "X-Csrf-Token": token } : {}) } });
  } catch (e) {
    if (e.name === "AbortError") throw e;
    throw new Refusal("Bildhauer does not answer. Is it still running?", 0);
  }
  // After a restart the server knows our token no more; a new one will do.
  if (r.status === 403 && again && options.method === "POST") {
    await refreshToken();
    return send(address, options, false);
  }
  if (!r.ok) {
    let text = `The server answered ${r.status}.`;
    try { text = (await r.json()).error ?? text; } catch { /* keep the plain text */ }
    throw new Refusal(text, r.status);
  }
  return r;
}

export const get = async (address) => (await send(address, { method: "GET", cache: "no-store" })).json();

export const post = async (address, body = {}) =>
  (await send(address, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body) })).json();

export const postBinary = async (address, body, signal) =>
  (await send(address, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(body), signal })).arrayBuffer();

export const getFile = async (address) => {
  const r = await send(address, { method: "GET", cache: "no-store" });
  const name = /filename="?([^";]+)/.exec(r.headers.get("Content-Disposition") ?? "")?.[1] ?? "piece";
  return { name, blob: await r.blob() };
};

// uploadTo sends files, with progress from 0 to 100.
export function uploadTo(address, files, progress) {
  return new Promise((resolve, reject) => {
    const go = (again) => {
      const form = new FormData();
      for (const f of files) form.append("file", f, f.name);
      const x = new XMLHttpRequest();
      x.open("POST", address);
      x.setRequestHeader("X-Csrf-Token", token);
      x.setRequestHeader("Accept", "application/json");
      x.upload.onprogress = (e) => progress?.(e.lengthComputable ? (100 * e.loaded) / e.total : 0);
      x.onerror = () => reject(new Refusal("Bildhauer does not answer. Is it still running?", 0));
      x.onload = async () => {
        let body = {};
        try { body = JSON.parse(x.responseText); } catch { /* no JSON */ }
        if (x.status === 403 && again) { await refreshToken(); go(false); return; }
        if (x.status === 200) resolve(body);
        else reject(new Refusal(body.error ?? `The server answered ${x.status}.`, x.status));
      };
      x.send(form);
    };
    go(true);
  });
}
