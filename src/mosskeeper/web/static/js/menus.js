// @ts-check
// Lists and settings that open where they stand: a press elsewhere or Escape closes them, focus goes back to the press.

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
