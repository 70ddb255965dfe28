// @ts-check
// Canvases: their pens, and sheets that are not on the page.

/** The pen of a canvas. @param {HTMLCanvasElement} canvas @param {CanvasRenderingContext2DSettings} [settings] */
export const penOf = (canvas, settings) => /** @type {CanvasRenderingContext2D} */ (canvas.getContext("2d", settings));

/**
 * A canvas of its own, and its pen.
 * @param {number} width @param {number} height @param {CanvasRenderingContext2DSettings} [settings]
 * @returns {[HTMLCanvasElement, CanvasRenderingContext2D]}
 */
export function sheet(width, height, settings) {
  const canvas = Object.assign(document.createElement("canvas"), { width, height });
  return [canvas, penOf(canvas, settings)];
}
