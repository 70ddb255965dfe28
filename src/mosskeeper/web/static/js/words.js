// Words and dials: the underlines follow the text, suggestions replace words, shapes fill in sizes.
import { field, form, set } from "./draft.js";

const words = document.getElementById("words");
const prompt = words.closest(".prompt");
words.addEventListener("input", () => prompt.classList.add("stale"));
document.addEventListener("htmx:after:swap", () => {
  // the mirror underlines what was saved: it is shown again once it is what stands in the field
  const mirrored = document.getElementById("mirror").textContent.trim();
  prompt.classList.toggle("stale", mirrored !== words.value.trim());
});

document.addEventListener("click", (event) => {
  const target = event.target.closest(
    "[data-replace], [data-seed], [data-run], [data-close], [data-words], [data-words-from], [data-emphasis]",
  );
  if (!target) return;
  if (target.dataset.replace) set("words", words.value.replace(target.dataset.replace, target.dataset.by));
  if (target.dataset.seed !== undefined) set("seed", target.dataset.seed);
  if (target.dataset.words) set("words", target.dataset.words);
  if (target.dataset.emphasis) emphasise(target);
  if ("wordsFrom" in target.dataset) {
    const name = document.getElementById("hero")?.src.match(/pictures\/([0-9a-f]{64})/)?.[1];
    if (name)
      htmx.ajax("GET", `/shots/${document.querySelector("[data-shot]").dataset.shot}/words/from/${name}`, {
        source: target,
        swap: "none",
      });
  }
  if ("run" in target.dataset) document.getElementById("run").click();
  if (target.dataset.close) document.getElementById(target.dataset.close).replaceChildren();
});

// How people are drawn is a phrase of the words: another one takes its place.
const FIGURES = /(,\s*)?\b(storybook|natural|small) figures?\b/gi;
document.addEventListener("click", (event) => {
  const choice = event.target.closest("[data-figures]");
  if (!choice) return;
  const rest = words.value.replace(FIGURES, "").replace(/^[\s,]+|[\s,]+$/g, "");
  set("words", rest ? `${rest}, ${choice.dataset.figures}` : choice.dataset.figures);
  choice.closest("details").open = false;
});

// A click on what was understood makes it say more, then less, then as much as the rest.
const FACTORS = [1, 1.3, 1.6, 0.6];
function emphasise(chip) {
  const input = chip.nextElementSibling;
  input.value = FACTORS[(FACTORS.indexOf(+input.value) + 1) % FACTORS.length];
  form().dispatchEvent(new Event("change", { bubbles: true }));
}

const shape = document.getElementById("shape");
function fillIn() {
  if (!shape.value) return;
  const [width, height] = shape.value.split("x");
  field("width").value = width;
  set("height", height);
}
shape.addEventListener("change", (event) => {
  event.stopPropagation();
  fillIn();
});
if (!shape.selectedOptions[0].defaultSelected) fillIn(); // chosen before this script ran

form().addEventListener("input", (event) => {
  if (event.target.name !== "count") return;
  const n = event.target.value.trim();
  document.getElementById("run-count").textContent = `${n || "?"} take${n === "1" ? "" : "s"}`;
});
form().addEventListener("submit", (event) => event.preventDefault());
form().addEventListener("keydown", (event) => {
  // Enter in a single-line field means done, not run
  if (event.key === "Enter" && event.target.matches("input") && !event.ctrlKey && !event.metaKey) {
    event.preventDefault();
    event.target.blur();
  }
});
