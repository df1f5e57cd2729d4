// On air: a running order, what is next, what is on air. All that it does goes through the OGraf server interface.
import { Refused, ask, at, made, readWords } from "./ask.mjs";
import { Card } from "./card.mjs";
import { perSecond } from "./reel.mjs";
import { showRenderer } from "./renderer.mjs";

const RENDERER = "/ograf/v1/renderers/main/target/graphicInstance", LAYER = 1, KEPT = "avlet running order", SOON = 250;

/**
 * @typedef {{name: string, typed: Record<string, string>, answers: Record<string, unknown>, pictures?: Record<string, string>}} Kept What a file of a running order has of a row.
 * @typedef {Kept & {title: any, said: string, aired: string, data: unknown, instance: string, state: "painted" | "ready" | "fault", stale: boolean, picture: string,
 *   changes: number, known: number, settling: Promise<void>|null, asking: AbortController}} Row A row; `stale` while what is loaded has other words than it, `known` the
 *   changes that the engine has read, `aired` the words that are on air.
 */
/** @type {Row[]} */ let rows = [];
let chosen = -1;
/** @type {Row|null} */ let live = null;
/** @type {Card|null} */ let card = null;
let began = 0;
/** @type {Promise<unknown>} The last title that was added, once it has its row. */ let placing = Promise.resolve();
/** @type {Map<string, any>} */ const titles = new Map();

/** @param {string} words */
const tell = (words) => { at("told").textContent = words; };

// The running order

/** Add a title behind those that were wanted before, however long each takes to come. @param {Kept} kept @returns {Promise<void>} */
async function add(kept) {
  const row = (placing = placing.then(() => placed(kept), () => placed(kept)));
  await settle(await row).catch((error) => tell(error.message));  // those behind it come all the same
}

/** @param {Kept} kept @returns {Promise<Row>} */
async function placed(kept) {
  if (!titles.has(kept.name)) titles.set(kept.name, await ask(`/api/titles/${encodeURIComponent(kept.name)}`));
  /** @type {Row} */
  const row = { ...kept, title: titles.get(kept.name), said: "", aired: "", data: null, instance: "", state: "painted", stale: false, picture: "", changes: 0, known: -1, settling: null, asking: new AbortController() };
  rows.push(row);
  if (chosen < 0) choose(0);
  keep();
  show();
  return row;
}

/** Have what is loaded say what the row says; rejects with what was refused last. @param {Row} row @returns {Promise<void>} */
function settle(row) {
  return (row.settling ??= settled(row).finally(() => { row.settling = null; }));
}

/** One thing after the other, and again for what was changed meanwhile. @param {Row} row */
async function settled(row) {
  let sent = false;
  while (row.known !== row.changes) {
    const known = (row.known = row.changes);
    row.asking = new AbortController();
    const { signal } = row.asking;
    try {
      await look(row, signal);
      sent = row.instance === "" || row !== live;
      if (row.instance === "") await load(row, signal);
      else if (sent) await act("updateAction", row, { data: row.data }, signal);
    } catch (error) {
      if (error instanceof Refused && error.status === 404 && row.instance && row !== live) {
        row.instance = "";  // the server was begun anew, or somebody cleared it
        row.known = -1;
      } else if (known === row.changes) {
        row.known = -1;
        row.state = "fault";
        show();
        throw error;
      }
    }
  }
  row.state = "ready";
  if (sent) row.stale = false;
  show();
}

/** @param {Row} row @param {AbortSignal} signal */
async function load(row, signal) {
  row.state = "painted";
  show();
  const done = await ask(`${RENDERER}/load`, { body: { renderTarget: LAYER, graphicId: `avlet.${row.name}`, params: { data: row.data } }, signal });
  row.instance = done.graphicInstanceId;
}

/** Whether what would come on air is what the row says. @param {Row|undefined} row @returns {boolean} */
function isReady(row) {
  return row !== undefined && row.instance !== "" && row.state === "ready" && (!row.stale || row === live);
}

/** @param {Row} row @returns {string} */
function addressOf(row) {
  return `/api/titles/${encodeURIComponent(row.name)}`;
}

/** @param {Row} row @param {AbortSignal} signal */
async function look(row, signal) {
  const seen = await ask(`${addressOf(row)}/look`, { body: { typed: row.typed, answers: row.answers, pictures: row.pictures ?? {}, width: 640 }, signal });
  row.picture = seen.picture;
  /** @type {{id: string, kind: string}[]} */
  const fields = row.title.sections.flatMap((/** @type {any} */ one) => one.fields);
  row.said = saidOf(row.title.sections, seen);
  const lengths = new Set(fields.filter((one) => one.kind === "length").map((one) => one.id));
  row.data = Object.fromEntries(Object.entries(seen.answers).map(([id, value]) => [id, lengths.has(id) ? Math.round((Number(value) * 1000) / perSecond(row.title.frame.rate)) : value]));
  if (rows[chosen] === row) showNext();
}

