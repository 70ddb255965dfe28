// How an open part of a picture is shown: hatched, with an inked border.
export const INK = "#23302B";

/** A tile of hatching on a tint. lines : [x0, y0, x1, y1] on the tile. */
export function tile(size, tint, lines, width) {
  const made = Object.assign(document.createElement("canvas"), { width: size, height: size });
  const pen = made.getContext("2d");
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

/** Draws a mask (a canvas, open where it is opaque) on a cleared canvas of its size. hatch : a pattern. */
export function inked(canvas, mask, hatch) {
  const pen = canvas.getContext("2d");
  const { width, height } = canvas;
  const ink = Math.max(1.2, width / 420);
  pen.save();
  for (const [dx, dy] of [[1, 0], [-1, 0], [0, 1], [0, -1], [.7, .7], [-.7, .7], [.7, -.7], [-.7, -.7]]) pen.drawImage(mask, dx * ink, dy * ink);
  pen.globalCompositeOperation = "source-in";
  pen.fillStyle = INK;
  pen.fillRect(0, 0, width, height);
  pen.globalCompositeOperation = "destination-out";
  pen.drawImage(mask, 0, 0);
  const inside = Object.assign(document.createElement("canvas"), { width, height });
  const fill = inside.getContext("2d");
  fill.fillStyle = hatch;
  fill.fillRect(0, 0, width, height);
  fill.globalCompositeOperation = "destination-in";
  fill.drawImage(mask, 0, 0);
  pen.globalCompositeOperation = "destination-over";
  pen.drawImage(inside, 0, 0);
  pen.restore();
}
