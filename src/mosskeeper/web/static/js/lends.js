// What a press or a choice among what a reference lends means, wherever the reference stands.

/** { cue, edit } of what was pressed or chosen; null where it is nothing of a reference's. */
export function editOf(target) {
  const cue = target.closest?.("[data-lending]")?.dataset.lending;
  if (!cue) return null;
  const { trait } = target.dataset;
  const pressed = target.closest("[data-edit]")?.dataset.edit;
  if (pressed) return { cue, edit: JSON.parse(pressed) };
  return trait ? { cue, edit: { edit: "trait", trait, value: target.value } } : null;
}

/** Calls act(cue, edit) for what is pressed or chosen in a part of the page; nothing else hears of a choice. */
export function onEdits(place, act) {
  place.addEventListener("click", ({ target }) => {
    const found = target.closest?.("[data-edit]") && editOf(target);
    if (found) act(found.cue, found.edit, target);
  });
  place.addEventListener("change", (event) => {
    const found = event.target.matches?.("[data-trait]") && editOf(event.target);
    if (!found) return;
    event.stopPropagation();
    act(found.cue, found.edit, event.target);
  }, true);
}

/** The edit as fields of a form: texts. */
export const formOf = (edit) => Object.fromEntries(Object.entries(edit).map(([name, value]) => [name, String(value)]));
