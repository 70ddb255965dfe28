// Beyond the picture: sides dragged outwards, a shape chosen, a window that lies half over the edge.
import { drag } from "../drag.js";

const get = (id) => document.getElementById(id);
const MOST = 1024;
const STEP = 16;
const side16 = (px) => Math.min(MOST, Math.max(0, Math.ceil(px / STEP) * STEP));

export class Beyond {
  /**
   * canvas : of the picture. fresh() : begins a mend of its own where the open one is of something else. tell(fields)
   * : of the open mend.
   */
  constructor(canvas, fresh, tell) {
    Object.assign(this, { canvas, fresh, tell, window: null, later: 0 });
    this.sides = [...document.querySelectorAll("[data-side]")];
    for (const side of this.sides) side.addEventListener("change", () => this.widen());
    for (const edge of document.querySelectorAll("[data-edge]"))
      edge.addEventListener("pointerdown", (event) => this.pull(event, edge));
    get("shape").addEventListener("change", ({ target }) => {
      if (target.value) this.shaped(...target.value.split(":").map(Number));
      target.value = "";
    });
    get("window-grip").addEventListener("pointerdown", (event) => this.carry(event));
    get("window-grip").addEventListener("keydown", (event) => this.nudge(event));
  }

  get scale() {
    return this.canvas.width / (this.canvas.getBoundingClientRect().width || get("mend-picture").clientWidth);
  }

  stood({ wider, window: box }) {
    for (const side of this.sides) if (document.activeElement !== side) side.value = wider[side.dataset.side];
    if (this.later) return; // it is being moved by keys: what is told now is older
    this.window = box && [box[0] - wider[0], box[1] - wider[1], box[2], box[3]];
    this.show(this.window);
  }

  async send(wider, box) {
    await this.fresh();
    this.tell({ wider: wider.join(" "), window: box ? box.join(" ") : "" });
  }

  widen() {
    this.send(
      this.sides.map((one) => side16(one.value)),
      null,
    );
  }

  pull(event, edge) {
    const n = +edge.dataset.edge;
    const side = this.sides[n];
    const first = +side.value;
    const k = this.scale;
    drag(event, {
      move: (dx, dy) => {
        side.value = Math.min(MOST, Math.max(0, Math.round((first + [-dx, -dy, dx, dy][n] * k) / STEP) * STEP));
        edge.style.setProperty("--out", `${(side.value - first) / k}px`);
        get("wider").open = true;
      },
      end: (moved) => {
        edge.style.removeProperty("--out");
        if (moved) this.widen();
      },
      cancel: () => {
        edge.style.removeProperty("--out");
        side.value = first;
      },
    });
  }

  /**
   * As much wider or higher as a shape takes, the same on both sides; below rather than above, so that heads stay
   * where they are.
   */
  shaped(across, down) {
    const { width, height } = this.canvas;
    const more = (px) => side16(Math.round(px / 2 / STEP) * STEP);
    const [x, y] =
      width / height < across / down
        ? [more((height * across) / down - width), 0]
        : [0, more((width * down) / across - height)];
    [x, y, x, y].forEach((px, n) => {
      this.sides[n].value = px;
    });
    this.widen();
  }

  /** Draws a window, in px of the picture; it may lie half over its edge. place : of a pointer on the picture. */
  draw(event, place) {
    const [x0, y0] = place(event);
    let box = null;
    drag(event, {
      move: (_dx, _dy, e) => {
        const [x, y] = place(e);
        box = [Math.min(x0, x), Math.min(y0, y), Math.abs(x - x0), Math.abs(y - y0)].map(Math.round);
        this.show(box);
      },
      end: () => (box && box[2] > 15 && box[3] > 15 ? this.laid(box) : this.show(this.window)),
      cancel: () => this.show(this.window),
    });
  }

  carry(event) {
    const [x, y, wide, high] = this.window;
    const k = this.scale;
    let box = null;
    drag(event, {
      move: (dx, dy) => {
        box = [Math.round(x + dx * k), Math.round(y + dy * k), wide, high];
        this.show(box);
      },
      end: (moved) => moved && box && this.laid(box),
      cancel: () => this.show(this.window),
    });
  }

  nudge(event) {
    const by = { ArrowLeft: [-STEP, 0], ArrowRight: [STEP, 0], ArrowUp: [0, -STEP], ArrowDown: [0, STEP] }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    const [x, y, wide, high] = this.window;
    this.window = [x + by[0], y + by[1], wide, high];
    this.show(this.window);
    clearTimeout(this.later);
    this.later = setTimeout(() => {
      this.later = 0;
      this.laid(this.window);
    }, 400);
  }

  /** The canvas becomes as much wider as the window lies over the edge. */
  laid([x, y, wide, high]) {
    const { width, height } = this.canvas;
    const over = [-x, -y, x + wide - width, y + high - height].map(side16);
    this.send(over, [x + over[0], y + over[1], wide, high]);
  }

  show(box) {
    const place = get("window");
    place.hidden = !box;
    if (!box) return;
    const { width, height } = this.canvas;
    [place.style.left, place.style.top, place.style.width, place.style.height] = [
      box[0] / width,
      box[1] / height,
      box[2] / width,
      box[3] / height,
    ].map((share) => `${100 * share}%`);
  }
}
