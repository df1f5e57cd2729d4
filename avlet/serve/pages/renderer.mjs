// What shows a renderer: a connection that comes back by itself, and on each layer the titles that were loaded there.
import AvletTitle from "/pages/graphic.mjs";

const SOONEST = 250, LATEST = 5000;
const NO_SOCKETS = "This browser has no WebSocket, so nothing can be taken on air here. Open this address in another one, or in a newer version.";

/** A title whose reel the server has. */
class OnAir extends AvletTitle {
  /** @type {any} */ given = null;

  /** @override @returns {Promise<import("/pages/graphic.mjs").Take>} */
  async first() {
    return this.taken(this.given, `${this.given.reel}/`);
  }

  /** Do what it would do by now. @param {string} state @param {number} since In ms. @param {boolean} skip */
  be(state, since, skip) {
    const at = performance.now() - since, away = this.state;
    if (!away) return;
    if (state === "in") this.state = this.played(away, at, skip);
    else if (state === "out") this.state = this.stopped(this.played(away, at, true), at, skip);
    this.tick();
  }
}
customElements.define("avlet-on-air", OnAir);

/**
 * Show a renderer in an element, for as long as the page is open.
 * @param {HTMLElement|null} place @param {string} name @param {(connected: boolean) => void} [tell] Whether it is connected.
 */
export function showRenderer(place, name, tell = () => {}) {
  if (place === null) return;
  /** @type {Map<string, OnAir>} */
  const shown = new Map();
  let wait = SOONEST, hidden = false;

  /** @param {any} told @returns {Promise<OnAir>} */
  async function loaded(told) {
    const one = /** @type {OnAir} */ (document.createElement("avlet-on-air"));
    one.given = told.reel;
    one.style.zIndex = String(told.layer);
    const answer = await one.load({ renderType: "realtime", renderCharacteristics: {} });
    if (answer.statusCode !== 200) throw new Error(answer.statusMessage);
    return one;
  }

  /** @param {any} told */
  async function does(told) {
    const one = shown.get(told.instance);
    if (told.do === "load") {
      const made = await loaded(told);
      drop(told.instance);
      shown.set(told.instance, made);
      place?.append(made);
      made.be(told.state, told.for, told.skip);
    } else if (told.do === "update") {
      if (one) one.exchange(await one.taken(told.reel, `${told.reel.reel}/`), told.cut);
    } else if (told.do === "play") await one?.playAction({ skipAnimation: told.skip });
    else if (told.do === "stop") await one?.stopAction({ skipAnimation: told.skip });
    else if (told.do === "clear") drop(told.instance);
  }

  /** @param {string} id */
  function drop(id) {
    const one = shown.get(id);
    shown.delete(id);
    one?.remove();
    void one?.dispose();
  }

  function connect() {
    const socket = new WebSocket(`${location.protocol === "https:" ? "wss" : "ws"}://${location.host}/air/${encodeURIComponent(name)}/socket`);
    /** @type {Promise<void>} */
    let before = Promise.resolve();
    socket.addEventListener("open", () => {
      wait = SOONEST;
      for (const id of [...shown.keys()]) drop(id);
      tell(true);
    });
    socket.addEventListener("message", (event) => {
      const told = JSON.parse(event.data);
      const work = async () => {
        try {
          await does(told);
          socket.send(JSON.stringify({ number: told.number, ok: true }));
        } catch (error) {
          if (socket.readyState === WebSocket.OPEN) {
            socket.send(JSON.stringify({ number: told.number, ok: false, said: error instanceof Error ? error.message : String(error) }));
          }
        }
      };
      if (told.do === "load" || told.do === "update") before = Promise.all([before, work()]).then(() => {});
      else void work();
    });
    socket.addEventListener("close", () => {
      tell(false);
      if (hidden) return;
      window.setTimeout(connect, wait);
      wait = Math.min(LATEST, wait * 2);
    });
    addEventListener("pagehide", () => { hidden = true; socket.close(); }, { once: true });  // browsers keep pages that one has left
  }
  if (!("WebSocket" in window)) {
    tell(false);
    place.append(Object.assign(document.createElement("p"), { className: "problem", textContent: NO_SOCKETS }));
    return;
  }
  addEventListener("pageshow", (event) => {
    if (event.persisted) {
      hidden = false;
      connect();
    }
  });
  connect();
}
