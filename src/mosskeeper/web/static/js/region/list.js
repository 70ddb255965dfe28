// The list of regions beside the picture: their words and dials. Rows stay as they are while somebody types in them.
import { onEdits } from "../lends.js";

const get = (id) => document.getElementById(id);
// a soft border has none
const bare = (field) => (field.dataset.field === "threshold" && !+field.value ? "" : field.value);

function cueHtml({ id, role, picture, weight, lends }) {
  const image = picture ? `<img src="/pictures/${picture}/thumbnail.jpg" alt="">` : "";
  const dial = `<input type="range" data-cue="${id}" data-aside min="0" max="1.5" step="0.01" value="${weight}"
    aria-label="Weight of ${role}; at 0 it is taken off">`;
  return `<label class="scale-word">${image} ${role} ${dial}<output>${weight.toFixed(2)}</output></label>${lends}`;
}

export class List {
  /**
   * acts : chosen(id), told(id, name, value), bordered(id, name, value), act(id, name), cast(id, value), lead(id,
   * picture, role), weigh(id, cue, weight), edit(id, cue, edit).
   */
  constructor(acts) {
    this.acts = acts;
    this.place = get("region-list");
    this.place.addEventListener("input", ({ target }) => {
      this.says(target);
      if (["feather", "threshold"].includes(target.dataset.field))
        acts.bordered(this.of(target), target.dataset.field, bare(target));
      if (["words", "negative"].includes(target.dataset.field)) {
        clearTimeout(target.later);
        target.later = setTimeout(() => this.send(target), 500);
      }
    });
    this.place.addEventListener("change", ({ target }) => {
      if (target.dataset.field) this.send(target);
      else if (target.dataset.cast !== undefined) acts.cast(this.of(target), target.value);
      else if (target.dataset.cue) acts.weigh(this.of(target), target.dataset.cue, target.value);
    });
    onEdits(this.place, (cue, edit, target) => acts.edit(this.of(target), cue, edit));
    this.place.addEventListener("focusin", ({ target }) => acts.chosen(this.of(target), false));
    this.place.addEventListener("click", ({ target }) => {
      const { act, lead, picture } = target.dataset;
      if (act) acts.act(this.of(target), act);
      else if (lead) acts.lead(this.of(target), picture, lead);
      else if (target.dataset.choose !== undefined) acts.chosen(this.of(target), true);
    });
  }

  of(element) {
    return element.closest(".region-row")?.dataset.region;
  }

  send(field) {
    clearTimeout(field.later);
    field.later = 0;
    this.acts.told(this.of(field), field.dataset.field, bare(field));
  }

  /** What was typed a moment ago is told now. */
  now() {
    for (const field of this.place.querySelectorAll("[data-field]")) if (field.later) this.send(field);
  }

  says(field) {
    const output = field.parentElement.querySelector("output");
    if (output)
      output.textContent = field.dataset.field === "threshold" && !+field.value ? "soft" : (+field.value).toFixed(2);
    if (field.tagName === "TEXTAREA") {
      field.style.height = "auto";
      field.style.height = `${field.scrollHeight + 2}px`;
    }
  }

  show(regions, chosen, overlaps) {
    const rows = new Map([...this.place.children].map((row) => [row.dataset.region, row]));
    for (const [n, region] of regions.entries()) {
      const row = rows.get(region.id) ?? get("region-row").content.firstElementChild.cloneNode(true);
      rows.delete(region.id);
      row.dataset.region = region.id;
      if (this.place.children[n] !== row) this.place.insertBefore(row, this.place.children[n] ?? null);
      this.fill(row, region, region.id === chosen, n, overlaps);
    }
    for (const row of rows.values()) row.remove();
    if (!regions.length)
      this.place.replaceChildren(
        Object.assign(document.createElement("li"), {
          className: "facts",
          textContent:
            "No regions yet: drag one open on the picture, choose a layout, or have them proposed from the words.",
        }),
      );
    else this.place.querySelector(":scope > .facts")?.remove();
  }

  fill(row, region, chosen, n, overlaps) {
    row.classList.toggle("picked", chosen);
    row.classList.toggle("mute", !region.on);
    const letter = row.querySelector("[data-choose]");
    letter.textContent = region.letter;
    letter.setAttribute("aria-pressed", String(chosen));
    letter.setAttribute("aria-label", `Region ${region.letter}`);
    for (const field of row.querySelectorAll("[data-field]")) this.fillField(field, region);
    // of people and things nothing goes over at a border
    for (const name of ["feather", "threshold", "overlap"])
      row.querySelector(`[data-field=${name}]`).closest("label").hidden = !region.fades;
    row.querySelector(".region-given").textContent = givenOf(region, n, overlaps);
    row.querySelector("[data-act=mute]").textContent = region.on ? "mute" : "let act";
    row.querySelector("[data-act=solo]").classList.toggle("on", region.solo);
    const cues = row.querySelector(".region-cues");
    const html = region.cues.map(cueHtml).join("");
    if (cues.dataset.html !== html && !cues.querySelector("input:focus")) {
      cues.innerHTML = html;
      cues.dataset.html = html;
    }
  }

  /** What a field of a region says; one that somebody is in, or that was typed in just now, stays. */
  fillField(field, region) {
    const called = (field.ariaLabel ?? field.dataset.field).replace(/ of region .$/, "");
    field.ariaLabel = `${called} of region ${region.letter}`;
    if (field === document.activeElement || field.later) return;
    field.value = region[field.dataset.field] ?? (field.type === "range" ? 0 : "");
    this.says(field);
  }
}

/** What is given to a region, what of its words is not known, and over which others it lies. */
function givenOf(region, n, overlaps) {
  const lies = overlaps
    .filter(({ of }) => of.includes(n))
    .map(({ of, share }) => `${Math.round(100 * share)} % over ${String.fromCharCode(65 + of.find((m) => m !== n))}`);
  const holds = region.holds.length ? `holds ${region.holds.join(", ")}` : "";
  const unknown = region.unknown.length ? `not known here: ${region.unknown.join(", ")}` : "";
  return [region.given, holds, unknown, ...lies].filter(Boolean).join(" · ");
}
