// One region as it lies on the picture: its own hatch in ink, an inked border, its letter.
const INK = "#23302B";
const HATCHES = [[1, 0], [-1, 0], [0, 0], [0, 1], [1, 1], [-1, 1], [2, 0], [-2, 0]]; // lean of the lines, crossed or not

function hatching(n, width) {
  const tile = Object.assign(document.createElement("canvas"), { width: 18, height: 18 });
  const pen = tile.getContext("2d");
  pen.fillStyle = "rgba(247, 244, 236, .30)";
  pen.fillRect(0, 0, 18, 18);
  pen.strokeStyle = "rgba(35, 48, 43, .55)";
  pen.lineWidth = width;
  const [lean, crossed] = HATCHES[n % HATCHES.length];
  const line = (x0, y0, x1, y1) => { pen.beginPath(); pen.moveTo(x0, y0); pen.lineTo(x1, y1); pen.stroke(); };
  for (const way of crossed ? [lean || 1, -(lean || 1)] : [lean]) {
    if (way === 0) line(0, 9, 18, 9);
    else if (Math.abs(way) === 2) line(9, 0, 9, 18);
    else for (const at of [-18, 0, 18]) line(at, way > 0 ? 18 : 0, at + 18, way > 0 ? 0 : 18);
  }
  return tile;
}

export class Patch {
  /** place : the element over the picture in which it is laid. */
  constructor(place, region, n) {
    this.region = region;
    this.n = n;
    this.canvas = Object.assign(document.createElement("canvas"), { className: "region-patch" });
    this.letter = Object.assign(document.createElement("b"), { className: "region-badge", textContent: region.letter });
    place.append(this.canvas, this.letter);
  }

  async load() {
    const image = new Image();
    image.src = `/pictures/${this.region.mask}.png`;
    await image.decode();
    const [width, height] = [image.naturalWidth, image.naturalHeight];
    const sheet = Object.assign(document.createElement("canvas"), { width, height });
    const pen = sheet.getContext("2d", { willReadFrequently: true });
    pen.drawImage(image, 0, 0);
    const pixels = pen.getImageData(0, 0, width, height);
    let [x0, y0, x1, y1] = [width, height, 0, 0];
    for (let k = 0; k < pixels.data.length; k += 4) {
      const open = pixels.data[k] > 127;
      pixels.data[k + 3] = open ? 255 : 0;
      if (!open) continue;
      const x = (k / 4) % width, y = Math.floor(k / 4 / width);
      [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x + 1), Math.max(y1, y + 1)];
    }
    pen.putImageData(pixels, 0, 0);
    Object.assign(this, { mask: sheet, pixels, box: [x0 / width, y0 / height, x1 / width, y1 / height] });
    this.draw();
    return this;
  }

  draw() {
    const { canvas, mask } = this;
    [canvas.width, canvas.height] = [mask.width, mask.height];
    const pen = canvas.getContext("2d");
    const ink = Math.max(1.2, canvas.width / 420);
    for (const [dx, dy] of [[1, 0], [-1, 0], [0, 1], [0, -1], [.7, .7], [-.7, .7], [.7, -.7], [-.7, -.7]]) pen.drawImage(mask, dx * ink, dy * ink);
    pen.globalCompositeOperation = "source-in";
    pen.fillStyle = INK;
    pen.fillRect(0, 0, canvas.width, canvas.height);
    pen.globalCompositeOperation = "destination-out";
    pen.drawImage(mask, 0, 0);
    const inside = Object.assign(document.createElement("canvas"), { width: canvas.width, height: canvas.height });
    const fill = inside.getContext("2d");
    fill.fillStyle = fill.createPattern(hatching(this.n, Math.max(1, canvas.width / 520)), "repeat");
    fill.fillRect(0, 0, inside.width, inside.height);
    fill.globalCompositeOperation = "destination-in";
    fill.drawImage(mask, 0, 0);
    pen.globalCompositeOperation = "destination-over";
    pen.drawImage(inside, 0, 0);
    this.placed(this.box);
  }

  /** Shows it where the hand has it; `load` shows it where it is kept. */
  placed(box) {
    const [a, b] = [this.box, box];
    const [kx, ky] = [(b[2] - b[0]) / (a[2] - a[0]), (b[3] - b[1]) / (a[3] - a[1])];
    this.canvas.style.transformOrigin = "0 0";
    this.canvas.style.transform = kx === 1 && ky === 1 && a[0] === b[0] && a[1] === b[1] ? "" : `translate(${100 * (b[0] - kx * a[0])}%, ${100 * (b[1] - ky * a[1])}%) scale(${kx}, ${ky})`;
    this.letter.style.left = `${50 * (b[0] + b[2])}%`;
    this.letter.style.top = `${100 * b[1]}%`;
  }

  covers(x, y) {
    if (!this.pixels) return false;
    const { width, height, data } = this.pixels;
    const [px, py] = [Math.floor(x * width), Math.floor(y * height)];
    return px >= 0 && py >= 0 && px < width && py < height && data[4 * (py * width + px)] > 127;
  }
}
