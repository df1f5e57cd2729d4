// A table for one title: threads from columns to fields, rows as they will be, cells put right where they stand, all of them made.
import { Refused, ask, at, base64, chips, made } from "./ask.mjs";
import { SentFiles } from "./sent.mjs";
import { Shots } from "./shots.mjs";
import { take } from "./take.mjs";

/** @typedef {{name: string, rows: string[][], kept_as: string, remarks: string[]}} Table */
/** @typedef {{column: number, target: string}} Thread */
/**
 * What a row comes to; each language has answers of its own, and each frame a picture. `which` of them is meant is named where there are several.
 * @typedef {{number: number, cells: string[], name: string, fault: string,
 *   keys: string[], each: (import("./shots.mjs").Wanted & {which: string})[], faults: {column: number, words: string}[]}} Row
 */

const name = decodeURIComponent(location.pathname.split("/").at(-2) ?? "");
const address = `/api/titles/${encodeURIComponent(name)}`, KEPT = `avlet table ${name}`;
const AT_ONCE = 100, VERDICTS = ["cannot be rendered", "breaks", "to look at", "holds"];

/** @type {Table|null} */ let table = null;
/** @type {Thread[]|null} */ let threads = null;
/** @type {any} */ let plan = null;
let verdict = "All rows", most = AT_ONCE, counting = 0, asking = new AbortController();
const shots = new Shots(address, painted, kept), beside = new SentFiles(() => void changed());
/** @type {Map<number, any>} The rows that are shown, by their numbers. */
const lines = new Map();
/** @type {Map<string, Row[]>} The rows that a picture belongs to. */
const byKey = new Map();
const sight = new IntersectionObserver((seen) => {
  for (const one of seen) {
    for (const key of JSON.parse(/** @type {HTMLElement} */ (one.target).dataset["keys"] ?? "[]")) {
      if (one.isIntersecting) shots.inSight.add(key);
      else shots.inSight.delete(key);
    }
  }
});

// The table

/** @param {{words?: string, name?: string, data?: string}} sent */
async function give(sent) {
  at("paste-fault").textContent = "";
  try {
    table = await ask("/api/tables", { body: sent });
  } catch (error) {
    at("paste-fault").textContent = /** @type {Error} */ (error).message;
    return;
  }
  threads = plan = null;  // what was chosen for the table before is offered anew for this one
  at("pattern").value = "";
  most = AT_ONCE;
  lines.clear();
  await changed();
  at("other").focus();
}

/** What is wanted of the table now. */
function wanted() {
  const ticked = (/** @type {string} */ id) => [...at(id).querySelectorAll("input:checked")].map((one) => one.value);
  const offered = () => ({ kinds: ticked("kinds"), frames: ticked("frames").map((one) => one.split("x").map(Number)), languages: ticked("languages") });
  return {
    rows: table?.rows ?? [], name: table?.name ?? "", kept_as: table?.kept_as ?? "", ...(threads ? { threads } : {}),
    ...(plan ? offered() : {}),
    files: beside.known(), pattern: at("pattern").value.trim(), plate: at("plate").value, empty: at("empty").checked,
  };
}

/** Ask what the rows come to; only the last asked for counts. */
async function changed() {
  asking.abort();
  asking = new AbortController();
  const { signal } = asking;
  at("give").hidden = table !== null;
  at("held").hidden = table === null;
  at("away").hidden = table === null;
  at("take").disabled = true;
  keep();
  if (table === null) return;
  try {
    const first = plan === null;
    plan = await kept(() => ask(`${address}/rows`, { body: wanted(), signal }));
    if (signal.aborted) return;
    at("fault").textContent = "";
    threads = plan.threads;
    byKey.clear();
    for (const row of /** @type {Row[]} */ (plan.rows)) {
      row.keys = row.each.map(Shots.key);
      for (const key of row.fault ? [] : row.keys) byKey.set(key, [...(byKey.get(key) ?? []), row]);
    }
    if (first) offer();
    show();
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") return;
    at("fault").textContent = /** @type {Error} */ (error).message;
    if (plan === null) withoutPlan();
  }
}

