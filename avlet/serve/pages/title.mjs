// One title: its card, its picture as one types, its reel, and what is taken away. The address keeps the answers.
import { ask, at, chips, readWords } from "./ask.mjs";
import { Card } from "./card.mjs";
import { Reel, perSecond, picture } from "./reel.mjs";
import { take } from "./take.mjs";

const name = decodeURIComponent(location.pathname.split("/").pop() ?? "");
const address = `/api/titles/${encodeURIComponent(name)}`;
const canvas = at("canvas");
const painting = canvas.getContext("2d");
const SOON = 30, LATER = 500, SHORT = 400, LARGEST = 1920, SETTLED = 200;

/** @type {any} */ let title = null;
/** @type {Card} */ let card;
/** @type {Reel|null} */ let reel = null;
let frame = -1, length = 0, playing = 0, soon = 0, later = 0, settling = 0, wide = 960;
let looking = new AbortController(), reeling = new AbortController();

/** What is wanted of the title now. @returns {Record<string, unknown>} */
function wanted() {
  const words = at("length").value.trim();
  return { ...card.given, width: wide, ...(words ? { length: words } : {}) };
}

// What is typed

/** @param {string} [field] The one that was changed. */
function changed(field = "") {
  stop();
  dropReel();
  window.clearTimeout(soon);
  window.clearTimeout(later);
  soon = window.setTimeout(() => void look(field), SOON);
}

/** Show the frame with what is typed now; only the last asked for counts. @param {string} field */
async function look(field) {
  looking.abort();
  looking = new AbortController();
  const { signal } = looking;
  try {
    const seen = await ask(`${address}/look`, { body: { ...wanted(), ...(frame >= 0 ? { frame } : {}) }, signal });
    const drawn = await picture(await (await fetch(seen.picture, { signal })).blob());
    if (signal.aborted) return;
    cover(drawn.width, drawn.height);
    painting.drawImage(drawn, 0, 0);
    drawn.close();
    canvas.dataset.seen = String(Number(canvas.dataset.seen ?? 0) + 1);
    card.fault("", "");
    at("length-fault").textContent = "";
    card.show(seen.shown);
    at("said").replaceChildren(...seen.said.map((/** @type {string} */ words) => Object.assign(document.createElement("li"), { textContent: `▲ ${words}` })));
    setLength(seen.length, seen.frame);
    keepAddress();
    if (seen.length <= SHORT) later = window.setTimeout(() => void haveReel(), LATER);
    else at("facts").textContent = "A long title: its pictures are painted when it is played.";
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") return;
    const words = /** @type {Error} */ (error).message;
    if (field === "length") at("length-fault").textContent = words;
    else if (card.rows.has(field)) card.fault(field, words);
    else at("facts").textContent = words;
  }
}

/** @param {number} frames @param {number} at_ */
function setLength(frames, at_) {
  length = frames;
  at("at").max = String(frames - 1);
  showFrame(at_);
}

/** @param {number} number */
function showFrame(number) {
  frame = Math.max(0, Math.min(length - 1, number));
  at("at").value = String(frame);
  at("time").textContent = timecode(frame);
  at("at").setAttribute("aria-valuetext", `frame ${frame}, ${timecode(frame)}`);
}

/** @param {number} number @returns {string} */
function timecode(number) {
  const whole = Math.round(perSecond(title.frame.rate)), seconds = Math.floor(number / whole);
  const two = (/** @type {number} */ value) => String(value).padStart(2, "0");
  return [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60, seconds % 60, number % whole].map(two).join(":");
}

/** How wide pictures are wanted: as wide as they are shown, so that nothing but the engine ever scales them. @returns {number} */
function shownWide() {
  const { width, height } = title.frame;
  const low = canvas.clientHeight < (canvas.clientWidth * height) / width - 1;
  const shown = Math.round((low ? (canvas.clientHeight * width) / height : canvas.clientWidth) * devicePixelRatio);
  return shown < 16 ? wide : Math.min(shown, width, LARGEST);
}

/** Empty the canvas, and make it as large as the pictures that are drawn on it. @param {number} width @param {number} height */
function cover(width, height) {
  if (canvas.width !== width || canvas.height !== height) [canvas.width, canvas.height] = [width, height];
  painting.clearRect(0, 0, width, height);
}

/** Another window, or a card that became longer: pictures of another size, once it is left as it is. */
function fit() {
  window.clearTimeout(settling);
  settling = window.setTimeout(() => {
    const now = shownWide();
    if (now === wide) return;
    wide = now;
    changed();
  }, SETTLED);
}

// Its address

function keepAddress() {
  const words = at("length").value.trim(), kept = { ...card.kept, ...(words && words !== String(title.length) ? { "/length": words } : {}) };
  const hash = Object.keys(kept).length ? `#${new URLSearchParams(kept)}` : "";
  history.replaceState(null, "", `${location.pathname}${hash}`);
}

