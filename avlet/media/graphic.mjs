// A title on air, by the EBU's OGraf specification, v1. Its pictures were painted by Avlet; nothing is laid out or worked out here.
// The way in plays, the hold stands on its last frame for as long as it is on air, the way out plays when it is stopped.
// Other words are other pictures: an Avlet server paints them, where the title was handed over with one's address.

/** @typedef {import("ograf").GraphicsAPI.Graphic} Graphic */
/**
 * @typedef {{format: number, name: string, width: number, height: number, rate: string, length: number, way_in: number, way_out: number,
 *   updates: "in place" | "out and in", pictures: {file: string, width: number, height: number, bytes: number}[],
 *   frames: [number, number, number][][]}} ReelFile
 * @typedef {{statusCode: number, statusMessage?: string}} Told
 * @typedef {{reel: ReelFile, pictures: ImageBitmap[], area: Area}} Take The title with some answers, painted.
 * @typedef {{x: number, y: number, width: number, height: number}} Area Where in its frame anything of a title is ever seen, in px.
 * @typedef {{kind: "away", take: Take} | {kind: "in", at: number, from: number, take: Take}
 *   | {kind: "out", at: number, from: number, take: Take, next: Take, again: boolean}} State
 *   What it does since when, in ms, and from which frame on. What goes out may come in again at once, with other answers.
 */

const DONE = { statusCode: 200 };

/** @param {number} statusCode @param {string} statusMessage @returns {Told} */
const told = (statusCode, statusMessage) => ({ statusCode, statusMessage });

/** Why something is not done, as a renderer is told. */
class Refused extends Error {
  /** @param {number} status @param {string} words */
  constructor(status, words) {
    super(words);
    this.status = status;
  }
}

/** What a renderer is told of a failure. @param {unknown} error @returns {Told} */
function ofFailure(error) {
  if (error instanceof Refused) return told(error.status, error.message);
  return told(500, `The pictures of this title cannot be read: ${error instanceof Error ? error.message : error}. Hand it over again.`);
}

/**
 * Whether two answers are the same, as JSON has them.
 * @param {unknown} one @param {unknown} other @returns {boolean}
 */
function alike(one, other) {
  if (typeof one !== "object" || typeof other !== "object" || one === null || other === null) return one === other;
  if (Array.isArray(one) !== Array.isArray(other)) return false;
  const mine = Object.entries(one), theirs = new Map(Object.entries(other));
  return mine.length === theirs.size && mine.every(([key, value]) => theirs.has(key) && alike(value, theirs.get(key)));
}

/**
 * Where anything of a reel is ever seen: its canvas need be no larger, which leaves a browser less to do in every frame.
 * @param {ReelFile} reel @returns {Area}
 */
function areaOf(reel) {
  let left = reel.width, top = reel.height, right = 0, bottom = 0;
  for (const frame of reel.frames) {
    for (const [number, x, y] of frame) {
      const one = reel.pictures[number];
      if (!one) continue;
      left = Math.min(left, x);
      top = Math.min(top, y);
      right = Math.max(right, x + one.width);
      bottom = Math.max(bottom, y + one.height);
    }
  }
  const x = Math.max(0, Math.min(left, reel.width - 1)), y = Math.max(0, Math.min(top, reel.height - 1));
  return { x, y, width: Math.max(1, Math.min(right, reel.width) - x), height: Math.max(1, Math.min(bottom, reel.height) - y) };
}

/** @implements {Graphic} */
export default class AvletTitle extends HTMLElement {
  constructor() {
    super();
    this.canvas = document.createElement("canvas");
    this.look = new CSSStyleSheet();
    const inside = this.attachShadow({ mode: "open" });
    inside.adoptedStyleSheets = [this.look];
    this.frame = document.createElement("div");
    this.frame.append(this.canvas);
    inside.append(this.frame);
    /** @type {Take|null} What it was handed over with; null while it is not loaded. */ this.own = null;
    /** @type {Record<string, unknown>} */ this.starts = {};
    /** @type {{address: string, title: string, key: string}|null} */ this.server = null;
    /** @type {State|null} */ this.state = null;
    /** @type {{timestamp: number, action: {type: string, params: any}, take: Take|null}[]} */ this.schedule = [];
    /** @type {"realtime" | "non-realtime"} */ this.renderType = "realtime";
    /** @type {Set<Take>} */ this.takes = new Set();
    this.ticking = 0;
    /** @type {[Take|null, number]} */ this.shown = [null, -1];
  }

  // What a renderer asks

