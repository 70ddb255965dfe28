// @ts-check
// What a press or a choice among what a reference lends means, wherever the reference stands.

/** @typedef {Record<string, string | number | boolean>} Edit  of what a reference lends, as the studio knows it */
/** @typedef {HTMLElement & { value?: string }} Part */

/**
 * What was pressed or chosen; null where it is nothing of a reference's.
 * @param {Part} target
 * @returns {{ cue: string, edit: Edit } | null}
 */
export function editOf(target) {
  const cue = /** @type {Part | null} */ (target.closest("[data-lending]"))?.dataset.lending;
  if (!cue) return null;
  const { trait } = target.dataset;
  const pressed = /** @type {Part | null} */ (target.closest("[data-edit]"))?.dataset.edit;
  if (pressed) return { cue, edit: JSON.parse(pressed) };
  return trait ? { cue, edit: { edit: "trait", trait, value: target.value ?? "" } } : null;
}

/**
 * Calls act for what is pressed or chosen in a part of the page; nothing else hears of a choice.
 * @param {EventTarget} place @param {(cue: string, edit: Edit, target: Part) => void} act
 */
export function onEdits(place, act) {
  const heard = (/** @type {Event} */ event, /** @type {string} */ kind) => {
    const target = /** @type {Part} */ (event.target);
    const found = target.closest?.(kind) ? editOf(target) : null;
    if (found) act(found.cue, found.edit, target);
    return found !== null;
  };
  place.addEventListener("click", (event) => heard(event, "[data-edit]"));
  place.addEventListener(
    "change",
    (event) => {
      if (heard(event, "select[data-trait]")) event.stopPropagation();
    },
    true,
  );
}

/** The edit as fields of a form: texts. */
export const formOf = (/** @type {Edit} */ edit) =>
  Object.fromEntries(Object.entries(edit).map(([name, value]) => [name, String(value)]));
