// A title on air, by the EBU's OGraf specification, v1. Its pictures were painted by Avlet; nothing is laid out or worked out here.
// The way in plays, the hold stands on its last frame for as long as it is on air, the way out plays when it is stopped.

/** @typedef {import("ograf").GraphicsAPI.Graphic} Graphic */
/**
 * @typedef {{format: number, name: string, width: number, height: number, rate: string, length: number, way_in: number, way_out: number,
 *   pictures: {file: string, width: number, height: number, bytes: number}[], frames: [number, number, number][][]}} ReelFile
 * @typedef {{statusCode: number, statusMessage?: string}} Told
 * @typedef {{kind: "away"} | {kind: "in" | "out", at: number, from: number}} State What it does since when, in ms, from which frame on.
 */

const DONE = { statusCode: 200 };

/** @param {number} statusCode @param {string} statusMessage @returns {Told} */
const told = (statusCode, statusMessage) => ({ statusCode, statusMessage });

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

/** @implements {Graphic} */
export default class AvletTitle extends HTMLElement {
  constructor() {
    super();
    this.canvas = document.createElement("canvas");
    const look = new CSSStyleSheet(), inside = this.attachShadow({ mode: "open" });
    look.replaceSync(":host, canvas { display: block; width: 100%; height: 100%; } canvas { object-fit: contain; }");
    inside.adoptedStyleSheets = [look];
    inside.append(this.canvas);
    /** @type {ReelFile|null} */ this.reel = null;
    /** @type {ImageBitmap[]} */ this.pictures = [];
    /** @type {Record<string, unknown>} */ this.starts = {};
    /** @type {State} */ this.state = { kind: "away" };
    /** @type {{timestamp: number, action: {type: string, params: any}}[]} */ this.schedule = [];
    /** @type {"realtime" | "non-realtime"} */ this.renderType = "realtime";
    this.ticking = 0;
    this.shown = -1;
  }

  // What a renderer asks

  /** @param {{data?: unknown, renderType: "realtime" | "non-realtime", renderCharacteristics: unknown}} params @returns {Promise<Told>} */
  async load(params) {
    const given = params ?? {};
    if (given.renderType !== "realtime" && given.renderType !== "non-realtime") return told(400, "renderType is realtime or non-realtime.");
    try {
      const [manifest, reel] = await Promise.all([this.read("manifest"), this.read("reel/reel.json")]);
      this.starts = manifest;
      const fault = this.fault(given.data);
      if (fault) return fault;
      this.pictures = await Promise.all(reel.pictures.map((/** @type {{file: string}} */ one) => this.picture(one.file)));
      this.reel = reel;
    } catch (error) {
      return told(500, `The pictures of this title cannot be read: ${error instanceof Error ? error.message : error}. Hand it over again.`);
    }
    this.renderType = given.renderType;
    this.canvas.width = this.reel?.width ?? 0;
    this.canvas.height = this.reel?.height ?? 0;
    this.shown = -1;
    this.state = { kind: "away" };
    this.show(-1);
    return DONE;
  }

  /** @returns {Promise<Told>} */
  async dispose() {
    cancelAnimationFrame(this.ticking);
    for (const one of this.pictures) one.close();
    this.pictures = [];
    this.reel = null;
    this.state = { kind: "away" };
    this.schedule = [];
    this.canvas.width = this.canvas.height = 0;
    return DONE;
  }

  /** @param {{delta?: number, goto?: number, skipAnimation?: boolean}} [params] @returns {Promise<Told & {currentStep: number}>} */
  async playAction(params = {}) {
    if (!this.reel) return { ...told(409, "The title is not loaded."), currentStep: 0 };
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
    if (!this.reel) return told(409, "The title is not loaded.");
    this.state = this.stopped(this.state, performance.now(), params.skipAnimation === true);
    this.tick();
    return DONE;
  }

  /** @param {{data: unknown, skipAnimation?: boolean}} params @returns {Promise<Told>} */
  async updateAction(params) {
    if (!this.reel) return told(409, "The title is not loaded.");
    return this.fault(params?.data) ?? DONE;
  }

  /** @param {{id: string, payload: unknown, skipAnimation?: boolean}} params @returns {Promise<Told>} */
  async customAction(params) {
    if (params?.id === "cut-in") return this.playAction({ skipAnimation: true });
    if (params?.id === "cut-out") return this.stopAction({ skipAnimation: true });
    return told(404, `This title has no action “${params?.id}”. It has cut-in and cut-out.`);
  }

  /** @param {{timestamp: number}} params @returns {Promise<Told>} */
  async goToTime(params) {
    if (!this.reel) return told(409, "The title is not loaded.");
    const at = params?.timestamp;
    if (typeof at !== "number" || !Number.isFinite(at)) return told(400, "timestamp is a time in ms.");
    /** @type {State} */
    let state = { kind: "away" };
    for (const { timestamp, action } of this.schedule) {
      if (timestamp > at) break;
      const skip = action.params?.skipAnimation === true;
      const does = action.type === "customAction" ? action.params?.id : action.type;
      if (does === "playAction") state = this.played(state, timestamp, skip);
      else if (does === "stopAction") state = this.stopped(state, timestamp, skip);
      else if (does === "cut-in") state = this.played(state, timestamp, true);
      else if (does === "cut-out") state = this.stopped(state, timestamp, true);
    }
    this.show(this.frameAt(state, at));
    return DONE;
  }