  /** @param {{data?: unknown, renderType: "realtime" | "non-realtime", renderCharacteristics: unknown}} params @returns {Promise<Told>} */
  async load(params) {
    const given = params ?? {};
    if (given.renderType !== "realtime" && given.renderType !== "non-realtime") return told(400, "renderType is realtime or non-realtime.");
    try {
      const own = await this.first();
      this.own = own;
      this.state = { kind: "away", take: await this.takeOf(given.data) };
    } catch (error) {
      this.own = null;
      return ofFailure(error);
    }
    this.renderType = given.renderType;
    this.shown = [null, -1];
    this.schedule = [];
    this.show(this.state.take, -1);
    return DONE;
  }

  /** @returns {Promise<Told>} */
  async dispose() {
    cancelAnimationFrame(this.ticking);
    this.own = this.state = null;
    this.schedule = [];
    this.release();
    this.canvas.width = this.canvas.height = 0;
    this.shown = [null, -1];
    return DONE;
  }

  /** @param {{delta?: number, goto?: number, skipAnimation?: boolean}} [params] @returns {Promise<Told & {currentStep: number}>} */
  async playAction(params = {}) {
    if (!this.state) return { ...told(409, "The title is not loaded."), currentStep: 0 };
    for (const one of [params.delta, params.goto]) {
      if (one !== undefined && !Number.isInteger(one)) return { ...told(400, "delta and goto are whole numbers."), currentStep: 0 };
    }
    if (params.goto !== undefined && params.goto !== 0) return { ...told(400, "This title has one step, which is 0."), currentStep: 0 };
    this.state = this.played(this.state, performance.now(), params.skipAnimation === true);
    this.tick();
    return { ...DONE, currentStep: 0 };
  }

  /** @param {{skipAnimation?: boolean}} [params] @returns {Promise<Told>} */
  async stopAction(params = {}) {
    if (!this.state) return told(409, "The title is not loaded.");
    this.state = this.stopped(this.state, performance.now(), params.skipAnimation === true);
    this.tick();
    return DONE;
  }

  /** @param {{data: unknown, skipAnimation?: boolean}} params @returns {Promise<Told>} */
  async updateAction(params) {
    if (!this.state) return told(409, "The title is not loaded.");
    try {
      this.exchange(await this.takeOf(params?.data), params?.skipAnimation === true);
    } catch (error) {
      return ofFailure(error);
    }
    return DONE;
  }

  /** @param {{id: string, payload: unknown, skipAnimation?: boolean}} params @returns {Promise<Told>} */
  async customAction(params) {
    if (params?.id === "cut-in") return this.playAction({ skipAnimation: true });
    if (params?.id === "cut-out") return this.stopAction({ skipAnimation: true });
    return told(404, `This title has no action “${params?.id}”. It has cut-in and cut-out.`);
  }

  /** @param {{timestamp: number}} params @returns {Promise<Told>} */
  async goToTime(params) {
    if (!this.state || !this.own) return told(409, "The title is not loaded.");
    const at = params?.timestamp;
    if (typeof at !== "number" || !Number.isFinite(at)) return told(400, "timestamp is a time in ms.");
    /** @type {State} */
    let state = { kind: "away", take: this.state.take };
    for (const { timestamp, action, take } of this.schedule) {
      if (timestamp > at) break;
      const skip = action.params?.skipAnimation === true;
      const does = action.type === "customAction" ? action.params?.id : action.type;
      if (does === "playAction") state = this.played(state, timestamp, skip);
      else if (does === "stopAction") state = this.stopped(state, timestamp, skip);
      else if (does === "updateAction" && take) state = this.updated(state, timestamp, take, skip);
      else if (does === "cut-in") state = this.played(state, timestamp, true);
      else if (does === "cut-out") state = this.stopped(state, timestamp, true);
    }
    state = this.settled(state, at);
    this.show(state.take, this.frameAt(state, at));
    return DONE;
  }

  /** @param {{schedule: {timestamp: number, action: any}[]}} params @returns {Promise<any>} */
  async setActionsSchedule(params) {
    if (!this.state) return told(409, "The title is not loaded.");
    const given = params?.schedule;
    if (!Array.isArray(given) || given.some((one) => typeof one?.timestamp !== "number" || typeof one?.action?.type !== "string")) {
      return told(400, "schedule is a list of actions, each with its timestamp in ms.");
    }
    try {
      const schedule = await Promise.all(given.map(async ({ timestamp, action }) => (
        { timestamp, action, take: action.type === "updateAction" ? await this.takeOf(action.params?.data) : null }
      )));
      this.schedule = schedule.sort((one, other) => one.timestamp - other.timestamp);
    } catch (error) {
      return ofFailure(error);
    }
    return DONE;
  }