/**
 * What a title says, in short: the words of its card and the numbers that stand among them.
 * @param {{fields: {id: string, kind: string}[]}[]} sections @param {{shown: string[], typed: Record<string, string>}} seen @returns {string}
 */
function saidOf(sections, seen) {
  const shown = sections.map((one) => one.fields.filter((field) => seen.shown.includes(field.id) && seen.typed[field.id]));
  const worded = shown.filter((fields) => fields.some((one) => one.kind === "text"));
  let told = "", number = false;
  for (const { id, kind } of (worded.length ? worded : shown).flat().filter((one) => one.kind === "text" || one.kind === "number").slice(0, 3)) {
    told += `${told && (number ? " " : " · ")}${(seen.typed[id] ?? "").trim()}`;
    number = kind === "number";
  }
  return told;
}

function keep() {
  try {
    localStorage.setItem(KEPT, JSON.stringify(kept()));
  } catch { /* a browser that keeps nothing */ }
}

/** @returns {Kept[]} */
function kept() {
  return rows.map(({ name, typed, answers, pictures }) => ({ name, typed, answers, ...(pictures ? { pictures } : {}) }));
}

/** @param {string} words @returns {Kept[]} */
function read(words) {
  const found = JSON.parse(words);
  if (!Array.isArray(found) || found.length > 40 || found.some((one) => typeof one?.name !== "string" || typeof (one.typed ?? {}) !== "object")) {
    throw new Error("That is no running order of up to 40 titles.");
  }
  return found.map((one) => ({ name: one.name, typed: one.typed ?? {}, answers: one.answers ?? {}, pictures: one.pictures ?? {} }));
}

/** @param {string} words */
async function openAll(words) {
  try {
    for (const one of read(words)) await add(one);
  } catch (error) {
    tell(/** @type {Error} */ (error).message);
  }
}

// What is shown

function show() {
  const list = at("rows");
  while (list.children.length > rows.length) list.lastElementChild.remove();
  rows.forEach((row, number) => {
    const air = row === live, one = list.children[number] ?? shownRow(number), [, said, kind, told] = one.children;
    const state = air ? `on air · ${clock()}${row.stale ? " · changed" : ""}` : row.state === "painted" ? "being painted" : row.state === "fault" ? "⚠" : row.stale ? "changed" : number === chosen ? "next, ready" : "ready";
    one.setAttribute("aria-selected", String(number === chosen));
    one.className = air ? "air" : "";
    told.className = `state ${row.state}`;
    [said.textContent, kind.textContent, told.textContent] = [row.said || row.title.title, row.title.title, state];
  });
  if (chosen >= 0) at("rows").setAttribute("aria-activedescendant", `row-${chosen}`);
  at("live-name").textContent = live ? live.aired : "";
  const next = rows[chosen];
  at("take").disabled = at("cut").disabled = !isReady(next);
  at("out").disabled = live === null;
  at("update").disabled = !next?.instance || !next.stale || next.state !== "ready";
}

/** A row that stays while what it says changes, so that a press on it is one. @param {number} number */
function shownRow(number) {
  const spans = ["number", "", "kind", "state"].map((name) => made("span", { class: name }));
  spans[0].textContent = String(number + 1);
  const one = made("li", { role: "option", id: `row-${number}` }, spans);
  one.addEventListener("click", () => choose(number));
  at("rows").append(one);
  return one;
}

/** @returns {string} */
function clock() {
  const seconds = Math.floor((Date.now() - began) / 1000);
  return `${String(Math.floor(seconds / 60)).padStart(2, "0")}:${String(seconds % 60).padStart(2, "0")}`;
}

function showNext() {
  const row = rows[chosen];
  at("next").src = row?.picture ?? "";
  at("next").alt = row ? `Next: ${row.said}` : "";
  at("next-name").textContent = row ? row.title.title : "";
}

/** @param {number} number */
function choose(number) {
  chosen = Math.max(0, Math.min(rows.length - 1, number));
  const row = rows[chosen];
  if (!row) return;
  at("name").textContent = `Next: ${row.title.title}`;
  at("note").textContent = row.title.about;
  let soon = 0;
  const mine = new Card(at("fields"), row.title.sections, () => {
    note(row, mine);
    window.clearTimeout(soon);
    soon = window.setTimeout(() => void changed(row, mine), SOON);
  }, (field, words) => readWords(addressOf(row), field, words));
  card = mine;
  for (const [file, data] of Object.entries(row.pictures ?? {})) mine.pictures.set(file, data);
  mine.put(row.typed);
  showNext();
  show();
}

/** Take down what stands on the card: from the first key on, what is loaded is something else. @param {Row} row @param {Card} mine */
function note(row, mine) {
  const given = mine.given;
  row.typed = given.typed;
  row.answers = { ...row.answers, ...given.answers };
  row.pictures = given.pictures ?? {};
  row.changes += 1;
  row.stale = true;
  row.asking.abort();  // older words need not be painted to their end
  show();
}

