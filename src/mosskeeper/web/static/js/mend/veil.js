// A mask and how it is shown: hatched in moss with an inked border, or the chosen part alone on paper.
import { inked, tile } from "../hatch.js";

const PAPER = "#F7F4EC";

const WAYS = { add: "source-over", take: "destination-out", meet: "destination-in", only: "copy" };
const LINES = [
  [-8, 16, 8, 0],
  [0, 16, 16, 0],
  [8, 16, 24, 0],
  [16, 16, 32, 0],
];

export class Veil {
  /** canvas : on the picture. The mask is kept in a canvas of its own, white and open where the picture may change. */
  constructor(canvas) {
    this.canvas = canvas;
    this.mask = document.createElement("canvas");
    this.alone = false;
  }

  sized(width, height) {
    for (const one of [this.canvas, this.mask])
      if (one.width !== width || one.height !== height) [one.width, one.height] = [width, height];
    this.pen = this.canvas.getContext("2d");
    this.hatch = this.pen.createPattern(
      tile(16, "rgba(185, 196, 138, .38)", LINES, Math.max(1.4, width / 500)),
      "repeat",
    );
    this.paint = this.mask.getContext("2d", { willReadFrequently: true });
  }

  /**
   * A stroke's stretch, on the mask (but a soft one's) and at once on the veil: nothing else is drawn while the hand
   * moves.
   */
  stretch(from, to, width, opens, soft = false) {
    const onVeil = [this.pen, this.alone ? "rgba(185, 196, 138, .5)" : this.hatch];
    for (const [pen, style] of soft ? [onVeil] : [[this.paint, "#fff"], onVeil]) {
      pen.save();
      pen.lineCap = pen.lineJoin = "round";
      pen.lineWidth = width;
      pen.strokeStyle = style;
      pen.globalCompositeOperation = opens ? "source-over" : "destination-out";
      if (opens && pen === this.pen) this.once(pen, from, to);
      pen.beginPath();
      pen.moveTo(...from);
      pen.lineTo(...to);
      pen.stroke();
      pen.restore();
    }
  }

  /**
   * A soft stroke, once the hand is up: its stretches ([from, to, width]) narrower, blurred as far as they lost. edge
   * : 0 soft … 1 hard.
   */
  soft(stretches, edge, opens) {
    const { width, height } = this.mask;
    const stroke = Object.assign(document.createElement("canvas"), { width, height });
    const pen = stroke.getContext("2d");
    pen.lineCap = pen.lineJoin = "round";
    let widest = 0;
    for (const [from, to, wide] of stretches) {
      pen.lineWidth = wide * (0.5 + 0.5 * edge);
      widest = Math.max(widest, wide);
      pen.beginPath();
      pen.moveTo(...from);
      pen.lineTo(...to);
      pen.stroke();
    }
    this.paint.save();
    this.paint.globalCompositeOperation = opens ? "source-over" : "destination-out";
    this.paint.filter = `blur(${(1 - edge) * widest * 0.11}px)`;
    this.paint.drawImage(this.white(stroke), 0, 0);
    this.paint.restore();
  }

  white(canvas) {
    const pen = canvas.getContext("2d");
    pen.globalCompositeOperation = "source-in";
    pen.fillStyle = "#fff";
    pen.fillRect(0, 0, canvas.width, canvas.height);
    return canvas;
  }

  /** The hatching is half open: what is brushed twice must not grow darker. */
  once(pen, from, to) {
    pen.save();
    pen.globalCompositeOperation = "destination-out";
    pen.strokeStyle = "#000";
    pen.beginPath();
    pen.moveTo(...from);
    pen.lineTo(...to);
    pen.stroke();
    pen.restore();
  }

  /** A closed path (or several: even-odd), laid on the mask in one of the ways. */
  area(path, way) {
    this.paint.save();
    this.paint.fillStyle = "#fff";
    this.paint.globalCompositeOperation = WAYS[way];
    this.paint.fill(path, "evenodd");
    this.paint.restore();
    this.show();
  }

  /** What is open on another canvas, laid on the mask in one of the ways. */
  laid(other, way) {
    this.paint.save();
    this.paint.globalCompositeOperation = WAYS[way];
    this.paint.drawImage(other, 0, 0, this.mask.width, this.mask.height);
    this.paint.restore();
    this.show();
  }

  clear() {
    this.paint.clearRect(0, 0, this.mask.width, this.mask.height);
    this.show();
  }

  show() {
    const { pen, mask, canvas } = this;
    pen.save();
    pen.globalCompositeOperation = "source-over";
    pen.clearRect(0, 0, canvas.width, canvas.height);
    if (this.alone) {
      pen.fillStyle = PAPER;
      pen.fillRect(0, 0, canvas.width, canvas.height);
      pen.globalCompositeOperation = "destination-out";
      pen.drawImage(mask, 0, 0);
    } else inked(canvas, mask, this.hatch);
    pen.restore();
  }

  /** Takes over the mask that the studio keeps: white where it is open. */
  async load(address) {
    this.paint.clearRect(0, 0, this.mask.width, this.mask.height);
    if (address) {
      const image = new Image();
      image.src = address;
      await image.decode();
      this.paint.drawImage(image, 0, 0, this.mask.width, this.mask.height);
      const pixels = this.paint.getImageData(0, 0, this.mask.width, this.mask.height);
      for (let k = 0; k < pixels.data.length; k += 4) pixels.data[k + 3] = pixels.data[k];
      this.paint.putImageData(pixels, 0, 0);
    }
    this.show();
  }

  /** The mask as the data address of a PNG, white on black. */
  address() {
    const sheet = Object.assign(document.createElement("canvas"), { width: this.mask.width, height: this.mask.height });
    const pen = sheet.getContext("2d");
    pen.fillRect(0, 0, sheet.width, sheet.height);
    pen.drawImage(this.mask, 0, 0);
    return sheet.toDataURL("image/png");
  }
}
