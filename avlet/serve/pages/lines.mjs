// A list of credits as lines: what kind each is, what stands left and right of the axis. The engine reads and writes its words, as a table
// with heads; nothing is laid out here.
import { base64, made } from "./ask.mjs";

/** @typedef {{kind: string, section: string, role: string, name: string, words: string, picture: string, height: string, columns: string}} Line */

const HEADS = /** @type {const} */ (["kind", "section", "role", "name", "words", "picture", "height", "columns"]);
const KINDS = { heading: "Heading", role: "Role", and: "and", names: "Names", words: "Words", picture: "Picture", rule: "Rule", gap: "Gap", "page break": "Page" };
const MOST = 300;
const HINT = "Return adds a name, twice a role. Lines of a spreadsheet can be pasted.";
/** What lines have left and right of the axis. @type {Record<string, [keyof Line|"", keyof Line|""]>} */
const SIDES = {
  heading: ["section", ""], role: ["role", "name"], and: ["", "name"], names: ["", "name"], words: ["words", ""], picture: ["picture", ""],
  rule: ["height", ""], gap: ["height", ""], "page break": ["", ""],
};
const NAMES = { section: "heading", role: "role", name: "name", words: "words", picture: "picture", height: "height in px" };

/** The rows of a table, tabs between its cells. @param {string} words @returns {string[][]} */
export function rowsOf(words) {
  /** @type {string[][]} */
  const rows = [];
  let row = [""], quoted = false;
  for (let at = 0; at < words.length; at += 1) {
    const one = words[at] ?? "", last = row.length - 1;
    if (quoted && one === '"' && words[at + 1] === '"') { row[last] += '"'; at += 1; }
    else if (one === '"' && (quoted || row[last] === "")) quoted = !quoted;
    else if (!quoted && one === "\t") row.push("");
    else if (!quoted && one === "\n") { rows.push(row); row = [""]; }
    else if (quoted || one !== "\r") row[last] += one;
  }
  if (row.length > 1 || row[0]) rows.push(row);
  return rows;
}

/** @param {string} words @returns {Line[]|null} The lines of a list as the engine writes it; null for what is written otherwise. */
export function linesOf(words) {
  const [heads, ...rows] = rowsOf(words);
  const columns = (heads ?? []).map((head) => head.trim().toLowerCase());
  if (!columns.includes("kind") || columns.some((head) => !(/** @type {readonly string[]} */ (HEADS)).includes(head))) return null;
  return rows.map((row) => {
    const line = /** @type {Line} */ (Object.fromEntries(HEADS.map((head) => [head, row[columns.indexOf(head)] ?? ""])));
    return { ...line, kind: line.kind.trim().toLowerCase() || "and" };
  });
}