/** Ask for what needs the files that were sent; where they are not kept any more, they are sent once more. @template T @param {() => Promise<T>} work @returns {Promise<T>} */
async function kept(work) {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof Refused) || error.status !== 404 || !beside.held.size) throw error;
    await beside.again();
    return work();
  }
}

/** The table stays in this tab, should the page be loaded again. */
function keep() {
  try {
    if (table) sessionStorage.setItem(KEPT, JSON.stringify(table));
    else sessionStorage.removeItem(KEPT);
  } catch { /* a browser that keeps nothing, or not so much */ }
}

/** A table of which no column leads to a field yet: its threads are to be drawn by hand. */
async function withoutPlan() {
  const title = await ask(address).catch(() => null);
  const heads = table?.rows.find((row) => row.some((cell) => cell.trim())) ?? [];
  const targets = (title?.sections ?? []).flatMap((/** @type {any} */ one) => one.fields).filter((/** @type {any} */ one) => one.kind !== "note");
  at("table").textContent = table?.name ?? "";
  showHeads(heads, targets.map((/** @type {any} */ one) => ({ id: one.id, label: one.label })), []);
  at("lines").replaceChildren();
}

// What is shown

/** What may be made of each row. */
function offer() {
  const tick = (/** @type {string} */ value, /** @type {string} */ words, /** @type {boolean} */ on) => {
    const box = made("input", { type: "checkbox", value });
    box.checked = on;
    box.addEventListener("change", changed);
    return made("label", { class: "tick" }, [box, words]);
  };
  at("kinds").replaceChildren(...plan.kinds.map((/** @type {any} */ one, /** @type {number} */ n) => tick(one.id, one.name, n === 0)));
  at("frames").replaceChildren(...plan.frames.map((/** @type {any} */ one, /** @type {number} */ n) => tick(one.size.join("x"), one.name, n === 0)));
  at("languages").replaceChildren(...plan.languages.map((/** @type {any} */ one, /** @type {number} */ n) => tick(one.id, one.name, n === 0)));
  at("spoken").hidden = plan.languages.length < 2;
  at("pattern").placeholder = plan.pattern;
}

function show() {
  at("table").textContent = table?.name ?? "";
  at("remarks").replaceChildren(...[...new Set([...(table?.remarks ?? []), ...plan.remarks])].map((words) => made("li", {}, [words])));
  showHeads(plan.heads, plan.targets, plan.threads);
  const naming = new Set(plan.targets.filter((/** @type {any} */ one) => one.files).map((/** @type {any} */ one) => one.id));
  at("named").hidden = !beside.held.size && !plan.threads.some((/** @type {Thread} */ one) => naming.has(one.target));
  shots.want(plan.rows.filter((/** @type {Row} */ row) => !row.fault).flatMap((/** @type {Row} */ row) => row.each));
  showRows();
  at("take").disabled = !plan.files;
  at("take").textContent = plan.files === 1 ? "Make one file" : `Make ${plan.files.toLocaleString()} files`;
}

/** @param {string[]} heads @param {{id: string, label: string}[]} targets @param {Thread[]} led */
function showHeads(heads, targets, led) {
  const shape = JSON.stringify([heads, targets.map((one) => one.id)]);
  if (at("heads").dataset.shape === shape) {
    for (const [column, list] of [...at("heads").querySelectorAll("select")].entries()) setThread(list, led, column);
    return;
  }
  at("heads").dataset.shape = shape;
  at("heads").replaceChildren(made("tr", {}, [
    made("th", { scope: "col" }, ["Row"]), made("th", { scope: "col" }, ["As it will be"]), made("th", { scope: "col" }, ["Proof"]),
    ...heads.map((head, column) => {
      const list = made("select", { "aria-label": `${head} leads to` }, [
        made("option", { value: "" }, ["leads nowhere"]), ...targets.map((one) => made("option", { value: one.id }, [one.label])),
      ]);
      setThread(list, led, column);
      list.addEventListener("change", () => lead(column, list.value));
      return made("th", { scope: "col" }, [head, list]);
    }),
  ]));
}

