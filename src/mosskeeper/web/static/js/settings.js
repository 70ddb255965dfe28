// @ts-check
// The settings of a shot: each press says how its fields stand; one in which something is wrong opens by itself.

const form = /** @type {HTMLFormElement} */ (document.getElementById("recipe"));

/** What stands in a field. @param {string} name */
const value = (name) => /** @type {HTMLInputElement} */ (form.elements.namedItem(name))?.value.trim() ?? "";

/** How a choice is called. @param {string} id */
function chosen(id) {
  const select = /** @type {HTMLSelectElement | null} */ (document.querySelector(id));
  const option = select?.selectedOptions[0];
  return option?.value ? option.textContent.trim() : "";
}

/** The name of the shape that is as wide and high as the fields say; "" where none is. */
function shape() {
  const own = `${value("width")}x${value("height")}`;
  const options = /** @type {NodeListOf<HTMLOptionElement>} */ (document.querySelectorAll("#shape option"));
  return [...options].find((option) => option.value === own)?.textContent.trim() ?? "";
}

const styles = () =>
  [.../** @type {NodeListOf<HTMLInputElement>} */ (form.querySelectorAll("[name=styles]:checked"))]
    .map((style) => style.value)
    .join(", ");

/** What each press says, and whether it stands out. @type {Record<string, () => [string, boolean]>} */
const SAYS = {
  size: () => [[shape(), `${value("width")} × ${value("height")}`].filter(Boolean).join(", "), false],
  styles: () => [styles() || "no style", Boolean(styles())],
  "takes a run": () => [`${value("count") || "?"} take${value("count") === "1" ? "" : "s"}`, false],
  seed: () => [value("seed") ? `seed ${value("seed")}` : "fresh seed", Boolean(value("seed"))],
  guidance: () => [`guidance ${value("guidance")}`, false],
  "steps, sampler": () => [`${value("steps")} steps, ${value("sampler")}`, false],
  engine: () => [chosen("[name=engine]"), false],
};

function say() {
  for (const one of /** @type {NodeListOf<HTMLElement>} */ (document.querySelectorAll("[data-setting]"))) {
    const [words, on] = SAYS[one.dataset.setting ?? ""]();
    const summary = /** @type {HTMLElement} */ (one.querySelector("summary"));
    const said = /** @type {HTMLElement} */ (one.querySelector("[data-says]"));
    if (said.textContent !== words) said.textContent = words;
    summary.classList.toggle("on", on);
  }
}

for (const heard of ["input", "change", "shown"]) form.addEventListener(heard, say);
new MutationObserver((changes) => {
  for (const { target } of changes) {
    const place = /** @type {Element} */ (target).closest?.("[id^=problem-]");
    if (place?.textContent.trim()) place.closest("details")?.setAttribute("open", "");
  }
}).observe(/** @type {Node} */ (document.getElementById("dials")), { childList: true, subtree: true });
say();
