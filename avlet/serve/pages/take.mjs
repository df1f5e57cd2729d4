// Taking away: films and pictures, made beside what goes on, with how far each is.
import { ask, at, made } from "./ask.mjs";

const LOOK = 400;
/** @type {Map<string, any>} */
const rows = new Map();
let looking = 0;

/**
 * Have something made.
 * @param {string} address Where that is asked for. @param {Record<string, unknown>} wanted
 * @param {(work: () => Promise<any>) => Promise<any>} [asking] What does the asking, where there is more to it.
 */
export async function take(address, wanted, asking = (work) => work()) {
  try {
    const film = await asking(() => ask(address, { body: wanted }));
    show(film);
    follow();
  } catch (error) {
    said(/** @type {Error} */ (error).message);
  }
}

/** @param {string} words */
function said(words) {
  const row = made("li", { class: "problem" }, [words]);
  at("made").prepend(row);
  at("nothing").hidden = true;
}

function follow() {
  if (!looking) looking = window.setTimeout(look, LOOK);
}

async function look() {
  looking = 0;
  let more = false;
  for (const [id, row] of rows) {
    if (row.dataset.state !== "waiting" && row.dataset.state !== "going") continue;
    try {
      const film = await ask(`/api/films/${id}`);
      show(film);
      more ||= film.state === "waiting" || film.state === "going";
    } catch (error) {
      row.dataset.state = "gone";
      row.replaceChildren(/** @type {Error} */ (error).message);
    }
  }
  if (more) follow();
}

/** @param {{id: string, name: string, state: string, done: number, total: number, said: string}} film */
function show(film) {
  let row = rows.get(film.id);
  const before = row?.dataset.state;
  if (row === undefined) {
    row = made("li");
    rows.set(film.id, row);
    at("made").prepend(row);
    at("nothing").hidden = true;
  }
  row.dataset.state = film.state;
  if (film.state === "waiting" || film.state === "going") {
    if (before !== film.state) {
      const stop = made("button", { type: "button", "aria-label": `Stop ${film.name}` }, ["Stop"]);
      stop.addEventListener("click", () => void drop(film.id));
      row.replaceChildren(film.name, made("progress", { max: "1", "aria-label": film.name }), stop);
    }
    if (film.total) {
      const bar = row.querySelector("progress");
      bar.max = film.total;
      bar.value = film.done;
    }
  } else if (film.state === "done") {
    row.replaceChildren(made("a", { class: "there", href: `/api/films/${film.id}/file`, download: film.name }, [`${film.name} ✓`]));
    if (before === "going" || before === "waiting") row.querySelector("a").click();
  } else {
    row.replaceChildren(made("span", { class: "problem" }, [`${film.name}: ${film.said}`]));
  }
}

/** @param {string} id */
async function drop(id) {
  await ask(`/api/films/${id}`, { method: "DELETE" }).catch(() => null);
  rows.get(id)?.remove();
  rows.delete(id);
}