/** @param {Line[]} lines @returns {string} */
export function wordsOf(lines) {
  const heads = HEADS.filter((head) => head === "kind" || head === "role" || head === "name" || lines.some((line) => line[head]));
  const cell = (/** @type {string} */ words) => (/[\t"\n\r]/.test(words) ? `"${words.replaceAll('"', '""')}"` : words);
  return [heads, ...lines.map((line) => heads.map((head) => cell(line[head])))].map((row) => `${row.join("\t")}\n`).join("");
}

/** @param {string} kind @returns {Line} */
function blank(kind) {
  return { kind, section: "", role: "", name: "", words: "", picture: "", height: "", columns: "" };
}

/** A list's lines over the text that holds them. */
export class Lines {
  /**
   * @param {HTMLTextAreaElement} text @param {string} label
   * @param {() => void} changed @param {(words: string) => Promise<string>} read What the engine makes of pasted words.
   * @param {Map<string, string>} pictures The bytes of pictures that were chosen here, by their names.
   */
  constructor(text, label, changed, read, pictures) {
    this.pictures = pictures;
    this.text = text;
    this.label = label;
    this.changed = changed;
    this.read = read;
    /** @type {Line[]} */
    this.lines = [];
    this.place = made("ol", { class: "lines", "aria-label": label });
    this.note = made("p", { class: "hint", role: "status" });
    this.asText = made("button", { type: "button", "aria-pressed": "false" }, ["As text"]);
    this.asText.addEventListener("click", () => this.turn(this.asText.getAttribute("aria-pressed") !== "true"));
    const add = Object.entries({ and: "+ Name", role: "+ Role", heading: "+ Heading" }).map(([kind, words]) => {
      const button = made("button", { type: "button" }, [words]);
      button.addEventListener("click", () => this.insert(this.lines.length, [blank(kind)]));
      return button;
    });
    this.more = made("span", {}, add);
    this.all = made("div", { class: "list-lines" }, [text, this.place, made("div", { class: "more" }, [this.more, this.asText]), this.note]);
    this.show();
  }

  /** Show what the text holds, as lines where it can be: words that are no table with heads are read by the engine first. */
  show() {
    const lines = this.text.value.trim() ? linesOf(this.text.value) : [];
    if (lines === null) void this.readText();
    const many = lines !== null && lines.length > MOST;
    this.lines = lines ?? [];
    this.note.textContent = many ? `A list of ${lines.length.toLocaleString("en")} lines is shown as text.` : HINT;
    this.asText.hidden = many;
    this.turn(lines === null || many, false);
  }

  /** Have the engine read words that somebody typed, and show their lines unless others were typed meanwhile. */
  async readText() {
    const words = this.text.value;
    try {
      const told = await this.read(words);
      if (this.text.value !== words || linesOf(told) === null) return;
      this.text.value = told;
      this.show();
    } catch (error) {
      this.note.textContent = /** @type {Error} */ (error).message;
    }
  }

  /** @param {boolean} text Whether it is shown as text. @param {boolean} [anew] */
  turn(text, anew = true) {
    if (!text && anew) return this.show();
    this.asText.setAttribute("aria-pressed", String(text));
    this.text.hidden = !text;
    this.place.hidden = this.more.hidden = text;
    if (!text) this.draw();
  }

  /** @param {number} [line] @param {string} [side] Where the keyboard goes. */
  draw(line, side) {
    this.place.replaceChildren(...this.lines.map((one, number) => this.row(one, number)));
    if (line === undefined) return;
    this.reach(Math.max(0, Math.min(this.lines.length - 1, line)), side);
  }

  /** Bring the keyboard to a line. @param {number} line @param {string} [side] */
  reach(line, side) {
    const row = this.place.children[line];
    (row?.querySelector(side ? `input[data-side=${side}]` : "input") ?? row?.querySelector("input") ?? row?.querySelector("select") ?? this.more.querySelector("button")).focus();
  }

  /** @param {Line} line @param {number} number */
  row(line, number) {
    const at = `${this.label}, line ${number + 1}`;
    const kinds = made("select", { "aria-label": `${at}: kind` }, Object.entries(KINDS).map(([value, words]) => made("option", { value }, [words])));
    kinds.value = line.kind;
    kinds.addEventListener("change", () => { line.kind = kinds.value; this.draw(number); this.tell(); });
    const [left, right] = line.kind === "and" && line.picture ? /** @type {const} */ (["picture", ""]) : SIDES[line.kind] ?? ["", "name"];
    const cells = [left, right].map((what, side) => what === "" ? made("span") : this.cell(line, number, what, side ? "right" : "left", at));
    const away = made("button", { type: "button", "aria-label": `Take ${at.slice(this.label.length + 2)} away`, title: "Take it away" }, ["×"]);
    away.addEventListener("click", () => this.remove(number));
    if (left === "picture") cells[1] = this.choice(line, number, at);
    return made("li", { class: line.kind.replace(" ", "-") }, [kinds, ...cells, away]);
  }

  /** A file of one's own for a picture. @param {Line} line @param {number} number @param {string} at */
  choice(line, number, at) {
    const file = made("input", { type: "file", accept: "image/png,image/jpeg,image/webp,image/svg+xml", "aria-label": `${at}: file of the picture` });
    file.addEventListener("change", async () => {
      const chosen = file.files?.[0];
      if (!chosen) return;
      const name = chosen.name.slice(0, 200).trim();
      this.pictures.set(name, await base64(chosen));
      line.picture = name;
      this.draw(number);
      this.tell();
    });
    return made("label", { class: "choose" }, [file, "Choose…"]);
  }

  /** @param {Line} line @param {number} number @param {keyof Line} what @param {string} side @param {string} at */
  cell(line, number, what, side, at) {
    const box = made("input", { type: "text", "data-side": side, "aria-label": `${at}: ${NAMES[/** @type {keyof NAMES} */ (what)]}`, spellcheck: "false", dir: "auto" });
    box.value = line[what];
    box.addEventListener("input", () => { line[what] = box.value; this.tell(); });
    box.addEventListener("keydown", (/** @type {KeyboardEvent} */ event) => this.key(event, line, number, side));
    box.addEventListener("paste", (/** @type {ClipboardEvent} */ event) => {
      const words = event.clipboardData?.getData("text/plain") ?? "";
      if (!/[\t\n]/.test(words.trimEnd())) return;
      event.preventDefault();
      void this.paste(number, words);
    });
    return box;
  }

  /** Return in a name adds a name, in an empty one a role; what is empty goes by Backspace. @param {KeyboardEvent} event @param {Line} line @param {number} number @param {string} side */
  key(event, line, number, side) {
    const step = { ArrowUp: -1, ArrowDown: 1 }[event.key];
    const empty = HEADS.every((head) => head === "kind" || !line[head]);
    if (event.isComposing) return;
    if (event.key === "Enter") {
      event.preventDefault();
      if (empty && line.kind === "and") { line.kind = "role"; this.draw(number, "left"); this.tell(); }
      else this.insert(number + 1, [blank(["role", "and", "names"].includes(line.kind) ? "and" : "role")]);
    } else if (event.key === "Backspace" && empty) {
      event.preventDefault();
      this.remove(number, side);
    } else if (step !== undefined && this.lines[number + step]) {
      event.preventDefault();
      this.reach(number + step, side);
    }
  }

  /** @param {number} number @param {Line[]} lines */
  insert(number, lines) {
    this.lines.splice(number, 0, ...lines);
    this.draw(number);
    this.tell();
  }

  /** @param {number} number @param {string} [side] */
  remove(number, side) {
    this.lines.splice(number, 1);
    this.draw(number - 1, side);
    this.tell();
  }

  /** Pasted lines stand behind the one that they were pasted into, or instead of it where it is empty. @param {number} number @param {string} words */
  async paste(number, words) {
    try {
      const lines = linesOf(await this.read(words)) ?? [], one = this.lines[number];
      const empty = one !== undefined && HEADS.every((head) => head === "kind" || !one[head]);
      if (this.lines.length + lines.length > MOST) throw new Error(`Lines are shown up to ${MOST}. Paste so many as text.`);
      this.lines.splice(empty ? number : number + 1, empty ? 1 : 0, ...lines);
      this.draw(number + lines.length);
      this.tell();
      this.note.textContent = HINT;
    } catch (error) {
      this.note.textContent = /** @type {Error} */ (error).message;
    }
  }

  tell() {
    this.text.value = wordsOf(this.lines);
    this.changed();
  }
}
