// The library: titles as tiles that play under the pointer and the keyboard, found by kind and words, favourites of this browser.
import { ask, at, chips, made } from "./ask.mjs";

const STARRED = "avlet starred";
/** @type {{name: string, title: string, category: string, keywords: string[], note: string, version: number, fault: string}[]} */
let titles = [];
let category = "All";
let starred = new Set(kept());

/** @returns {string[]} */
function kept() {
  try {
    const found = JSON.parse(localStorage.getItem(STARRED) ?? "[]");
    return Array.isArray(found) ? found.filter((one) => typeof one === "string") : [];
  } catch {
    return [];
  }
}

/** @param {string} name */
function star(name) {
  if (!starred.delete(name)) starred.add(name);
  try {
    localStorage.setItem(STARRED, JSON.stringify([...starred]));
  } catch { /* a browser that keeps nothing */ }
  show();
}

/** @param {(typeof titles)[number]} title */
function tile(title) {
  const address = `/api/titles/${encodeURIComponent(title.name)}`;
  const picture = made("img", { alt: "", loading: "lazy", src: `${address}/thumbnail` });
  const link = made("a", { href: `/titles/${encodeURIComponent(title.name)}` }, [
    picture, made("span", { class: "title" }, [title.fault ? `⚠ ${title.title}` : title.title]),
    made("span", { class: "quiet" }, [title.fault || `${title.category}${title.version ? `, version ${title.version}` : ""}`]),
  ]);
  if (title.fault) link.removeAttribute("href");
  const play = (/** @type {boolean} */ on) => { picture.src = `${address}/${on ? "preview" : "thumbnail"}`; };
  picture.addEventListener("error", () => { if (picture.src.endsWith("preview")) play(false); });
  for (const [name, on] of /** @type {[string, boolean][]} */ ([["pointerenter", true], ["pointerleave", false], ["focus", true], ["blur", false]])) {
    link.addEventListener(name, () => { if (!title.fault) play(on); });
  }
  const mark = made("button", { class: "star", type: "button", "aria-pressed": String(starred.has(title.name)), "aria-label": `Favourite: ${title.title}` }, [
    starred.has(title.name) ? "★" : "☆",
  ]);
  mark.addEventListener("click", () => star(title.name));
  return made("li", { class: "tile" }, [link, mark]);
}

function show() {
  const words = at("search").value.toLowerCase().split(/\s+/).filter(Boolean);
  const seen = titles.filter((one) => {
    const text = [one.title, one.category, ...one.keywords, one.note].join(" ").toLowerCase();
    const fits = category === "All" || (category === "★" ? starred.has(one.name) : one.category === category);
    return fits && words.every((/** @type {string} */ word) => text.includes(word));
  });
  at("tiles").replaceChildren(...seen.map(tile));
  at("told").textContent = seen.length || !titles.length ? "" : category === "★" ? "No favourite yet: the star of a title makes it one." : "No title has these words.";
}

async function begin() {
  try {
    titles = (await ask("/api/titles")).titles;
  } catch (error) {
    at("told").textContent = /** @type {Error} */ (error).message;
    return;
  }
  at("about").textContent = `${titles.length} title${titles.length === 1 ? "" : "s"}`;
  const names = ["All", ...[...new Set(titles.filter((one) => !one.fault).map((one) => one.category))].sort(), "★"];
  chips(at("categories"), names, "All", (name) => { category = name; show(); });
  if (!titles.length) at("told").textContent = "This library has no titles yet. Hand one over in Avlet, and load this page again.";
  show();
}

at("search").addEventListener("input", show);
void begin();
