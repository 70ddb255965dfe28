// Comparing: zoom and place are linked over all panes; lens, swipe and blink; all of it by keys, too.
const main = document.getElementById("main");
const views = [...document.querySelectorAll(".pane-view")];
const clamp = (v, a, b) => Math.min(b, Math.max(a, v));
let zoom = 1;
let at = [0.5, 0.5]; // of the picture, in the middle of the pane

function show() {
  for (const view of views) {
    view.style.setProperty("--zoom", zoom);
    view.style.setProperty("--x", at[0]);
    view.style.setProperty("--y", at[1]);
  }
}
function closer(factor) {
  zoom = clamp(zoom * factor, 1, 8);
  if (zoom === 1) at = [0.5, 0.5];
  show();
}

for (const view of views) {
  view.addEventListener(
    "wheel",
    (event) => {
      event.preventDefault();
      closer(event.deltaY < 0 ? 1.2 : 1 / 1.2);
    },
    { passive: false },
  );
  view.addEventListener("pointerdown", (event) => {
    if (zoom === 1 || event.target.matches("input")) return;
    view.setPointerCapture(event.pointerId);
    const from = [...at];
    const move = (e) => {
      at = [0, 1].map((k) =>
        clamp(
          from[k] -
            [e.clientX - event.clientX, e.clientY - event.clientY][k] /
              ([view.clientWidth, view.clientHeight][k] * zoom),
          0,
          1,
        ),
      );
      show();
    };
    view.addEventListener("pointermove", move);
    view.addEventListener("lostpointercapture", () => view.removeEventListener("pointermove", move), { once: true });
  });
  view.addEventListener("pointermove", (event) => lens(view, event));
}

// The lens stands at the same place of every picture.
const lensButton = document.getElementById("lens");
const LENS = 3;
function lens(view, event) {
  const on = lensButton?.getAttribute("aria-pressed") === "true";
  const image = view.querySelector("img").getBoundingClientRect();
  const share = [(event.clientX - image.left) / image.width, (event.clientY - image.top) / image.height];
  for (const glass of document.querySelectorAll(".lens")) {
    glass.hidden = !on;
    if (!on) continue;
    const own = glass.parentElement.querySelector("img").getBoundingClientRect();
    const pane = glass.parentElement.getBoundingClientRect();
    const half = glass.clientWidth / 2;
    glass.style.left = `${own.left - pane.left + share[0] * own.width - half}px`;
    glass.style.top = `${own.top - pane.top + share[1] * own.height - half}px`;
    glass.style.backgroundSize = `${own.width * LENS}px ${own.height * LENS}px`;
    glass.style.backgroundPosition = `${half - share[0] * own.width * LENS}px ${half - share[1] * own.height * LENS}px`;
  }
}
lensButton?.addEventListener("click", () => {
  const on = lensButton.getAttribute("aria-pressed") !== "true";
  lensButton.setAttribute("aria-pressed", on);
  lensButton.classList.toggle("on", on);
  if (!on) for (const glass of document.querySelectorAll(".lens")) glass.hidden = true;
});

// Layers: the first lies below; swipe uncovers another, blink changes them.
const layers = [...document.querySelectorAll("[data-layer]")];
const swipe = document.getElementById("swipe-at");
let layer = swipe ? 1 : 0;
function turn(by) {
  if (!layers.length) return;
  const least = swipe ? 1 : 0;
  layer = least + ((layer - least + by + (layers.length - least)) % (layers.length - least));
  for (const [k, image] of layers.entries()) image.hidden = k !== layer && !(swipe && k === 0);
  for (const facts of document.querySelectorAll("[data-layer-facts]"))
    facts.classList.toggle("on", +facts.dataset.layerFacts === layer);
}
swipe?.addEventListener("input", () => swipe.parentElement.style.setProperty("--at", `${swipe.value}%`));
document.getElementById("next-layer")?.addEventListener("click", () => turn(1));
const blink = document.getElementById("blink");
let blinking;
blink?.addEventListener("click", () => {
  const on = blink.getAttribute("aria-pressed") !== "true";
  blink.setAttribute("aria-pressed", on);
  clearInterval(blinking);
  if (on) blinking = setInterval(() => turn(1), 600);
});
turn(0);

document.getElementById("zoom-in").addEventListener("click", () => closer(1.5));
document.getElementById("zoom-out").addEventListener("click", () => closer(1 / 1.5));
document.getElementById("zoom-off").addEventListener("click", () => closer(0));
const PRESSES = { "+": "zoom-in", "=": "zoom-in", "-": "zoom-out", 0: "zoom-off", l: "lens", " ": "blink" };
const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
document.addEventListener("keydown", (event) => {
  const typing = event.target.closest("input:not([type=range]), textarea, select");
  if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
  const press = PRESSES[event.key] ?? (/^[1-5]$/.test(event.key) ? `way-${event.key}` : "");
  const control = press && document.getElementById(press);
  if (control) {
    event.preventDefault();
    control.click();
  } else if (ARROWS[event.key]) moved(event, ARROWS[event.key]);
});
/** Arrow keys move what is enlarged; else they turn to the next picture. */
function moved(event, [dx, dy]) {
  if (zoom > 1) {
    event.preventDefault();
    at = at.map((v, k) => clamp(v + ([dx, dy][k] * 0.1) / zoom, 0, 1));
    show();
  } else if (!event.target.matches("input")) turn(dx || dy);
}
show();
main.dataset.ready = "yes";
