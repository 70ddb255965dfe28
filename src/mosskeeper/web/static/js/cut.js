import { drag } from "./drag.js";

// Cutting a part out of the picture: drag a rectangle over it.
const main = document.getElementById("main");
const veil = () => document.getElementById("cutting");

main.addEventListener("click", (event) => {
  const button = event.target.closest("[data-cut]");
  if (!button) return;
  veil().hidden = !veil().hidden;
  button.classList.toggle("on", !veil().hidden);
});

main.addEventListener("pointerdown", (event) => {
  if (event.target.closest("#cutting") !== veil() || event.button) return;
  const frame = veil().getBoundingClientRect();
  const share = (e) =>
    [(e.clientX - frame.left) / frame.width, (e.clientY - frame.top) / frame.height].map((v) =>
      Math.min(1, Math.max(0, v)),
    );
  const from = share(event);
  let to = from;
  const draw = () => {
    const [x, y] = [0, 1].map((k) => Math.min(from[k], to[k]));
    const [w, h] = [0, 1].map((k) => Math.abs(to[k] - from[k]));
    const [left, top, width, height] = [x, y, w, h].map((share) => `${share * 100}%`);
    Object.assign(veil().firstElementChild.style, { left, top, width, height });
  };
  drag(event, {
    move: (_dx, _dy, e) => {
      to = share(e);
      draw();
    },
    end(moved) {
      if (!moved) return;
      const form = document.getElementById("cut");
      for (const [name, value] of Object.entries({ x0: from[0], y0: from[1], x1: to[0], y1: to[1] }))
        form.elements.namedItem(name).value = value;
      form.submit();
    },
    cancel: () => {
      to = from;
      draw();
    },
  });
});