  /** @param {{schedule: {timestamp: number, action: any}[]}} params @returns {Promise<any>} */
  async setActionsSchedule(params) {
    const given = params?.schedule;
    if (!Array.isArray(given) || given.some((one) => typeof one?.timestamp !== "number" || typeof one?.action?.type !== "string")) {
      return told(400, "schedule is a list of actions, each with its timestamp in ms.");
    }
    for (const { action } of given) {
      const fault = action.type === "updateAction" ? this.fault(action.params?.data) : null;
      if (fault) return fault;
    }
    this.schedule = [...given].sort((one, other) => one.timestamp - other.timestamp);
    return DONE;
  }

  // Its time

  /** @param {number} now A time in ms. @param {number} began @returns {number} Frames that have begun since then. */
  frames(now, began) {
    const [frames, seconds] = (this.reel?.rate ?? "25/1").split("/").map(Number);
    return Math.max(0, Math.floor(((now - began) / 1000) * ((frames ?? 25) / (seconds ?? 1)) + 1e-6));
  }

  /** The last frame of the hold, on which it stands. @returns {number} */
  get rest() {
    return this.reel ? Math.max(0, this.reel.length - 1 - this.reel.way_out) : 0;
  }

  /** @param {State} state @param {number} now @returns {number} The frame that shows; -1 for none. */
  frameAt(state, now) {
    if (!this.reel || state.kind === "away") return -1;
    const frame = state.from + this.frames(now, state.at);
    if (state.kind === "in") return Math.min(this.rest, frame);
    return frame >= this.reel.length ? -1 : frame;
  }

  /** @param {State} state @param {number} now @param {boolean} skip @returns {State} */
  played(state, now, skip) {
    if (skip) return { kind: "in", at: now, from: this.rest };
    return state.kind === "in" ? state : { kind: "in", at: now, from: 0 };
  }

  /** @param {State} state @param {number} now @param {boolean} skip @returns {State} */
  stopped(state, now, skip) {
    if (!this.reel || skip || state.kind === "away") return { kind: "away" };
    if (state.kind === "out") return state;
    const frame = this.frameAt(state, now), last = this.reel.length - 1;
    const begin = last - this.reel.way_out + 1;
    return { kind: "out", at: now, from: Math.min(last, Math.max(begin, last - frame)) };
  }

  tick() {
    if (this.renderType !== "realtime") return;
    cancelAnimationFrame(this.ticking);
    const now = performance.now(), frame = this.frameAt(this.state, now);
    this.show(frame);
    if (this.state.kind === "out" && frame < 0) this.state = { kind: "away" };
    const moves = this.state.kind === "out" || (this.state.kind === "in" && frame < this.rest);
    if (moves) this.ticking = requestAnimationFrame(() => this.tick());
  }

  // Its pictures

  /** @param {number} frame */
  show(frame) {
    const canvas = this.canvas.getContext("2d");
    if (frame === this.shown || !canvas || !this.reel) return;
    this.shown = frame;
    canvas.clearRect(0, 0, this.reel.width, this.reel.height);
    for (const [number, x, y] of this.reel.frames[frame] ?? []) {
      const one = this.pictures[number];
      if (one) canvas.drawImage(one, x, y);
    }
  }

  /** Why data is not taken: other words than the pictures have need a server that paints them. @param {unknown} data @returns {Told|null} */
  fault(data) {
    if (data === undefined || data === null) return null;
    if (typeof data !== "object" || Array.isArray(data)) return told(400, "data is an object, as the manifest's schema says.");
    for (const [key, value] of Object.entries(data)) {
      if (!(key in this.starts)) return told(400, `This title has no “${key}”.`);
      if (!alike(value, this.starts[key])) {
        return told(422, `“${key}” cannot be changed here: the pictures were painted with other words. Hand the title over with these answers.`);
      }
    }
    return null;
  }

  /** @param {string} what @returns {Promise<any>} */
  async read(what) {
    const name = what === "manifest" ? "answers.json" : what;
    const answer = await fetch(new URL(name, import.meta.url));
    if (!answer.ok) throw new Error(`${name}: ${answer.status}`);
    return answer.json();
  }

  /** @param {string} file @returns {Promise<ImageBitmap>} */
  async picture(file) {
    const answer = await fetch(new URL(`reel/${file}`, import.meta.url));
    if (!answer.ok) throw new Error(`${file}: ${answer.status}`);
    return createImageBitmap(await answer.blob(), { premultiplyAlpha: "premultiply", colorSpaceConversion: "none" });
  }
}
