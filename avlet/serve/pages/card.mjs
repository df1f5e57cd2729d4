// The card as a form: a field for each thing that may be answered, as words that the engine itself reads.
import { base64, made } from "./ask.mjs";
import { Lines } from "./lines.mjs";

/**
 * @typedef {{id: string, kind: string, label: string, hint: string, words?: string, unit?: string, several_lines?: boolean, longest?: number,
 *   formats?: {key: string, label: string, options?: [string, string][], low?: number, high?: number}[], low?: number|null, high?: number|null, options?: {id: string, name: string}[], swatches?: {id: string, name: string, colour: string}[]}} Field
 * @typedef {{name: string, fields: Field[]}} Section
 */

/** A card: what stands in its fields, and what is said beside them. */
export class Card {
  /**
   * @param {HTMLElement} place @param {Section[]} sections @param {(id: string) => void} changed
   * @param {(id: string, words: string) => Promise<string>} read What the engine makes of words for a field, as words.
   */
  constructor(place, sections, changed, read) {
    this.fields = sections.flatMap((section) => section.fields);
    /** @type {Map<string, any>} */
    this.rows = new Map();
    /** @type {Map<string, unknown>} Answers that are no words, such as pictures. */
    this.data = new Map();
    /** @type {Map<string, Lines>} */
    this.lists = new Map();
    /** @type {Map<string, string>} Bytes of pictures that lists name, in base64. */
    this.pictures = new Map();
    this.changed = changed;
    this.read = read;
    place.replaceChildren(...sections.map((section) => made("div", { role: "group", ...(section.name ? { "aria-label": section.name } : {}) }, [
      ...(section.name ? [made("h2", {}, [section.name])] : []), ...section.fields.map((field) => this.row(field)),
    ])));
  }

  /** What was typed, by fields; pictures, and words that are formatted, are left out. @returns {Record<string, string>} */
  get typed() {
    /** @type {Record<string, string>} */
    const found = {};
    for (const field of this.fields) {
      const words = this.words(field);
      if (words !== null && words !== field.words && !Object.keys(this.formatting(field)).length) found[field.id] = words;
    }
    return found;
  }

  /** Answers that are data: pictures, and words with their formatting. @returns {Record<string, unknown>} */
  get answers() {
    const formatted = this.fields.map((field) => /** @type {const} */ ([field, this.formatting(field)])).filter(([, format]) => Object.keys(format).length);
    return { ...Object.fromEntries(this.data), ...Object.fromEntries(formatted.map(([field, format]) => [field.id, { text: this.words(field), ...format }])) };
  }

  /** What a title is asked for with: the card's answers, and pictures that its lists name.
   * @returns {{typed: Record<string, string>, answers: Record<string, unknown>, pictures?: Record<string, string>}} */
  get given() {
    const { typed, answers } = this, lists = [...this.lists.keys()].map((id) => typed[id] ?? "");
    const pictures = Object.fromEntries([...this.pictures].filter(([name]) => lists.some((words) => words.includes(name))));
    return { typed, answers, ...(Object.keys(pictures).length ? { pictures } : {}) };
  }

  /** How words are formatted, where that was changed. @param {Field} field @returns {Record<string, string|number>} */
  formatting(field) {
    /** @type {Record<string, string|number>} */
    const found = {};
    for (const one of this.rows.get(field.id)?.querySelectorAll("[data-format]") ?? []) {
      const words = one.value.trim(), size = Number(words.replace(",", "."));
      if (words) found[one.dataset.format] = one.dataset.format !== "size" ? words : Number.isNaN(size) ? words : size;
    }
    return found;
  }

  /** All that stands on the card as words, for its address: a formatting under the field's name and its own. @returns {Record<string, string>} */
  get kept() {
    /** @type {Record<string, string>} */
    const found = {};
    for (const field of this.fields) {
      const words = this.words(field);
      if (words !== null && words !== field.words) found[field.id] = words;
      for (const [key, value] of Object.entries(this.formatting(field))) found[`${field.id}/${key}`] = String(value);
    }
    return found;
  }

  /** @param {Field} field @returns {string|null} */
  words(field) {
    const row = this.rows.get(field.id);
    if (field.kind === "note" || field.kind === "picture" || row === undefined) return null;
    if (field.kind === "switch") return row.querySelector("input").checked ? "yes" : "no";
    if (field.kind === "colour" && field.swatches?.length) return row.querySelector("input:checked")?.value ?? "";
    return row.querySelector("textarea, select, input[type=text]").value;
  }