function fromAddress() {
  const kept = Object.fromEntries(new URLSearchParams(location.hash.slice(1)));
  card.put(kept);
  at("length").value = kept["/length"] ?? String(title.length);
  changed();
}

// Its reel

function dropReel() {
  reeling.abort();
  reel?.close();
  reel = null;
}

/** @returns {Promise<Reel|null>} */
async function haveReel() {
  if (reel) return reel;
  reeling.abort();
  reeling = new AbortController();
  const { signal } = reeling;
  try {
    const made = await Reel.of(`${address}/reels`, wanted(), signal);
    if (signal.aborted) {
      made.close();
      return null;
    }
    reel = made;
    cover(made.file.width, made.file.height);
    made.draw(painting, Math.max(0, frame));
    at("facts").textContent = `The engine's own pictures: ${made.pictures.length} for ${made.file.length} frames, ${(made.weight / 1e6).toFixed(1)} MB.`;
    return reel;
  } catch (error) {
    if (!(error instanceof DOMException && error.name === "AbortError")) at("facts").textContent = /** @type {Error} */ (error).message;
    return null;
  }
}

async function play() {
  if (playing) return stop();
  at("play").textContent = "❚❚";
  at("play").setAttribute("aria-label", "Pause");
  const mine = (playing = -1);
  if (!reel) at("facts").textContent = "Its pictures are being painted …";
  const shown = await haveReel();
  if (!shown || playing !== mine) return stop();
  const from = frame >= length - 1 ? 0 : frame, began = performance.now();
  const tick = (/** @type {number} */ now) => {
    if (!playing || reel !== shown) return;
    showFrame((from + Math.max(0, Math.floor(((now - began) / 1000) * shown.rate))) % length);
    shown.draw(painting, frame);
    playing = requestAnimationFrame(tick);
  };
  playing = requestAnimationFrame(tick);
}

function stop() {
  if (playing > 0) cancelAnimationFrame(playing);
  playing = 0;
  at("play").textContent = "▶";
  at("play").setAttribute("aria-label", "Play");
}

/** Go to a frame: from the reel where it is there, else asked for. @param {number} number */
function go(number) {
  stop();
  showFrame(number);
  if (reel) reel.draw(painting, frame);
  else {
    window.clearTimeout(soon);
    soon = window.setTimeout(() => void look(""), SOON);
  }
}

// Beginning

async function begin() {
  let all;
  try {
    [title, all] = await Promise.all([ask(address), ask("/api/titles")]);
  } catch (error) {
    at("name").textContent = "Not there";
    at("note").textContent = /** @type {Error} */ (error).message;
    return;
  }
  document.title = `${title.title} – Avlet`;
  at("name").textContent = title.title;
  at("note").textContent = title.about;
  at("many").href = `/titles/${encodeURIComponent(name)}/table`;
  at("about").textContent = `${title.frame.width} × ${title.frame.height}, ${Number(perSecond(title.frame.rate).toFixed(3))} f/s`;
  cover(title.frame.width, title.frame.height);
  wide = shownWide();
  new ResizeObserver(fit).observe(canvas);
  canvas.setAttribute("aria-label", `${title.title}, as it will be`);
  card = new Card(at("fields"), title.sections, changed, (field, words) => readWords(address, field, words));
  card.show(title.shown);
  length = title.length;
  const plates = ["Plain", ...all.plates.map((/** @type {string} */ plate) => plate[0]?.toUpperCase() + plate.slice(1))];
  chips(at("plates"), plates, "Plain", (plate) => {
    at("plate").hidden = plate === "Plain";
    if (plate !== "Plain") at("plate").src = `/api/plates/${plate.toLowerCase().replaceAll(" ", "-")}`;
  });
  at("length").addEventListener("input", () => changed("length"));
  at("card").addEventListener("submit", (/** @type {Event} */ event) => { event.preventDefault(); void take(`${address}/films`, { ...wanted(), kind: "prores" }); });
  for (const one of document.querySelectorAll(".away button[data-kind]")) {
    one.addEventListener("click", () => void take(`${address}/films`, { ...wanted(), kind: /** @type {HTMLElement} */ (one).dataset["kind"], frame: Math.max(0, frame) }));
  }
  at("play").addEventListener("click", () => void play());
  at("at").addEventListener("input", () => go(Number(at("at").value)));
  addEventListener("keydown", (event) => {
    const inField = /** @type {HTMLElement} */ (event.target).closest("input, textarea, select, button, a");
    if (event.key === " " && !inField) { event.preventDefault(); void play(); }
  });
  addEventListener("hashchange", fromAddress);
  fromAddress();
}

void begin();
