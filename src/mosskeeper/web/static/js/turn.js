// Numbers that are turned: the ends step, the ridge is dragged, arrow keys do both; the number itself is typed.
import { drag } from "./drag.js";

const PX = 7; // of dragging for one step

function put(turn, value) {
  const { step, least, most } = turn.dataset;
  const places = (step.split(".")[1] ?? "").length;
  const clamped = Math.min(
    most === "" ? Infinity : Number(most),
    Math.max(least === "" ? -Infinity : Number(least), value),
  );
  const input = turn.querySelector("input");
  input.value = String(Number(clamped.toFixed(places)));
  input.dispatchEvent(new Event("input", { bubbles: true }));
}

const value = (turn) => Number.parseFloat(turn.querySelector("input").value.replace(",", ".")) || 0;
const done = (turn) => turn.querySelector("input").dispatchEvent(new Event("change", { bubbles: true }));

document.addEventListener("click", ({ target }) => {
  const by = target.closest?.("[data-turn] [data-by]");
  const turn = by?.closest("[data-turn]");
  if (!turn) return;
  put(turn, value(turn) + Number(by.dataset.by) * Number(turn.dataset.step));
  done(turn);
});

document.addEventListener("keydown", (event) => {
  const turn = event.target.matches?.("[data-turn] input") && event.target.closest("[data-turn]");
  const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
  if (!turn || !by) return;
  event.preventDefault();
  put(turn, value(turn) + by * Number(turn.dataset.step));
  done(turn);
});

document.addEventListener("pointerdown", (event) => {
  const turn = event.target.closest?.(".ridge")?.closest("[data-turn]");
  if (!turn || event.button > 0) return;
  const before = value(turn);
  drag(event, {
    move: (x) => put(turn, before + Math.round(x / PX) * Number(turn.dataset.step)),
    end: (moved) => moved && done(turn),
    cancel: () => put(turn, before),
  });
});
