// @ts-check
// What lies on a board: strokes, shapes and pictures, from the lowest up, and how each is drawn. Places in px of the
// board.
import { sheet } from "../canvas.js";

/** @typedef {{ kind: "ground", colour: string, cover: number }} Ground */
/**
 * @typedef {{ kind: "stroke" | "rubbed", colour: string, cover: number, points: number[] }} Stroke  points: x, y,
 *   width of each
 */
/**
 * @typedef {object} Shape
 * @property {"disc" | "box" | "triangle" | "blob"} kind
 * @property {string} colour @property {number} cover
 * @property {number[]} at  x, y of its middle
 * @property {number[]} size  width, height
 * @property {number} turn  degrees
 * @property {number[]} [points]  of a blob: x, y of each about its middle, as shares of its size
 */
/** @typedef {{ kind: "picture", picture: string, cover: number, at: number[], size: number[], turn: number }} Pasted */
/** @typedef {Ground | Stroke | Shape | Pasted} Piece */
/** @typedef {CanvasRenderingContext2D} Pen */

/** @type {Map<string, HTMLImageElement>} */
const pictures = new Map();

/** Loads the pictures of pieces, so that drawing them need not wait. */
export function loaded(/** @type {Piece[]} */ pieces) {
  const fresh = pieces.filter((p) => p.kind === "picture").filter((p) => !pictures.has(p.picture));
  return Promise.all(
    fresh.map((p) => {
      const image = new Image();
      image.src = `/pictures/${p.picture}.png`;
      pictures.set(p.picture, image);
      return image.decode().catch(() => {});
    }),
  );
}

const radians = (/** @type {number} */ degrees) => (degrees * Math.PI) / 180;

/** The outline of a shape as a path about its middle. @param {string} kind @param {number[]} size */
function outline(kind, [w, h]) {
  const path = new Path2D();
  if (kind === "disc") path.ellipse(0, 0, Math.abs(w) / 2, Math.abs(h) / 2, 0, 0, 2 * Math.PI);
  else if (kind === "box") path.rect(-w / 2, -h / 2, w, h);
  else {
    path.moveTo(0, -h / 2);
    path.lineTo(w / 2, h / 2);
    path.lineTo(-w / 2, h / 2);
    path.closePath();
  }
  return path;
}

/**
 * One stretch of a stroke, from a point to another, each x, y, width.
 * @type {(pen: Pen, a: number[], b: number[]) => void}
 */
export function stretch(pen, a, b) {
  pen.lineCap = pen.lineJoin = "round";
  pen.lineWidth = (a[2] + b[2]) / 2;
  pen.beginPath();
  pen.moveTo(a[0], a[1]);
  pen.lineTo(b[0], b[1] + (a[0] === b[0] && a[1] === b[1] ? 0.01 : 0));
  pen.stroke();
}

export const pointsOf = (/** @type {{ points: number[] }} */ piece) =>
  Array.from({ length: piece.points.length / 3 }, (_, i) => piece.points.slice(3 * i, 3 * i + 3));

/** @type {(pen: Pen, piece: Stroke) => void} */
function stretches(pen, piece) {
  const points = pointsOf(piece);
  for (let i = 0; i < Math.max(1, points.length - 1); i++) stretch(pen, points[i], points[i + 1] ?? points[i]);
}

const compositeOf = (/** @type {Piece} */ piece) => (piece.kind === "rubbed" ? "destination-out" : "source-over");

/** @type {[HTMLCanvasElement, Pen] | null} */
let own = null;
/**
 * Lays a stroke whose stretches would cover each other: drawn whole on a sheet of its own first.
 * @type {(pen: Pen, piece: Stroke) => void}
 */
function wholeStroke(pen, piece) {
  const { width, height } = pen.canvas;
  if (own?.[0].width !== width || own[0].height !== height) own = sheet(width, height);
  const [canvas, brush] = own;
  brush.clearRect(0, 0, width, height);
  brush.strokeStyle = `#${piece.colour}`;
  stretches(brush, piece);
  pen.globalAlpha = piece.cover;
  pen.globalCompositeOperation = compositeOf(piece);
  pen.drawImage(canvas, 0, 0);
}

