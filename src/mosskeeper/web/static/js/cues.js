// Cue bars: ends are dragged for the span, the body for the weight; arrow keys do the same.
import { set } from "./draft.js";
import { drag } from "./drag.js";
import { onEdits } from "./lends.js";

const clamp = (v, a, b) => Math.min(b, Math.max(a, v));
const FULL = 21; // px of height per unit of weight, as in app.css

function show(cue, { weight, start, end }) {
  const bar = cue.querySelector("[data-bar]");
  bar.style.cssText = `--start: ${start}; --end: ${end}; --weight: ${weight}`;
  bar.querySelector("b").textContent = weight.toFixed(2);
  bar.setAttribute("aria-valuenow", weight);
}

const input = (cue, name) => cue.querySelector(`[name="cue-${cue.dataset.cue}-${name}"]`);
const read = (cue) =>
  Object.fromEntries(["weight", "start", "end"].map((n) => [n, parseFloat(input(cue, n).value) || 0]));

function write(cue, values) {
  for (const [name, value] of Object.entries(values)) input(cue, name).value = String(Math.round(value * 100) / 100);
  show(cue, values);
}

const commit = (cue) => set(`cue-${cue.dataset.cue}-weight`, input(cue, "weight").value);

document.addEventListener("pointerdown", (event) => {
  const bar = event.target.closest("[data-bar]");
  if (!bar || event.button > 0) return;
  bar.focus();
  const cue = bar.closest("[data-cue]");
  const width = cue.querySelector("[data-track]").clientWidth;
  const end = event.target.dataset.end;
  const before = read(cue);
  let now = before;
  drag(event, {
    move(x, y) {
      const dx = (x / width) * 100;
      now = { ...before };
      if (end === "start") now.start = clamp(Math.round(before.start + dx), 0, before.end - 1);
      else if (end === "end") now.end = clamp(Math.round(before.end + dx), before.start + 1, 100);
      else now.weight = clamp(before.weight - y / FULL, 0, 1.5);
      write(cue, now);
    },
    end: (moved) => {
      if (moved) {
        write(cue, now);
        commit(cue);
      }
    }, // an answer may have come since the last move
    cancel: () => write(cue, before),
  });
});

document.addEventListener(
  "keydown",
  (event) => {
    const bar = event.target.closest?.("[data-bar]");
    if (!bar) return;
    const cue = bar.closest("[data-cue]");
    const now = read(cue);
    const step = {
      ArrowUp: ["weight", 0.05],
      ArrowDown: ["weight", -0.05],
      ArrowRight: ["end", 5],
      ArrowLeft: ["end", -5],
    }[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const [name, by] = event.shiftKey && step[0] === "end" ? ["start", step[1]] : step;
    now[name] = {
      weight: () => clamp(now.weight + by, 0, 1.5),
      end: () => clamp(now.end + by, now.start + 1, 100),
      start: () => clamp(now.start + by, 0, now.end - 1),
    }[name]();
    write(cue, now);
    commit(cue);
  },
  true,
);

// A cue that still begins as its role does begins as its new role does when that changes.
document.addEventListener(
  "change",
  (event) => {
    if (!event.target.matches?.("[data-cue] select[name]")) return;
    const cue = event.target.closest("[data-cue]");
    const begins = (option) => JSON.parse(option.dataset.begins);
    const [now, before] = [read(cue), [...event.target.options].find((option) => option.defaultSelected)];
    if (Object.entries(begins(before)).every(([name, value]) => now[name] === value))
      write(cue, begins(event.target.selectedOptions[0]));
  },
  true,
);

// Where a cue acts is a mask, made by the server, and what it lends is known there: neither goes the way of the other
// fields.
function posted(cue, what, values) {
  const { shot } = document.querySelector("[data-shot]").dataset;
  htmx.ajax("POST", `/shots/${shot}/cues/${cue}/${what}`, {
    source: document.getElementById("drop"),
    swap: "none",
    values,
  });
}
document.addEventListener(
  "change",
  (event) => {
    if (!event.target.matches?.("[data-area]")) return;
    event.stopPropagation();
    posted(event.target.closest("[data-cue]").dataset.cue, "area", { area: event.target.value });
  },
  true,
);
onEdits(document, (cue, edit) => posted(cue, "lends", edit));

document.addEventListener("click", (event) => {
  const style = event.target.closest?.("[data-unstyle]")?.dataset.unstyle;
  if (style) document.querySelector(`[name=styles][value="${style}"]`).click();
});

// A field that was set from elsewhere moves its bar, too.
document.addEventListener("shown", (event) => {
  const cue = document.querySelector(`[data-cue="${event.detail.split("-")[1]}"]`);
  if (cue && event.detail.startsWith("cue-")) show(cue, read(cue));
});

document.addEventListener("input", (event) => {
  const cue = event.target.closest?.("[data-cue]");
  if (cue) show(cue, read(cue));
});
