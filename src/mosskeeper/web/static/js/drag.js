// @ts-check
/**
 * A drag with pointer, touch or pen: captured, so that it goes on outside of the element, and ended once, however it
 * ends.
 *
 * @param {PointerEvent} event  the pointerdown
 * @param {object} hand
 * @param {(dx: number, dy: number, event: PointerEvent) => void} hand.move  how far from where it began, in px
 * @param {(moved: boolean) => void} [hand.end]  when it is over; `moved` tells a drag from a press
 * @param {(() => void) | null} [hand.cancel]  when the browser takes the pointer away, or Escape is pressed; without
 *   it, end is called
 */
export function drag(event, { move, end = () => {}, cancel = null }) {
  const pressed = /** @type {Element} */ (event.target);
  const target = pressed.closest("[data-drag], [data-bar], [data-joint]") ?? pressed;
  const { clientX: x, clientY: y, pointerId } = event;
  const listening = new AbortController();
  /** @type {(name: string, handler: (event: any) => void, of?: EventTarget) => void} */
  const on = (name, handler, of = target) => of.addEventListener(name, handler, { signal: listening.signal });
  let moved = false;
  const over = (/** @type {boolean} */ taken) => {
    if (listening.signal.aborted) return;
    listening.abort();
    if (taken && cancel) cancel();
    else end(moved);
  };
  event.preventDefault();
  target.setPointerCapture(pointerId);
  on("pointermove", (e) => {
    if (e.pointerId !== pointerId) return;
    moved ||= Math.hypot(e.clientX - x, e.clientY - y) > 2;
    move(e.clientX - x, e.clientY - y, e);
  });
  on("pointerup", () => over(false));
  on("pointercancel", () => over(true));
  on("lostpointercapture", () => over(false));
  on("keydown", (e) => e.key === "Escape" && (e.preventDefault(), over(true)), document);
}
