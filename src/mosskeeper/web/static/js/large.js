// @ts-check
// The picture alone, as large as the window (F), and zoom wherever a picture is worked on: wheel and pinch, space and
// drag to move it, 1:1 and fit. What lies on the picture moves with it, so that a hand works on it as before.

/** @typedef {{ scale: number, x: number, y: number }} View  scale 1: fitted; x, y: px by which it is moved */

const MOST = 16;
const page = document.getElementById("main");
/** @type {View} */
let view = { scale: 1, x: 0, y: 0 };
let space = false;

const surface = () => /** @type {HTMLElement | null} */ (document.querySelector(".stage .zoomed"));
const clamp = (/** @type {number} */ v, /** @type {number} */ a, /** @type {number} */ b) =>
  Math.min(b, Math.max(a, v));

/** The view after a zoom by a factor about a place of the frame, which stays where it is. */
export function zoomed(
  /** @type {View} */ { scale, x, y },
  /** @type {number} */ factor,
  /** @type {[number, number]} */ [px, py],
  /** @type {[number, number]} */ size,
) {
  const next = clamp(scale * factor, 1, MOST);
  const k = next / scale;
  return bounded({ scale: next, x: px - (px - x) * k, y: py - (py - y) * k }, size);
}

/** A view that shows no more of what lies beyond the picture than it must. */
export function bounded(/** @type {View} */ { scale, x, y }, /** @type {[number, number]} */ [width, height]) {
  return { scale, x: clamp(x, width * (1 - scale), 0), y: clamp(y, height * (1 - scale), 0) };
}

function show() {
  const own = surface();
  if (!own) return;
  own.style.transform = view.scale === 1 ? "" : `translate(${view.x}px, ${view.y}px) scale(${view.scale})`;
  own.closest(".picture")?.classList.toggle("closer", view.scale > 1);
  document.dispatchEvent(new CustomEvent("moss:zoom", { detail: view }));
  for (const said of document.querySelectorAll("[data-zoom-says]"))
    said.textContent = `${Math.round(100 * view.scale * fitted())} %`;
}

/** Pixels of the screen for each of the picture, fitted. */
function fitted() {
  const image = surface()?.querySelector("img");
  return image?.naturalWidth ? image.clientWidth / image.naturalWidth : 1;
}

/** @returns {[number, number]} */
function frame() {
  const own = surface()?.parentElement;
  return own ? [own.clientWidth, own.clientHeight] : [1, 1];
}

/** Zooms by a factor about a place, px of the frame; without one about its middle. */
export function closer(/** @type {number} */ factor, /** @type {[number, number] | null} */ at = null) {
  const [w, h] = frame();
  view = zoomed(view, factor, at ?? [w / 2, h / 2], [w, h]);
  show();
}
const fit = () => closer(1 / MOST);
const full = () => closer(1 / (view.scale * fitted()));

export function large(/** @type {boolean} */ on) {
  page?.classList.toggle("large", on);
  document.body.classList.toggle("large-body", on);
  view = { scale: 1, x: 0, y: 0 };
  show();
  window.dispatchEvent(new Event("resize"));
}

document.addEventListener(
  "wheel",
  (event) => {
    const picture = /** @type {Element} */ (event.target).closest?.(".stage .picture");
    if (!picture || !surface()) return;
    event.preventDefault();
    const box = picture.getBoundingClientRect();
    closer(Math.exp(-event.deltaY / (event.ctrlKey ? 100 : 400)), [event.clientX - box.left, event.clientY - box.top]);
  },
  { passive: false },
);

// -- space and drag, two fingers -------------------------------------------------------------------------------

/** @type {Map<number, [number, number]>} */
const fingers = new Map();
let apart = 0;

document.addEventListener(
  "pointerdown",
  (event) => {
    const picture = /** @type {HTMLElement | null} */ (
      /** @type {Element} */ (event.target).closest?.(".stage .picture")
    );
    if (!picture || !surface() || /** @type {Element} */ (event.target).closest(".index-tabs, button, a")) return;
    if (event.pointerType === "touch") fingers.set(event.pointerId, [event.clientX, event.clientY]);
    const pans = space || event.button === 1 || fingers.size > 1 || (view.scale > 1 && picture.dataset.pans === "yes");
    if (!pans) return;
    event.preventDefault();
    event.stopPropagation();
    const from = view;
    apart = spread();
    const move = (/** @type {PointerEvent} */ e) => {
      if (fingers.has(e.pointerId)) fingers.set(e.pointerId, [e.clientX, e.clientY]);
      if (fingers.size > 1 && apart) {
        const now = spread();
        closer(now / apart);
        apart = now;
        return;
      }
      view = bounded(
        { ...from, x: from.x + e.clientX - event.clientX, y: from.y + e.clientY - event.clientY },
        frame(),
      );
      show();
    };
    const end = () => window.removeEventListener("pointermove", move, true);
    addEventListener("pointermove", move, true);
    addEventListener("pointerup", end, { once: true, capture: true });
  },
  true,
);
for (const heard of ["pointerup", "pointercancel"])
  addEventListener(heard, (event) => fingers.delete(/** @type {PointerEvent} */ (event).pointerId), true);

function spread() {
  const [a, b] = [...fingers.values()];
  return a && b ? Math.hypot(a[0] - b[0], a[1] - b[1]) : 0;
}

// -- keys and presses ------------------------------------------------------------------------------------------

const FIELDS = "input:not([type=radio], [type=checkbox], [type=range]), textarea, select";
/** @type {Record<string, () => void>} */
const KEYS = {
  f: () => large(!page?.classList.contains("large")),
  "+": () => closer(1.5),
  "=": () => closer(1.5),
  "-": () => closer(1 / 1.5),
  0: fit,
};
const PRESSED = "button, a, summary, input, label"; // where space presses
/** Space is down: what is enlarged can be moved, and the page stays. @param {KeyboardEvent} event @param {Element} on */
function hold(event, on) {
  space = true;
  if (view.scale > 1 && !on.closest(PRESSED)) event.preventDefault();
}
document.addEventListener("keydown", (event) => {
  const target = /** @type {Element} */ (event.target);
  if (target.closest(FIELDS) || event.ctrlKey || event.metaKey || event.altKey) return;
  if (event.code === "Space") hold(event, target);
  else if (event.key === "Escape" && page?.classList.contains("large")) large(false);
  else if (KEYS[event.key] && surface() && !target.closest("[data-bar], .turn, #regions")) {
    event.preventDefault();
    KEYS[event.key]();
  }
});
addEventListener("keyup", (event) => {
  if (event.code === "Space") space = false;
});
/** @type {Record<string, () => void>} */
const PRESSES = { in: () => closer(1.5), out: () => closer(1 / 1.5), full, fit };
document.addEventListener("click", (event) => {
  const press = /** @type {HTMLElement | null} */ (
    /** @type {Element} */ (event.target).closest?.("[data-large], [data-zoom]")
  );
  if (!press) return;
  if ("large" in press.dataset) large(!page?.classList.contains("large"));
  else PRESSES[press.dataset.zoom ?? ""]?.();
});
document.addEventListener("htmx:after:swap", show);
addEventListener("resize", show);
