// Several pictures of the library are chosen: with Ctrl one by one, with Shift up to the last, by a long press, or
// with the space bar.
import { hold, held } from "./tray.js";

const bar = document.getElementById("many");
const LONG = 500; // ms of a press
const boxes = () => [...document.querySelectorAll("[data-entry] .pick")];
const chosen = () => boxes().filter((box) => box.checked);
let last = null;

function show() {
  const n = chosen().length;
  bar.hidden = n === 0;
  document.getElementById("many-count").textContent = n ? `${n} chosen` : "";
  document.getElementById("entries").classList.toggle("choosing", n > 0);
}

function choose(box, { upTo = false } = {}) {
  const all = boxes();
  const from = upTo && last ? all.indexOf(last) : -1;
  if (from >= 0) {
    const [a, b] = [from, all.indexOf(box)].sort((x, y) => x - y);
    for (const one of all.slice(a, b + 1)) one.checked = true;
  } else box.checked = !box.checked;
  last = box;
  show();
}

const boxOf = (target) => target.closest?.("[data-entry]")?.querySelector(".pick");

document.addEventListener(
  "click",
  (event) => {
    const box = boxOf(event.target);
    if (box) pressed(event, box);
    if (event.target.closest?.("[data-none]")) none();
    if (event.target.closest?.("[data-hold-many]")) holdChosen();
  },
  true,
);

function pressed(event, box) {
  if (event.target === box) {
    last = box;
    show();
  } else if (event.ctrlKey || event.metaKey || event.shiftKey || pressedLong) {
    event.preventDefault();
    if (!pressedLong) choose(box, { upTo: event.shiftKey });
    pressedLong = false;
  }
}

function holdChosen() {
  const nameOf = (one) => /\/pictures\/([0-9a-f]{64})/.exec(one.closest("[data-entry]").querySelector("img").src)[1];
  for (const name of chosen().map(nameOf).slice(0, 4)) if (!held().includes(name)) hold(name);
}

function none() {
  for (const box of chosen()) box.checked = false;
  show();
}

document.addEventListener("keydown", (event) => {
  const box = event.target.matches?.("[data-entry] a") && boxOf(event.target);
  if (box && event.key === " ") {
    event.preventDefault();
    choose(box, { upTo: event.shiftKey });
  }
  if (event.key === "Escape" && chosen().length && !event.target.matches("input.written")) none();
});

let pressedLong = false;
let waiting = 0;
document.addEventListener("pointerdown", (event) => {
  pressedLong = false;
  const box = event.pointerType !== "mouse" && boxOf(event.target);
  if (box)
    waiting = setTimeout(() => {
      pressedLong = true;
      choose(box);
    }, LONG);
});
for (const kind of ["pointerup", "pointercancel", "pointermove"])
  document.addEventListener(kind, () => clearTimeout(waiting));
document.addEventListener("contextmenu", (event) => pressedLong && event.preventDefault());

document.addEventListener("htmx:finally:request", () => {
  const told = document.querySelector("#many-told [data-done]");
  if (!told || told.dataset.seen) return;
  told.dataset.seen = "yes";
  if (told.dataset.done === "take-out") for (const box of chosen()) box.closest("[data-entry]").remove();
  if (told.dataset.done === "bring-back") location.reload();
  document.getElementById("many-value").value = "";
  none();
});
show();
