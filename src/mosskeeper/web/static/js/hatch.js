// @ts-check
// How an open part of a picture is shown: hatched, with an inked border.
import { penOf, sheet } from "./canvas.js";

export const INK = "#23302B";
const ROUND = [
  [1, 0],
  [-1, 0],
  [0, 1],
  [0, -1],
  [0.7, 0.7],
  [-0.7, 0.7],
  [0.7, -0.7],
  [-0.7, -0.7],
];

/**
 * A tile of hatching on a tint.
 * @param {number} size @param {string} tint @param {number[][]} lines  x0, y0, x1, y1 on the tile @param {number} width
 */
export function tile(size, tint, lines, width) {
  const [made, pen] = sheet(size, size);
  pen.fillStyle = tint;
  pen.fillRect(0, 0, size, size);
  pen.strokeStyle = "rgba(35, 48, 43, .55)";
  pen.lineWidth = width;
  for (const [x0, y0, x1, y1] of lines) {
    pen.beginPath();
    pen.moveTo(x0, y0);
    pen.lineTo(x1, y1);
    pen.stroke();
  }
  return made;
}

/**
 * Draws a mask on a cleared canvas of its size.
 * @param {HTMLCanvasElement} canvas
 * @param {HTMLCanvasElement} mask  open where it is opaque
 * @param {CanvasPattern} hatch
 */
export function inked(canvas, mask, hatch) {
  const pen = penOf(canvas);
  const { width, height } = canvas;
  const ink = Math.max(1.2, width / 420);
  pen.save();
  for (const [dx, dy] of ROUND) pen.drawImage(mask, dx * ink, dy * ink);
  pen.globalCompositeOperation = "source-in";
  pen.fillStyle = INK;
  pen.fillRect(0, 0, width, height);
  pen.globalCompositeOperation = "destination-out";
  pen.drawImage(mask, 0, 0);
  const [inside, fill] = sheet(width, height);
  fill.fillStyle = hatch;
  fill.fillRect(0, 0, width, height);
  fill.globalCompositeOperation = "destination-in";
  fill.drawImage(mask, 0, 0);
  pen.globalCompositeOperation = "destination-over";
  pen.drawImage(inside, 0, 0);
  pen.restore();
}