/** @param {HTMLSelectElement} list @param {Thread[]} led @param {number} column */
function setThread(list, led, column) {
  list.value = led.find((one) => one.column === column)?.target ?? "";
  list.classList.toggle("loose", !list.value);
}

/** Lead a column to a field; what led there does so no more. @param {number} column @param {string} target */
function lead(column, target) {
  const heads = plan?.heads ?? [], language = (/** @type {number} */ one) => /[(\[]([^)\]]*)[)\]]\s*$/.exec(heads[one] ?? "")?.[1] ?? "";
  const kept = (threads ?? []).filter((one) => one.column !== column && (one.target !== target || language(one.column) !== language(column)));
  threads = target ? [...kept, { column, target }] : kept;
  void changed();
}

/** What is known of a row: the picture of its first language and frame, the worst that is said of any, and all that is said. @param {Row} row */
function known(row) {
  if (row.fault) return { picture: "", verdict: "cannot be rendered", said: [row.fault] };
  const all = row.keys.map((one) => shots.known.get(one));
  const shown = all.filter((one) => one !== undefined);
  const said = shown.flatMap((one) => one.said.map((words) => (all.length > 1 && all.some((other) => other && !other.said.includes(words)) ? `${row.each[all.indexOf(one)]?.which}: ${words}` : words)));
  return {
    picture: all[0]?.picture ?? "", said: [...new Set(said)],
    verdict: shown.length < all.length ? "" : VERDICTS.find((one) => shown.some((other) => other.verdict === one)) ?? "",
  };
}

function showRows() {
  const rows = /** @type {Row[]} */ (plan.rows).filter((row) => verdict === "All rows" || known(row).verdict === verdict);
  const before = [...at("lines").children], now = rows.slice(0, most).map(line);
  if (now.length !== before.length || now.some((one, n) => one !== before[n])) at("lines").replaceChildren(...now);
  sight.disconnect();
  for (const one of now) sight.observe(one);
  at("more").hidden = rows.length <= most;
  count();
}

/** A row as it stands: the one that is there already, so that what is being typed into it stays. @param {Row} row */
function line(row) {
  const there = lines.get(row.number) ?? newLine(row);
  lines.set(row.number, there);
  there.dataset["keys"] = JSON.stringify(row.keys);
  there.querySelector("th").title = row.name;
  for (const [column, cell] of [...there.querySelectorAll("textarea")].entries()) {
    if (cell !== document.activeElement && cell.value !== row.cells[column]) cell.value = row.cells[column] ?? "";
    if (row.faults.some((one) => one.column === column)) cell.setAttribute("aria-invalid", "true");
    else cell.removeAttribute("aria-invalid");
  }
  dress(there, known(row));
  return there;
}

/** @param {Row} row */
function newLine(row) {
  const cells = row.cells.map((words, column) => {
    const cell = made("textarea", { rows: "1", spellcheck: "false", "aria-label": `${plan.heads[column]}, row ${row.number}` });
    cell.value = words;
    cell.addEventListener("change", () => put(row.number, column, cell.value));
    cell.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => {
      if (event.key !== "Enter" || event.shiftKey || event.isComposing) return;
      event.preventDefault();
      const below = cell.closest("tr").nextElementSibling?.querySelectorAll("textarea")[column];
      if (below) below.focus();
      else cell.blur();
    });
    return made("td", {}, [cell]);
  });
  return made("tr", {}, [
    made("th", { scope: "row" }, [String(row.number)]), made("td", { class: "shot" }, [made("img", { alt: "" })]), made("td", { class: "verdict" }), ...cells,
  ]);
}

/** Put a picture and what is said of it into a row. @param {HTMLElement} line_ @param {import("./shots.mjs").Shot} shot */
function dress(line_, shot) {
  const said = /** @type {HTMLElement} */ (line_.querySelector(".verdict")), image = /** @type {HTMLImageElement} */ (line_.querySelector("img"));
  said.dataset["verdict"] = shot.verdict;
  said.replaceChildren(made("b", {}, [shot.verdict || "…"]), made("ul", {}, shot.said.map((words) => made("li", {}, [words]))));
  image.hidden = !shot.picture;
  if (shot.picture) image.src = shot.picture;
}

