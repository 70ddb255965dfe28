// @ts-check
import { drag } from "./drag.js";

/**
 * Strokes on a canvas: pressure where the pen gives it, every coalesced event, size, and an eraser.
 *
 * @param {HTMLCanvasElement} canvas
 * @param {() => { size: number, colour: string, erase: boolean }} settings  as they are when a stroke begins; size in
 *   px of the canvas
 * @param {() => void} done  after each stroke
 */
export function brush(canvas, settings, done) {
  canvas.addEventListener("pointerdown", (event) => {
    if (event.button > 0) return;
    const { size, colour, erase } = settings();
    const pen = /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d"));
    /** @type {(e: PointerEvent) => [number, number]} */
    const at = (e) => {
      const box = canvas.getBoundingClientRect();
      return [
        ((e.clientX - box.left) / box.width) * canvas.width,
        ((e.clientY - box.top) / box.height) * canvas.height,
      ];
    };
    const width = (/** @type {PointerEvent} */ e) =>
      size * (e.pointerType === "pen" && e.pressure ? 0.3 + 1.4 * e.pressure : 1);
    pen.lineCap = pen.lineJoin = "round";
    pen.strokeStyle = colour;
    // 32: the pen's other end
    pen.globalCompositeOperation = erase || event.buttons & 32 ? "destination-out" : "source-over";
    let last = at(event);
    const line = (/** @type {PointerEvent} */ e) => {
      const next = at(e);
      pen.lineWidth = width(e);
      pen.beginPath();
      pen.moveTo(...last);
      pen.lineTo(...next);
      pen.stroke();
      last = next;
    };
    line(event);
    drag(event, {
      move: (_dx, _dy, e) => {
        for (const each of e.getCoalescedEvents?.() ?? [e]) line(each);
      },
      end: () => {
        pen.globalCompositeOperation = "source-over";
        done();
      },
    });
  });
}
