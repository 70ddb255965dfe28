// Words and dials: the underlines follow the text, suggestions replace words, shapes fill in sizes.
import { field, form, set } from "./form.js";

const words = document.getElementById("words");
const prompt = words.closest(".prompt");
words.addEventListener("input", () => prompt.classList.add("stale"));
document.addEventListener("htmx:after:swap", () => {
  // the mirror underlines what was saved: it is shown again once it is what stands in the field
  const mirrored = document.getElementById("mirror").textContent.trim();
  prompt.classList.toggle("stale", mirrored !== words.value.trim());
});

document.addEventListener("click", (event) => {
  const target = event.target.closest("[data-replace], [data-seed], [data-run], [data-close], [data-forget]");
  if (!target) return;
  if (target.dataset.replace) set("words", words.value.replace(target.dataset.replace, target.dataset.by));
  if (target.dataset.seed) set("seed", target.dataset.seed);
  if ("run" in target.dataset) document.getElementById("run").click();
  if (target.dataset.close) document.getElementById(target.dataset.close).replaceChildren();
});

document.getElementById("shape").addEventListener("change", (event) => {
  event.stopPropagation();
  if (!event.target.value) return;
  const [width, height] = event.target.value.split("x");
  field("width").value = width;
  set("height", height);
});

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