/** @param {Row} row @param {Card} mine */
async function changed(row, mine) {
  keep();
  try {
    await settle(row);
    tell("");
    for (const field of mine.fields) mine.fault(field.id, "");
  } catch (error) {
    tell(/** @type {Error} */ (error).message);
  }
  if (card === mine) show();
}

// What is done

/** @param {string} action @param {Row} row @param {unknown} params @param {AbortSignal} [signal] */
async function act(action, row, params, signal) {
  await ask(`${RENDERER}/${action}`, { body: { renderTarget: LAYER, graphicInstanceId: row.instance, params }, ...(signal ? { signal } : {}) });
}

/** @param {boolean} skip */
async function take(skip) {
  const row = rows[chosen];
  if (row === undefined || !isReady(row)) return;
  await act("playAction", row, { skipAnimation: skip });
  const before = live;
  live = row;
  row.aired = row.said;
  if (before !== null && before !== row) catchUp(before);
  began = Date.now();
  if (chosen < rows.length - 1) choose(chosen + 1);
  show();
}

async function out() {
  if (!live) return;
  const row = live;
  live = null;
  await act("stopAction", row, {});
  catchUp(row);
  show();
}

/** What is on air no more gets the words that were typed while it was. @param {Row} row */
function catchUp(row) {
  if (!row.stale) return;
  row.changes += 1;
  settle(row).catch((error) => tell(error.message));
}

async function update() {
  const row = rows[chosen];
  if (row === undefined) return;
  if (row.known !== row.changes || row.settling) await settle(row);
  if (!row.instance || !row.stale || row.state !== "ready") return;
  const known = row.changes, sent = row.said;
  await act("updateAction", row, { data: row.data });
  row.aired = sent;
  if (known === row.changes) row.stale = false;
  show();
}

/** @param {() => Promise<void>} work */
const tried = (work) => () => void work().then(() => tell(""), (error) => tell(error.message));

async function begin() {
  showRenderer(at("live"), "main", (connected) => { at("about").textContent = connected ? "renderer main, connected" : "renderer main: not connected, trying again"; });
  const all = (await ask("/api/titles")).titles.filter((/** @type {any} */ one) => !one.fault);
  let before = "[]";  // read, and the layer cleared, before anything can be added: what a quick hand adds would be there twice, or gone
  try {
    before = localStorage.getItem(KEPT) ?? "[]";
  } catch { /* a browser that keeps nothing */ }
  await ask(`${RENDERER}/clear`, { method: "PUT", body: { filters: [{ renderTarget: LAYER }] } });
  at("add").replaceChildren(made("option", { value: "" }, ["Add a title …"]), ...all.map((/** @type {any} */ one) => made("option", { value: one.name }, [one.title])));
  at("add").addEventListener("change", () => {
    const name = at("add").value;
    at("add").value = "";
    if (name) tried(() => add({ name, typed: {}, answers: {} }))();
  });
  at("take").addEventListener("click", tried(() => take(false)));
  at("cut").addEventListener("click", tried(() => take(true)));
  at("out").addEventListener("click", tried(out));
  at("update").addEventListener("click", tried(update));
  at("card").addEventListener("submit", (/** @type {Event} */ event) => event.preventDefault());
  at("keep").addEventListener("click", () => {
    const address = URL.createObjectURL(new Blob([JSON.stringify(kept(), null, 2)], { type: "application/json" }));
    made("a", { href: address, download: "running-order.json" }).click();
    URL.revokeObjectURL(address);
  });
  at("open").addEventListener("change", async () => {
    const file = at("open").files?.[0];
    const words = file && file.size < 4_000_000 ? await file.text() : "";
    at("open").value = "";
    await openAll(words);
  });
  addEventListener("keydown", (event) => {
    const typing = /** @type {HTMLElement} */ (event.target).closest("input, textarea, select, button, a");
    if (event.key === "Escape") tried(out)();
    else if (typing) return;
    else if (event.key === "Enter") tried(() => take(event.shiftKey))();
    else if (event.key.toLowerCase() === "u") tried(update)();
    else if (event.key === "ArrowDown" || event.key === "ArrowUp") choose(chosen + (event.key === "ArrowDown" ? 1 : -1));
    else if (event.key === "Delete" && rows[chosen] && rows[chosen] !== live) {
      const [gone] = rows.splice(chosen, 1);
      if (gone?.instance) tried(() => ask(`${RENDERER}/clear`, { method: "PUT", body: { filters: [{ graphicInstanceId: gone.instance }] } }))();
      keep();
      if (rows.length) choose(Math.min(chosen, rows.length - 1));
      else chosen = -1;
      show();
    } else return;
    event.preventDefault();
  });
  window.setInterval(() => { if (live) show(); }, 1000);
  show();
  await openAll(before);
}

void begin().catch((error) => tell(error.message));
