// Pictures of many rows: painted a few at a time, those in sight first, each once for as long as it is the same.
import { Refused, ask } from "./ask.mjs";

const AT_ONCE = 2, AGAIN = 1000, WIDTH = 320;

/** @typedef {{picture: string, verdict: string, said: string[]}} Shot */
/** @typedef {{answers: unknown, length: number|null, size: [number, number]|null}} Wanted */

export class Shots {
  /** @param {string} address The title's. @param {(key: string) => void} tell @param {(work: () => Promise<any>) => Promise<any>} asking What does the asking. */
  constructor(address, tell, asking) {
    this.address = address;
    this.asking = asking;
    this.tell = tell;
    /** @type {Map<string, Shot>} */
    this.known = new Map();
    /** @type {Map<string, Wanted>} What is still to be painted. */
    this.waiting = new Map();
    /** @type {Set<string>} Those that are in sight. */
    this.inSight = new Set();
    this.going = 0;
  }

  /** @param {Wanted} row @returns {string} What a row's picture is kept by. */
  static key(row) {
    return JSON.stringify([row.answers, row.length, row.size]);
  }

  /** Have these painted, and no others. @param {Wanted[]} rows */
  want(rows) {
    this.waiting = new Map(rows.map((row) => [Shots.key(row), row]));
    for (const key of this.known.keys()) this.waiting.delete(key);
    while (this.going < AT_ONCE && this.next()) { /* as many as may go */ }
  }

  /** @returns {boolean} Whether there was one to begin. */
  next() {
    const key = [...this.inSight].find((one) => this.waiting.has(one)) ?? this.waiting.keys().next().value;
    const row = key === undefined ? undefined : this.waiting.get(key);
    if (key === undefined || row === undefined) return false;
    this.waiting.delete(key);
    this.going += 1;
    void this.paint(key, row).finally(() => { this.going -= 1; this.next(); });
    return true;
  }

  /** @param {string} key @param {Wanted} row */
  async paint(key, row) {
    try {
      const body = { answers: row.answers, width: WIDTH, close: true, ...(row.length === null ? {} : { length: row.length }), ...(row.size ? { size: row.size } : {}) };
      const { picture, verdict, said } = await this.asking(() => ask(`${this.address}/look`, { body }));
      this.known.set(key, { picture, verdict, said });
    } catch (error) {
      if (error instanceof Refused && error.status === 503) {
        await new Promise((go) => window.setTimeout(go, AGAIN));
        this.waiting.set(key, row);
        return;
      }
      this.known.set(key, { picture: "", verdict: "cannot be rendered", said: [/** @type {Error} */ (error).message] });
    }
    this.tell(key);
  }
}
