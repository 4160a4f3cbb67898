// Talking to the server: JSON in and out, with the token that changes need.

let token = document.querySelector('meta[name="csrf"]')?.content ?? "";

// Refusal is an answer that is no result. kind tells scripts what it is:
// "cancelled", "stale" (changed meanwhile) or "partly".
export class Refusal extends Error {
  constructor(text, status, body = {}) {
    super(text);
    this.status = status;
    this.kind = body.kind ?? "";
    this.body = body;
  }
}

const silent = () => new Refusal("Bildhauer does not answer. Is it still running?", 0);
const unknown = (status) => `The server answered ${status}.`;

async function refreshToken() {
  const r = await fetch("/token", { cache: "no-store" });
  if (r.ok) token = (await r.json()).token;
  else if (r.status === 401) await again();
}

// again asks for the passphrase when the session is over.
async function again() {
  const { enterAgain } = await import("./entry.js");
  token = await enterAgain();
}

// Small requests are finished even if the page is left meanwhile. Browsers allow 64 kB of them in all.
const small = 8000; // bytes

async function send(address, options, tries = 2) {
  const headers = { Accept: "application/json", ...options.headers };
  if (options.method === "POST") headers["X-Csrf-Token"] = token;
  let r;
  try {
    r = await fetch(address, { ...options, headers });
  } catch (e) {
    if (e.name === "AbortError") throw e;
    throw silent();
  }
  // After a restart the server knows our token no more; a new one will do.
  if (r.status === 403 && tries && options.method === "POST") {
    await refreshToken();
    return send(address, options, tries - 1);
  }
  if (r.status === 401 && tries) {
    await again();
    return send(address, options, tries - 1);
  }
  if (!r.ok) {
    const body = await r.json().catch(() => ({}));
    throw new Refusal(body.error ?? unknown(r.status), r.status, body);
  }
  return r;
}

// Requests may belong to a job (frame/jobs.js): its id lets the server report
// on them, its signal ends them.
const of = (job) => ({ signal: job?.signal, headers: job ? { "X-Job": job.id } : {} });

const posted = (body, job) => {
  const text = JSON.stringify(body);
  const headers = { "Content-Type": "application/json", ...of(job).headers };
  return { method: "POST", signal: job?.signal, headers, body: text, keepalive: !job && text.length < small };
};

export const get = async (address, job) =>
  (await send(address, { method: "GET", cache: "no-store", ...of(job) })).json();

export const post = async (address, body = {}, job = undefined) =>
  (await send(address, posted(body, job))).json();

export const postBinary = async (address, body, job) =>
  (await send(address, posted(body, job))).arrayBuffer();

// postStream returns the answer as a stream of bytes.
export const postStream = async (address, body, job) => (await send(address, { ...posted(body, job), keepalive: false })).body;

// nameOf reads the name of a file, with its own letters where it has any.
function nameOf(disposition) {
  const own = /filename\*=UTF-8''([^;]+)/.exec(disposition)?.[1];
  return own ? decodeURIComponent(own) : (/filename="?([^";]+)/.exec(disposition)?.[1] ?? "piece");
}

export const getFile = async (address, job) => {
  const r = await send(address, { method: "GET", cache: "no-store", ...of(job) });
  return { name: nameOf(r.headers.get("Content-Disposition") ?? ""), blob: await r.blob() };
};

// uploadTo sends files, with progress from 0 to 100.
export function uploadTo(address, files, progress, job) {
  return new Promise((resolve, reject) => {
    const go = (tries) => {
      const form = new FormData();
      for (const f of files) form.append("file", f, f.name);
      const x = new XMLHttpRequest();
      x.open("POST", address);
      x.setRequestHeader("X-Csrf-Token", token);
      x.setRequestHeader("Accept", "application/json");
      if (job) x.setRequestHeader("X-Job", job.id);
      job?.signal.addEventListener("abort", () => x.abort());
      x.upload.onprogress = (e) => progress?.(e.lengthComputable ? (100 * e.loaded) / e.total : 0);
      x.onabort = () => reject(new DOMException("cancelled", "AbortError"));
      x.onerror = () => reject(silent());
      x.onload = async () => {
        if ((x.status === 403 || x.status === 401) && tries) {
          await (x.status === 401 ? again() : refreshToken());
          go(tries - 1);
          return;
        }
        let body = {};
        try {
          body = JSON.parse(x.responseText);
        } catch {
          // no JSON: the status has to do
        }
        if (x.status === 200) resolve(body);
        else reject(new Refusal(body.error ?? unknown(x.status), x.status, body));
      };
      x.send(form);
    };
    go(2);
  });
}
