// Files that cells of a table name: sent to the server, and once more when it keeps them no longer.
import { ask, at, base64, made } from "./ask.mjs";

export class SentFiles {
  /** @param {() => void} tell That there are others now. */
  constructor(tell) {
    this.tell = tell;
    /** @type {Map<string, {file: File, sent: string}>} By their names. */
    this.held = new Map();
    at("more-files").addEventListener("change", async () => {
      const chosen = [...(at("more-files").files ?? [])];
      at("more-files").value = "";
      await this.add(chosen);
    });
  }

  /** Add files, each in place of one of the same name. @param {File[]} files */
  async add(files) {
    at("files-fault").textContent = "";
    const faults = [];
    for (const [n, file] of files.entries()) {
      at("files-going").textContent = files.length > 1 ? `Sending ${n + 1} of ${files.length}: ${file.name}` : `Sending ${file.name}`;
      try {
        this.held.set(file.name, { file, sent: await sent(file) });
      } catch (error) {
        faults.push(`${file.name}: ${/** @type {Error} */ (error).message}`);
      }
    }
    at("files-going").textContent = "";
    at("files-fault").textContent = faults.join(" ");
    this.show();
    this.tell();
  }

  /** Send all of them once more; the server keeps them for a while only. */
  async again() {
    for (const one of this.held.values()) one.sent = await sent(one.file);
  }

  /** @returns {Record<string, string>} What each is kept by. */
  known() {
    return Object.fromEntries([...this.held].map(([name, one]) => [name, one.sent]));
  }

  show() {
    at("files").replaceChildren(...[...this.held.keys()].map((name) => {
      const away = made("button", { type: "button", "aria-label": `Take away ${name}`, title: "Take away" }, ["×"]);
      away.addEventListener("click", () => {
        this.held.delete(name);
        this.show();
        at("more-files").focus();
        this.tell();
      });
      return made("li", {}, [name, away]);
    }));
  }
}

/** @param {File} file @returns {Promise<string>} What the server keeps it by. */
async function sent(file) {
  return (await ask("/api/files", { body: { name: file.name.slice(0, 200), data: await base64(file) } })).sent;
}
