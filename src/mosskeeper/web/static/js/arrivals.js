// A picture that has just come onto the cue sheet: for which role it seems to be meant is said, and the others are
// one press away.
import { field, set } from "./draft.js";

const arrived = new Map(); // cue → whether its role waits for its picture to be read
const ended = (id) => {
  arrived.delete(id);
  show();
};

function show() {
  for (const cue of document.querySelectorAll("[data-cue]")) {
    const id = cue.dataset.cue;
    if (cue.dataset.arrived !== undefined && !arrived.has(id)) arrived.set(id, cue.dataset.unread !== undefined);
    const seems = document.querySelector(`#cue-notes-${id} [data-seems]`);
    if (!seems) continue;
    seems.hidden = !arrived.has(id);
    const select = field(`cue-${id}-role`);
    if (arrived.get(id) && select.value === [...select.options].find((option) => option.defaultSelected).value) {
      arrived.set(id, false);
      set(select.name, seems.dataset.seems);
    }
  }
}

document.addEventListener("click", ({ target }) => {
  const as = target.closest?.("[data-as]");
  if (!as) return;
  const id = as.closest("[id^=cue-notes-]").id.slice("cue-notes-".length);
  set(`cue-${id}-role`, as.dataset.as);
  ended(id);
});
document.addEventListener("change", ({ target, isTrusted }) => {
  const cue = isTrusted && target.matches?.("[data-cue] select[name]") && target.closest("[data-cue]");
  if (cue) ended(cue.dataset.cue);
});
// A hand that is at a cue already goes before what its picture seems to be.
for (const kind of ["pointerdown", "keydown"]) {
  document.addEventListener(
    kind,
    ({ target }) => {
      const cue = target.closest?.("[data-cue]");
      if (cue && arrived.has(cue.dataset.cue)) arrived.set(cue.dataset.cue, false);
    },
    true,
  );
}
document.addEventListener("htmx:finally:request", show);