  // Its time

  /** @param {Take} take @returns {number} Frames a second. */
  rate(take) {
    const [frames, seconds] = take.reel.rate.split("/").map(Number);
    return (frames ?? 25) / (seconds ?? 1);
  }

  /** The last frame of the hold, on which it stands. @param {Take} take @returns {number} */
  rest(take) {
    return Math.max(0, take.reel.length - 1 - take.reel.way_out);
  }

  /** @param {State} state @param {number} now A time in ms. @returns {number} The frame that shows; -1 for none. */
  frameAt(state, now) {
    if (state.kind === "away" || now < state.at) return -1;
    const frame = state.from + Math.floor(((now - state.at) / 1000) * this.rate(state.take) + 1e-6);
    if (state.kind === "in") return Math.min(this.rest(state.take), frame);
    return frame >= state.take.reel.length ? -1 : frame;
  }

  /** What a state has become by now: what went out is away, or comes in again. @param {State} state @param {number} now @returns {State} */
  settled(state, now) {
    if (state.kind !== "out") return state;
    const gone = state.at + ((state.take.reel.length - state.from) / this.rate(state.take)) * 1000;
    if (now < gone - 1e-3) return state;
    return state.again ? { kind: "in", at: gone, from: 0, take: state.next } : { kind: "away", take: state.next };
  }

  /** @param {State} before @param {number} now @param {boolean} skip @returns {State} */
  played(before, now, skip) {
    const state = this.settled(before, now), take = state.kind === "out" ? state.next : state.take;
    if (skip) return { kind: "in", at: now, from: this.rest(take), take };
    if (state.kind === "in" || (state.kind === "out" && state.again)) return state;
    return { kind: "in", at: now, from: 0, take };
  }

  /** @param {State} before @param {number} now @param {boolean} skip @returns {State} */
  stopped(before, now, skip) {
    const state = this.settled(before, now);
    if (skip || state.kind === "away") return { kind: "away", take: state.kind === "out" ? state.next : state.take };
    if (state.kind === "out") return { ...state, again: false };
    return { kind: "out", at: now, from: this.outFrom(state, now), take: state.take, next: state.take, again: false };
  }

  /** @param {State} before @param {number} now @param {Take} take @param {boolean} skip @returns {State} */
  updated(before, now, take, skip) {
    const state = this.settled(before, now);
    if (state.kind === "out") return { ...state, next: take };
    if (state.kind === "away" || skip || take.reel.updates !== "out and in") return { ...state, take };
    return { kind: "out", at: now, from: this.outFrom(state, now), take: state.take, next: take, again: true };
  }

  /** The frame from which it goes out: from as far as it had come in. @param {State} state @param {number} now @returns {number} */
  outFrom(state, now) {
    const { length, way_out } = state.take.reel;
    return Math.min(length - 1, Math.max(length - way_out, length - 1 - this.frameAt(state, now)));
  }

  tick() {
    if (this.renderType !== "realtime" || !this.state) return;
    cancelAnimationFrame(this.ticking);
    const now = performance.now(), before = this.state;
    this.state = this.settled(before, now);
    const frame = this.frameAt(this.state, now);
    this.show(this.state.take, frame);
    if (this.state.kind === "out" || (this.state.kind === "in" && frame < this.rest(this.state.take))) {
      this.ticking = requestAnimationFrame(() => this.tick());
    }
    if (before !== this.state) this.release();
  }

  // Its pictures

  /** @param {Take} take @param {number} frame */
  show(take, frame) {
    const canvas = this.canvas.getContext("2d");
    const [before, last] = this.shown;
    if (!canvas || (before === take && last === frame)) return;
    this.shown = [take, frame];
    if (before !== take) this.makeRoom(take);
    canvas.clearRect(0, 0, take.area.width, take.area.height);
    for (const [number, x, y] of take.reel.frames[frame] ?? []) {
      const one = take.pictures[number];
      if (one) canvas.drawImage(one, x - take.area.x, y - take.area.y);
    }
  }

