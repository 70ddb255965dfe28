// @ts-check
// Lists and settings that open where they stand: a press elsewhere or Escape closes them, focus goes back to the press;
// they stay open when the part of the page in which they stand is sent anew and still shows the same take.

const OPEN = "details:is(.menu, .setting)[open]";
const all = () => /** @type {NodeListOf<HTMLDetailsElement>} */ (document.querySelectorAll(OPEN));

document.addEventListener("pointerdown", ({ target }) => {
  for (const one of all()) if (!one.contains(/** @type {Node} */ (target))) one.open = false;
});
document.addEventListener(
  "keydown",
  (event) => {
    if (event.key !== "Escape") return;
    const own = /** @type {Element} */ (event.target).closest?.(OPEN);
    if (!own) return;
    event.stopPropagation();
    /** @type {HTMLDetailsElement} */ (own).open = false;
    /** @type {HTMLElement} */ (own.querySelector("summary")).focus();
  },
  true,
);

/** Where a list stands: its part of the page, the take that the part shows, and which of the part's lists it is. */
function standing(/** @type {HTMLDetailsElement} */ one) {
  const part = one.parentElement?.closest("[id]");
  const take = part?.closest("[data-take]")?.getAttribute("data-take") ?? "";
  const number = [...(part?.querySelectorAll("details:is(.menu, .setting)") ?? [])].indexOf(one);
  return { part: part?.id ?? "", take, number };
}

/** @type {{ one: HTMLDetailsElement, part: string, take: string, number: number }[]} */
let unfolded = [];
document.addEventListener("htmx:before:swap", () => {
  unfolded = [...all()].map((one) => ({ one, ...standing(one) }));
});
document.addEventListener("htmx:after:swap", () => {
  for (const was of unfolded.filter(({ one, part }) => part && !one.isConnected)) {
    const part = document.getElementById(was.part);
    const lists = /** @type {NodeListOf<HTMLDetailsElement>} */ (
      part?.querySelectorAll("details:is(.menu, .setting)") ?? []
    );
    const again = lists[was.number];
    const take = part?.closest("[data-take]")?.getAttribute("data-take") ?? "";
    if (again && take === was.take) again.open = true;
  }
  unfolded = unfolded.filter(({ one }) => one.isConnected);
});