  /** Put words into fields. @param {Record<string, string>} typed */
  put(typed) {
    for (const field of this.fields) {
      const words = typed[field.id] ?? field.words;
      const row = this.rows.get(field.id);
      if (row === undefined || words === undefined || field.kind === "note" || field.kind === "picture") continue;
      for (const one of row.querySelectorAll("[data-format]")) one.value = typed[`${field.id}/${one.dataset.format}`] ?? "";
      if (field.kind === "switch") row.querySelector("input").checked = ["yes", "on", "true", "1"].includes(words.toLowerCase());
      else if (field.kind === "colour" && field.swatches?.length) {
        for (const one of row.querySelectorAll("input")) one.checked = one.value === words;
      } else {
        row.querySelector("textarea, select, input[type=text]").value = words;
        this.lists.get(field.id)?.show();
        const wheel = row.querySelector("input[type=color]");
        if (wheel && /^#[0-9a-f]{6}/i.test(words)) wheel.value = words.slice(0, 7).toLowerCase();
      }
    }
  }

  /** Show the fields that these answers show. @param {string[]} ids */
  show(ids) {
    for (const [id, row] of this.rows) row.hidden = !ids.includes(id);
  }

  /** Say what a field does not take, or that all is taken. @param {string} id @param {string} words */
  fault(id, words) {
    for (const [name, row] of this.rows) {
      const said = row.querySelector(".fault");
      if (said === null) continue;
      const is = name === id && words !== "";
      said.textContent = is ? words : "";
      for (const one of row.querySelectorAll("input, textarea, select")) {
        if (is) one.setAttribute("aria-invalid", "true");
        else one.removeAttribute("aria-invalid");
      }
    }
  }

  /** @param {Field} field */
  row(field) {
    if (field.kind === "note") {
      const note = made("p", { class: "hint" }, [field.label + (field.hint ? ` ${field.hint}` : "")]);
      this.rows.set(field.id, note);
      return note;
    }
    const id = `field-${field.id}`, about = `${id}-hint ${id}-fault`;
    const hint = made("p", { class: "hint", id: `${id}-hint` }, [field.hint || limits(field)]);
    const fault = made("p", { class: "fault", id: `${id}-fault`, role: "alert" });
    const label = made("label", { for: id }, [field.label]);
    const tell = () => this.changed(field.id);
    const [control, own] = this.control(field, id, about, tell);
    const before = !own ? [label] : field.kind === "switch" ? [] : [made("legend", {}, [field.label])];
    const row = made(own && before.length ? "fieldset" : "div", { class: `field ${field.kind}` }, [...before, control, hint, fault]);
    this.rows.set(field.id, row);
    return row;
  }

  /**
   * What is typed or chosen in, and whether it has its own labels.
   * @param {Field} field @param {string} id @param {string} about @param {() => void} tell @returns {[any, boolean]}
   */
  control(field, id, about, tell) {
    if (field.kind === "switch") {
      const box = made("input", { type: "checkbox", role: "switch", id, "aria-describedby": about });
      box.checked = field.words === "yes";
      box.addEventListener("change", tell);
      return [made("label", { class: "slides" }, [box, made("span", {}, [field.label])]), true];
    }
    if (field.kind === "colour" && field.swatches?.length) {
      const all = field.swatches.map((one) => {
        const box = made("input", { type: "radio", name: id, value: one.id });
        box.checked = one.id === field.words;
        box.addEventListener("change", tell);
        const dab = document.createElementNS("http://www.w3.org/2000/svg", "svg");
        dab.setAttribute("aria-hidden", "true");
        const rect = document.createElementNS("http://www.w3.org/2000/svg", "rect");
        for (const [name, value] of [["width", "100%"], ["height", "100%"], ["fill", one.colour]]) rect.setAttribute(/** @type {string} */ (name), /** @type {string} */ (value));
        dab.append(rect);
        return made("label", {}, [box, dab, one.name]);
      });
      return [made("div", { class: "swatches" }, all), true];
    }
    if (field.options?.length) {
      const list = made("select", { id, "aria-describedby": about }, field.options.map((one) => made("option", { value: one.id }, [one.name])));
      list.value = field.words ?? "";
      list.addEventListener("change", tell);
      return [list, false];
    }
    if (field.kind === "picture") {
      const file = made("input", { type: "file", id, accept: "image/png,image/jpeg,image/webp,image/svg+xml", "aria-describedby": about });
      file.addEventListener("change", async () => {
        const chosen = file.files?.[0];
        if (!chosen) return;
        this.data.set(field.id, { name: chosen.name.slice(0, 200), data: await base64(chosen) });
        tell();
      });
      return [file, false];
    }
    const several = field.several_lines || field.kind === "list";
    const line = made(several ? "textarea" : "input", {
      ...(several ? {} : { type: "text" }), id, "aria-describedby": about, spellcheck: "false",
      ...(field.longest && field.longest < 10000 ? { maxlength: String(field.longest) } : {}),
    });
    line.value = field.words ?? "";
    line.addEventListener("input", tell);
    if (field.kind === "list") {
      const lines = new Lines(line, field.label, tell, (words) => this.read(field.id, words), this.pictures);
      this.lists.set(field.id, lines);
      return [lines.all, true];
    }
    if (field.formats?.length) return [made("div", {}, [line, this.formats(field, tell)]), false];
    if (field.kind !== "colour") return [line, false];
    const wheel = made("input", { type: "color", "aria-label": `${field.label}, chosen by eye` });
    if (/^#[0-9a-f]{6}/i.test(line.value)) wheel.value = line.value.slice(0, 7).toLowerCase();
    wheel.addEventListener("input", () => { line.value = wheel.value.toUpperCase(); tell(); });
    line.addEventListener("input", () => { if (/^#[0-9a-f]{6}$/i.test(line.value)) wheel.value = line.value.toLowerCase(); });
    return [made("div", { class: "colour" }, [wheel, line]), false];
  }

  /** What else of some words can be changed: each as the designer made it until it is. @param {Field} field @param {() => void} tell */
  formats(field, tell) {
    return made("div", { class: "formats" }, (field.formats ?? []).map((one) => {
      const about = { "data-format": one.key, "aria-label": `${field.label}: ${one.label}`, title: "As the designer made it, until it is changed" };
      if (one.options) {
        const list = made("select", about, [["", `${one.label} …`], ...one.options].map(([value, name]) => made("option", { value: value ?? "" }, [name ?? ""])));
        list.addEventListener("change", tell);
        return list;
      }
      const box = made("input", { type: "text", inputmode: "decimal", placeholder: `${one.label} in px`, ...about });
      box.addEventListener("input", tell);
      return box;
    }));
  }
}

/** @param {Field} field @returns {string} What a field takes, where nobody said so. */
function limits(field) {
  const unit = field.unit ? ` ${field.unit}` : "";
  if (field.low != null && field.high != null) return `${field.low} to ${field.high}${unit}`;
  return field.unit ?? "";
}