/** @type {(pen: Pen, piece: Piece) => void} */
export function draw(pen, piece) {
  pen.save();
  pen.globalAlpha = piece.cover ?? 1;
  if (piece.kind === "ground") {
    pen.fillStyle = `#${piece.colour}`;
    pen.fillRect(0, 0, pen.canvas.width, pen.canvas.height);
  } else if (!("at" in piece)) {
    if (piece.cover < 1) wholeStroke(pen, piece);
    else {
      pen.strokeStyle = `#${piece.colour}`;
      pen.globalCompositeOperation = compositeOf(piece);
      stretches(pen, piece);
    }
  } else {
    pen.translate(piece.at[0], piece.at[1]);
    pen.rotate(radians(piece.turn));
    if (piece.kind === "picture") pasted(pen, piece);
    else {
      pen.fillStyle = `#${piece.colour}`;
      pen.fill(piece.kind === "blob" ? blobPath(piece) : outline(piece.kind, piece.size));
    }
  }
  pen.restore();
}

/** @type {(pen: Pen, piece: Pasted) => void} */
function pasted(pen, { picture, size: [w, h] }) {
  const image = pictures.get(picture);
  if (image?.naturalWidth) pen.drawImage(image, -w / 2, -h / 2, w, h);
}

function blobPath(/** @type {Shape} */ { points = [], size: [w, h] }) {
  const path = new Path2D();
  for (let i = 0; i < points.length; i += 2) path.lineTo(points[i] * w, points[i + 1] * h);
  path.closePath();
  return path;
}

/** Where a piece lies: its middle, size, and turn in degrees; null for a ground, which lies everywhere. */
export function frame(/** @type {Piece} */ piece) {
  if ("at" in piece) {
    return { x: piece.at[0], y: piece.at[1], w: Math.abs(piece.size[0]), h: Math.abs(piece.size[1]), turn: piece.turn };
  }
  return piece.kind === "ground" ? null : around(piece);
}

function around(/** @type {Stroke} */ piece) {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y, width] of pointsOf(piece)) {
    [x0, y0] = [Math.min(x0, x - width / 2), Math.min(y0, y - width / 2)];
    [x1, y1] = [Math.max(x1, x + width / 2), Math.max(y1, y + width / 2)];
  }
  return { x: (x0 + x1) / 2, y: (y0 + y1) / 2, w: x1 - x0, h: y1 - y0, turn: 0 };
}

const tenth = (/** @type {number} */ v) => Math.round(v * 10) / 10;

/**
 * A piece moved by dx, dy, scaled by k and turned by degrees about its middle.
 * @param {Piece} piece @param {{ dx?: number, dy?: number, k?: number, turn?: number }} by
 * @returns {Piece}
 */
export function changed(piece, { dx = 0, dy = 0, k = 1, turn = 0 }) {
  if ("at" in piece) {
    const at = [tenth(piece.at[0] + dx), tenth(piece.at[1] + dy)];
    return { ...piece, at, size: piece.size.map((v) => tenth(v * k)), turn: ((piece.turn + turn + 540) % 360) - 180 };
  }
  if (piece.kind === "ground") return piece;
  const { x: mx, y: my } = around(piece);
  const [c, s] = [Math.cos(radians(turn)) * k, Math.sin(radians(turn)) * k];
  const points = pointsOf(piece).flatMap(([x, y, w]) => [
    mx + (x - mx) * c - (y - my) * s + dx,
    my + (x - mx) * s + (y - my) * c + dy,
    w * k,
  ]);
  return { ...piece, points: points.map(tenth) };
}

/**
 * The uppermost piece at a place, by its index; −1 where there is none.
 * @type {(pieces: Piece[], x: number, y: number) => number}
 */
export function at(pieces, x, y) {
  return pieces.findLastIndex((piece) => {
    if (piece.kind === "ground" || piece.kind === "rubbed") return false;
    if (!("at" in piece)) return pointsOf(piece).some((p, k, all) => near(p, all[k + 1] ?? p, x, y));
    const [w, h, a] = [Math.abs(piece.size[0]), Math.abs(piece.size[1]), radians(-piece.turn)];
    const [ex, ey] = [x - piece.at[0], y - piece.at[1]];
    const [dx, dy] = [ex * Math.cos(a) - ey * Math.sin(a), ex * Math.sin(a) + ey * Math.cos(a)];
    return piece.kind === "disc" ? (dx / w) ** 2 + (dy / h) ** 2 < 0.25 : Math.abs(dx) < w / 2 && Math.abs(dy) < h / 2;
  });
}

/**
 * Whether a place is on a stretch of a stroke, or hardly beside it.
 * @type {(a: number[], b: number[], x: number, y: number) => boolean}
 */
function near(a, b, x, y) {
  const [vx, vy] = [b[0] - a[0], b[1] - a[1]];
  const t = Math.min(1, Math.max(0, ((x - a[0]) * vx + (y - a[1]) * vy) / (vx * vx + vy * vy || 1)));
  return Math.hypot(x - a[0] - t * vx, y - a[1] - t * vy) < Math.max(a[2], b[2]) / 2 + 5;
}