/** A picture is there. @param {string} key */
function painted(key) {
  for (const row of byKey.get(key) ?? []) {
    const one = lines.get(row.number);
    if (one) dress(one, known(row));
  }
  window.cancelAnimationFrame(counting);
  counting = requestAnimationFrame(count);
}

/** How many rows hold, and how many do not. */
function count() {
  if (!plan) return;
  const all = /** @type {Row[]} */ (plan.rows), verdicts = all.map((row) => known(row).verdict);
  const named = VERDICTS.map((one) => [one, verdicts.filter((other) => other === one).length]).filter(([, number]) => number);
  const left = verdicts.filter((one) => !one).length;
  const names = ["All rows", ...named.map(([one]) => String(one))];
  if (!names.includes(verdict)) verdict = "All rows";
  if ([...at("verdicts").children].map((one) => one.textContent).join() !== names.join()) {
    chips(at("verdicts"), names, verdict, (one) => { if (one !== verdict) { verdict = one; most = AT_ONCE; showRows(); } });
  }
  at("counted").textContent = [`${all.length} ${all.length === 1 ? "row" : "rows"}`, ...named.map(([one, number]) => `${number} ${one}`), ...(left ? [`${left} being looked at`] : [])].join(" · ");
}

/** Put other words into a cell. @param {number} number The row's. @param {number} column @param {string} words */
function put(number, column, words) {
  if (!table) return;
  const first = table.rows.findIndex((row) => row.some((cell) => cell.trim())), cells = [...(table.rows[first + number] ?? [])];
  while (cells.length <= column) cells.push("");
  cells[column] = words;
  table.rows[first + number] = cells;
  void changed();
}

// Beginning

async function begin() {
  let title, all;
  try {
    [title, all] = await Promise.all([ask(address), ask("/api/titles")]);
  } catch (error) {
    at("name").textContent = "Not there";
    at("paste-fault").textContent = /** @type {Error} */ (error).message;
    return;
  }
  document.title = `${title.title}, a table – Avlet`;
  at("name").textContent = title.title;
  at("one").textContent = title.title;
  at("one").href = `/titles/${encodeURIComponent(name)}`;
  at("about").textContent = `${title.frame.width} × ${title.frame.height}`;
  at("plate").replaceChildren(...all.plates.map((/** @type {string} */ plate) => made("option", { value: plate }, [plate])));
  at("give").addEventListener("submit", (/** @type {Event} */ event) => { event.preventDefault(); void give({ words: at("paste").value }); });
  at("file").addEventListener("change", async () => {
    const chosen = at("file").files?.[0];
    if (chosen) await send(chosen);
    at("file").value = "";
  });
  addEventListener("dragover", (event) => event.preventDefault());
  addEventListener("drop", (event) => {
    event.preventDefault();
    const files = [...(event.dataTransfer?.files ?? [])];
    const named = (/** @type {File} */ file) => file.type.startsWith("image/") || table?.rows.some((row) => row.some((cell) => cell.split(/[/\\]/).at(-1)?.trim().toLowerCase() === file.name.toLowerCase()));
    const those = table ? files.filter(named) : [], other = files.find((file) => !those.includes(file));
    if (those.length) void beside.add(those);
    else if (other) void send(other);
  });
  at("other").addEventListener("click", () => { table = null; plan = null; void changed().then(() => at("paste").focus()); });
  at("more").addEventListener("click", () => { most += AT_ONCE; showRows(); });
  for (const one of ["pattern", "plate", "empty"]) at(one).addEventListener("change", changed);
  at("take").addEventListener("click", () => void take(`${address}/tables`, wanted(), kept));
  try {
    const before = JSON.parse(sessionStorage.getItem(KEPT) ?? "null");
    if (Array.isArray(before?.rows)) table = before;
  } catch { /* nothing was kept */ }
  await changed();
}

/** @param {File} file */
async function send(file) {
  await give({ name: file.name.slice(0, 200), data: await base64(file) });
}

void begin();
