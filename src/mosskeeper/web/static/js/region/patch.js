// One region as it lies on the picture: its own hatch in ink, an inked border, its letter.
import { sheet } from "../canvas.js";
import { inked, tile } from "../hatch.js";

const UP = [
  [-18, 18, 0, 0],
  [0, 18, 18, 0],
  [18, 18, 36, 0],
];
const DOWN = [
  [-18, 0, 0, 18],
  [0, 0, 18, 18],
  [18, 0, 36, 18],
];
const LEVEL = [[0, 9, 18, 9]];
const UPRIGHT = [[9, 0, 9, 18]];
const HATCHES = [
  UP,
  DOWN,
  LEVEL,
  [...UP, ...DOWN],
  UPRIGHT,
  [...LEVEL, ...UPRIGHT],
  [...UP, ...LEVEL],
  [...DOWN, ...UPRIGHT],
];

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
      const x = (k / 4) % width,
        y = Math.floor(k / 4 / width);
      [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x + 1), Math.max(y1, y + 1)];
    }
    pen.putImageData(pixels, 0, 0);
    Object.assign(this, { mask: sheet, pixels, box: [x0 / width, y0 / height, x1 / width, y1 / height] });
    this.draw();
    return this;
  }

  remove() {
    this.canvas.remove();
    this.letter.remove();
  }

  /** The region is told otherwise; its mask stays. */
  takes(region) {
    const was = this.region;
    this.region = region;
    if (this.mask && ["fades", "feather", "threshold"].some((name) => was[name] !== region[name])) this.draw();
  }

  marked(picked) {
    for (const one of [this.canvas, this.letter]) {
      one.classList.toggle("picked", picked);
      one.classList.toggle("mute", !this.region.on);
    }
    if (this.box) this.placed(this.box);
  }

  draw() {
    const { canvas } = this;
    const mask = this.acting();
    [canvas.width, canvas.height] = [mask.width, mask.height];
    const hatch = canvas
      .getContext("2d")
      .createPattern(
        tile(18, "rgba(247, 244, 236, .30)", HATCHES[this.n % HATCHES.length], Math.max(1, canvas.width / 520)),
        "repeat",
      );
    inked(canvas, mask, hatch);
    this.placed(this.box);
  }

  /** The mask as it acts: where what is there can fade into what is beside it, with its border. */
  acting() {
    const { mask, region } = this;
    if (!region.fades) return mask;
    const [soft, pen] = sheet(mask.width, mask.height);
    const sigma = (region.feather * mask.width) / 2;
    const far = Math.ceil(3 * sigma);
    pen.filter = sigma > 0.3 ? `blur(${sigma}px)` : "none";
    pen.drawImage(mirrored(mask, far), -far, -far);
    if (region.threshold !== null) hardened(pen, region.threshold);
    return soft;
  }

  /** Shows it where the hand has it; `load` shows it where it is kept. */
  placed(box) {
    const [a, b] = [this.box, box];
    const [kx, ky] = [(b[2] - b[0]) / (a[2] - a[0]), (b[3] - b[1]) / (a[3] - a[1])];
    this.canvas.style.transformOrigin = "0 0";
    this.canvas.style.transform =
      kx === 1 && ky === 1 && a[0] === b[0] && a[1] === b[1]
        ? ""
        : `translate(${100 * (b[0] - kx * a[0])}%, ${100 * (b[1] - ky * a[1])}%) scale(${kx}, ${ky})`;
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

/**
 * A mask with its mirror images round it, as where it is drawn: at the picture's edge nothing fades. far : px of
 * them.
 */
function mirrored(mask, far) {
  const { width, height } = mask;
  const [wide, pen] = sheet(width + 2 * far, height + 2 * far);
  const turned = (i) => (i === 0 ? 1 : -1);
  const beyond = (i, size) => far + (i > 0 ? 2 * size : 0);
  for (const i of [-1, 0, 1]) {
    for (const j of [-1, 0, 1]) {
      pen.setTransform(turned(i), 0, 0, turned(j), beyond(i, width), beyond(j, height));
      pen.drawImage(mask, 0, 0);
    }
  }
  return wide;
}

/** Opens a soft mask wholly from a share on, and nowhere else. */
function hardened(pen, threshold) {
  const { width, height } = pen.canvas;
  const pixels = pen.getImageData(0, 0, width, height);
  for (let k = 3; k < pixels.data.length; k += 4) pixels.data[k] = pixels.data[k] > 255 * threshold ? 255 : 0;
  pen.putImageData(pixels, 0, 0);
}
