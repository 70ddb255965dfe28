// What lies on a board: strokes, shapes and pictures, from the lowest up, and how each is drawn. Places in px of the board.
const pictures = new Map();

/** Loads the pictures of pieces, so that drawing them need not wait. */
export function loaded(pieces) {
  return Promise.all(pieces.filter((p) => p.kind === "picture" && !pictures.has(p.picture)).map((p) => {
    const image = new Image();
    image.src = `/pictures/${p.picture}.png`;
    pictures.set(p.picture, image);
    return image.decode().catch(() => {});
  }));
}

const radians = (degrees) => (degrees * Math.PI) / 180;

/** The outline of a shape as a path about its middle. */
function outline(kind, [w, h]) {
  const path = new Path2D();
  if (kind === "disc") path.ellipse(0, 0, Math.abs(w) / 2, Math.abs(h) / 2, 0, 0, 2 * Math.PI);
  else if (kind === "box") path.rect(-w / 2, -h / 2, w, h);
  else { path.moveTo(0, -h / 2); path.lineTo(w / 2, h / 2); path.lineTo(-w / 2, h / 2); path.closePath(); }
  return path;
}

/** One stretch of a stroke, from point `a` to point `b`, each [x, y, width]. */
export function stretch(pen, a, b) {
  pen.lineCap = pen.lineJoin = "round";
  pen.lineWidth = (a[2] + b[2]) / 2;
  pen.beginPath();
  pen.moveTo(a[0], a[1]);
  pen.lineTo(b[0], b[1] + (a[0] === b[0] && a[1] === b[1] ? 0.01 : 0));
  pen.stroke();
}

export const pointsOf = (piece) => Array.from({ length: piece.points.length / 3 }, (_, i) => piece.points.slice(3 * i, 3 * i + 3));

/** Lays a stroke whose stretches would cover each other: drawn whole on a sheet of its own first. */
let sheet = null;
function wholeStroke(pen, piece) {
  sheet ??= document.createElement("canvas");
  if (sheet.width !== pen.canvas.width || sheet.height !== pen.canvas.height) [sheet.width, sheet.height] = [pen.canvas.width, pen.canvas.height];
  const own = sheet.getContext("2d");
  own.clearRect(0, 0, sheet.width, sheet.height);
  own.strokeStyle = `#${piece.colour}`;
  const points = pointsOf(piece);
  for (let i = 0; i < Math.max(1, points.length - 1); i++) stretch(own, points[i], points[i + 1] ?? points[i]);
  pen.globalAlpha = piece.cover;
  pen.globalCompositeOperation = piece.kind === "rubbed" ? "destination-out" : "source-over";
  pen.drawImage(sheet, 0, 0);
}

export function draw(pen, piece) {
  pen.save();
  pen.globalAlpha = piece.cover ?? 1;
  if (piece.kind === "ground") {
    pen.fillStyle = `#${piece.colour}`;
    pen.fillRect(0, 0, pen.canvas.width, pen.canvas.height);
  } else if (piece.kind === "stroke" || piece.kind === "rubbed") {
    if (piece.cover < 1) wholeStroke(pen, piece);
    else {
      pen.strokeStyle = `#${piece.colour}`;
      pen.globalCompositeOperation = piece.kind === "rubbed" ? "destination-out" : "source-over";
      const points = pointsOf(piece);
      for (let i = 0; i < Math.max(1, points.length - 1); i++) stretch(pen, points[i], points[i + 1] ?? points[i]);
    }
  } else if (piece.kind === "blob") {
    pen.fillStyle = `#${piece.colour}`;
    pen.translate(...piece.at);
    pen.rotate(radians(piece.turn));
    pen.fill(blobPath(piece));
  } else {
    pen.translate(...piece.at);
    pen.rotate(radians(piece.turn));
    const [w, h] = piece.size;
    if (piece.kind === "picture") {
      const image = pictures.get(piece.picture);
      if (image?.naturalWidth) pen.drawImage(image, -w / 2, -h / 2, w, h);
    } else {
      pen.fillStyle = `#${piece.colour}`;
      pen.fill(outline(piece.kind, piece.size));
    }
  }
  pen.restore();
}

function blobPath(piece) {
  const path = new Path2D();
  const [w, h] = piece.size;
  for (let i = 0; i < piece.points.length; i += 2) path.lineTo(piece.points[i] * w, piece.points[i + 1] * h);
  path.closePath();
  return path;
}

/** Where a piece lies: x, y of its middle, width, height, turn in degrees. */
export function frame(piece) {
  if (piece.at) return { x: piece.at[0], y: piece.at[1], w: Math.abs(piece.size[0]), h: Math.abs(piece.size[1]), turn: piece.turn };
  if (piece.kind === "ground") return null;
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [x, y, width] of pointsOf(piece)) {
    x0 = Math.min(x0, x - width / 2); y0 = Math.min(y0, y - width / 2);
    x1 = Math.max(x1, x + width / 2); y1 = Math.max(y1, y + width / 2);
  }
  return { x: (x0 + x1) / 2, y: (y0 + y1) / 2, w: x1 - x0, h: y1 - y0, turn: 0 };
}

/** A piece moved by dx, dy, scaled by k and turned by degrees about its middle. */
export function changed(piece, { dx = 0, dy = 0, k = 1, turn = 0 }) {
  const tenth = (v) => Math.round(v * 10) / 10;
  if (piece.at) return { ...piece, at: [tenth(piece.at[0] + dx), tenth(piece.at[1] + dy)], size: piece.size.map((v) => tenth(v * k)), turn: ((piece.turn + turn + 540) % 360) - 180 };
  if (piece.kind === "ground") return piece;
  const { x: mx, y: my } = frame(piece);
  const [c, s] = [Math.cos(radians(turn)) * k, Math.sin(radians(turn)) * k];
  const points = pointsOf(piece).flatMap(([x, y, w]) => [mx + (x - mx) * c - (y - my) * s + dx, my + (x - mx) * s + (y - my) * c + dy, w * k]);
  return { ...piece, points: points.map(tenth) };
}

/** The uppermost piece at a place, by its index; −1 where there is none. */
export function at(pieces, x, y) {
  for (let i = pieces.length - 1; i >= 0; i--) {
    const piece = pieces[i];
    if (piece.kind === "ground" || piece.kind === "rubbed") continue;
    if (piece.kind === "stroke") {
      const points = pointsOf(piece);
      if (points.some((p, k) => near(p, points[k + 1] ?? p, x, y))) return i;
      continue;
    }
    const f = frame(piece);
    const a = radians(-f.turn);
    const [dx, dy] = [(x - f.x) * Math.cos(a) - (y - f.y) * Math.sin(a), (x - f.x) * Math.sin(a) + (y - f.y) * Math.cos(a)];
    const inside = piece.kind === "disc" ? (dx / f.w) ** 2 + (dy / f.h) ** 2 < 0.25 : Math.abs(dx) < f.w / 2 && Math.abs(dy) < f.h / 2;
    if (inside) return i;
  }
  return -1;
}

function near(a, b, x, y) {
  const [vx, vy] = [b[0] - a[0], b[1] - a[1]];
  const t = Math.min(1, Math.max(0, ((x - a[0]) * vx + (y - a[1]) * vy) / (vx * vx + vy * vy || 1)));
  return Math.hypot(x - a[0] - t * vx, y - a[1] - t * vy) < Math.max(a[2], b[2]) / 2 + 5;
}