  /** Lay the canvas where a take is seen, whatever the size that its frame is shown at. @param {Take} take */
  makeRoom(take) {
    const { width, height } = take.reel, { x, y } = take.area, look = this.canvas.style;
    this.look.replaceSync(`
      :host { display: grid; place-items: center; width: 100%; height: 100%; aspect-ratio: ${width} / ${height}; container-type: size; }
      div { position: relative; width: min(100cqw, 100cqh * ${width} / ${height}); aspect-ratio: ${width} / ${height}; }
      canvas { position: absolute; display: block; }
    `);
    this.canvas.width = take.area.width;
    this.canvas.height = take.area.height;
    [look.left, look.top] = [`${(100 * x) / width}%`, `${(100 * y) / height}%`];
    [look.width, look.height] = [`${(100 * take.area.width) / width}%`, `${(100 * take.area.height) / height}%`];
  }

  /** Take other pictures: in place, or out and in again where it stands and says so. @param {Take} take @param {boolean} skip */
  exchange(take, skip) {
    if (!this.state) return;
    this.state = this.updated(this.state, performance.now(), take, skip);
    this.tick();
    this.release();
  }

  /** Let pictures go that nothing needs any more. */
  release() {
    const needed = new Set([this.own, this.state?.take, this.state?.kind === "out" ? this.state.next : null, ...this.schedule.map((one) => one.take)]);
    for (const take of this.takes) {
      if (needed.has(take)) continue;
      for (const one of take.pictures) one.close();
      this.takes.delete(take);
    }
  }

  /** What it was handed over with. @returns {Promise<Take>} */
  async first() {
    const [title, reel] = await Promise.all([read(new URL("title.json", import.meta.url)), read(new URL("reel/reel.json", import.meta.url))]);
    this.starts = title.starts;
    this.server = title.server;
    return this.taken(reel, new URL("reel/", import.meta.url).href);
  }

  /**
   * All pictures of a reel.
   * @param {ReelFile} reel @param {string} folder Where they are. @param {Record<string, string>} [headers] @returns {Promise<Take>}
   */
  async taken(reel, folder, headers = {}) {
    /** @type {ImageBitmap[]} */ const pictures = [];
    let next = 0;
    const fetched = async () => {  // two at a time: what plays meanwhile is not to wait for them
      while (next < reel.pictures.length) {
        const number = next++, file = reel.pictures[number]?.file ?? "";
        const answer = await fetch(folder + file, { headers });
        if (!answer.ok) throw new Error(`${file}: ${answer.status}`);
        pictures[number] = await createImageBitmap(await answer.blob(), { premultiplyAlpha: "premultiply", colorSpaceConversion: "none" });
      }
    };
    await Promise.all([fetched(), fetched()]);
    const take = { reel, pictures, area: areaOf(reel) };
    this.takes.add(take);
    return take;
  }

  /** The pictures for some data: its own, or painted by the server. @param {unknown} data @returns {Promise<Take>} */
  async takeOf(data) {
    if (!this.own) throw new Refused(409, "The title is not loaded.");
    if (data === undefined || data === null) return this.own;
    if (typeof data !== "object" || Array.isArray(data)) throw new Refused(400, "data is an object, as the manifest's schema says.");
    const entries = Object.entries(data), unknown = entries.find(([key]) => !(key in this.starts));
    if (unknown) throw new Refused(400, `This title has no “${unknown[0]}”.`);
    const other = entries.find(([key, value]) => !alike(value, this.starts[key]));
    if (!other) return this.own;
    if (!this.server) {
      throw new Refused(422, `“${other[0]}” cannot be changed here: the pictures were painted with other words. Hand the title over with these answers, or with the address of a server.`);
    }
    const { address, title, key } = this.server, there = `${address}/api/live/${encodeURIComponent(title)}/reels`;
    const headers = { authorization: `Bearer ${key}` };
    let answer;
    try {
      answer = await fetch(there, {
        method: "POST", body: JSON.stringify({ data: { ...this.starts, ...data } }), headers: { "content-type": "application/json", ...headers },
      });
    } catch {
      throw new Refused(503, `Avlet's server at ${address} does not answer, so words cannot change now. What was on air stays.`);
    }
    const reel = await answer.json().catch(() => null);
    if (!answer.ok || !reel) throw new Refused(answer.status === 422 ? 422 : 503, reel?.detail ?? `Avlet's server at ${address} answered ${answer.status}.`);
    return this.taken(reel, `${there}/${reel.reel}/`, headers);
  }
}

/** @param {URL} address @returns {Promise<any>} */
async function read(address) {
  const answer = await fetch(address);
  if (!answer.ok) throw new Error(`${address.pathname.split("/").pop()}: ${answer.status}`);
  return answer.json();
}
