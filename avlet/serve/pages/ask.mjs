// Asking the server: JSON there and back, and what went wrong as a sentence.

/** What the server refused, in its own words. */
export class Refused extends Error {
  /** @param {number} status @param {string} words */
  constructor(status, words) {
    super(words);
    this.status = status;
  }
}

/**
 * Ask for JSON. Rejects with Refused, or with an AbortError where the signal says so.
 * @param {string} address
 * @param {{method?: string, body?: unknown, signal?: AbortSignal}} [given]
 * @returns {Promise<any>}
 */
export async function ask(address, given = {}) {
  const sent = given.body === undefined ? {} : { body: JSON.stringify(given.body), headers: { "content-type": "application/json" } };
  let answer;
  try {
    answer = await fetch(address, { method: given.method ?? (given.body === undefined ? "GET" : "POST"), signal: given.signal ?? null, ...sent });
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    throw new Refused(0, "The server does not answer. Is it still running? What you typed is kept here.");
  }
  if (answer.status === 204) return null;
  const told = await answer.json().catch(() => null);
  if (!answer.ok) throw new Refused(answer.status, told?.detail ?? `The server answered ${answer.status}.`);
  return told;
}

/** What the engine makes of words for a field of a title, as words. @param {string} title Its address. @param {string} field @param {string} words @returns {Promise<string>} */
export async function readWords(title, field, words) {
  return (await ask(`${title}/look`, { body: { typed: { [field]: words }, width: 64 } })).typed[field] ?? "";
}

/** @param {string} id @returns {any} The element of this page with that id. */
export function at(id) {
  return document.getElementById(id);
}

/**
 * Make an element.
 * @param {string} kind @param {Record<string, string>} [given] Attributes. @param {(Node|string)[]} [inside]
 * @returns {any}
 */
export function made(kind, given = {}, inside = []) {
  const one = document.createElement(kind);
  for (const [name, value] of Object.entries(given)) one.setAttribute(name, value);
  one.append(...inside);
  return one;
}

/**
 * A row of which one is chosen, gone through with arrows as radio buttons are.
 * @param {HTMLElement} row @param {string[]} names @param {string} chosen @param {(name: string) => void} tell
 */
export function chips(row, names, chosen, tell) {
  const choose = (/** @type {string} */ name, /** @type {boolean} */ focus) => {
    for (const one of /** @type {NodeListOf<HTMLButtonElement>} */ (row.querySelectorAll("button"))) {
      const is = one.textContent === name;
      one.setAttribute("aria-checked", String(is));
      one.tabIndex = is ? 0 : -1;
      if (is && focus) one.focus();
    }
    tell(name);
  };
  row.replaceChildren(...names.map((name) => {
    const one = made("button", { type: "button", role: "radio", "aria-checked": String(name === chosen) }, [name]);
    one.tabIndex = name === chosen ? 0 : -1;
    one.addEventListener("click", () => choose(name, false));
    one.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
      const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
      if (step === undefined) return;
      event.preventDefault();
      choose(names[(names.indexOf(name) + step + names.length) % names.length] ?? name, true);
    });
    return one;
  }));
}

/** The bytes of a file. @param {Blob} file @returns {Promise<string>} */
export async function base64(file) {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let words = "";
  for (let at = 0; at < bytes.length; at += 32768) words += String.fromCharCode(...bytes.subarray(at, at + 32768));
  return btoa(words);
}
