// The picture follows the hand: changed rectangles go up, at most a few at once, and the newest picture comes down.
import { page } from "../page.js";
import { Queued } from "../queued.js";

const MOST = 2; // under way at once: more would only wait in line
const RESTS = 700; // ms without a new picture, after which the last one is noted
const AGAIN = 2500; // ms until a room is asked for again

export class Follow {
  /**
   * canvas : the board. asked() : { cue, weight, seed }. shown(url, told, note) : with every new picture. says(state,
   * problem).
   */
  constructor(canvas, shot, asked, shown, says, rests = () => true) {
    Object.assign(this, { canvas, shot, asked, shown, says, rests });
    this.dirty = null; // x0, y0, x1, y1
    this.wanted = false; // something other than the board changed
    this.flying = 0;
    this.sent = 0;
    this.last = 0;
    this.waiting = 0;
    this.lost = 0;
    this.unseen = false; // the picture that is shown has not been noted
    this.queued = new Queued(
      shot,
      () => asked().seed,
      shown,
      () => this.whole(),
    );
    addEventListener("pagehide", () => navigator.sendBeacon(`/shots/${shot}/follow/leave?page=${page}`));
    addEventListener("pageshow", (event) => event.persisted && this.whole());
  }

  /** Something was painted in a rectangle; null: everywhere. */
  painted(x0, y0, x1, y1) {
    const { width, height } = this.canvas;
    const box = [
      Math.max(0, Math.floor(x0)),
      Math.max(0, Math.floor(y0)),
      Math.min(width, Math.ceil(x1)),
      Math.min(height, Math.ceil(y1)),
    ];
    if (box[2] <= box[0] || box[3] <= box[1]) return;
    const d = this.dirty;
    this.dirty = d
      ? [Math.min(d[0], box[0]), Math.min(d[1], box[1]), Math.max(d[2], box[2]), Math.max(d[3], box[3])]
      : box;
    this.soon();
  }

  whole() {
    this.painted(0, 0, this.canvas.width, this.canvas.height);
  }

  /** What is seen is noted, once hand and pictures rest: it can be found again without having been kept. */
  seen() {
    clearTimeout(this.resting);
    if (!this.asked().cue) return; // noted when the board is kept, which makes its cue
    this.resting = setTimeout(() => {
      if (this.flying || this.dirty || !this.rests()) this.seen();
      else {
        this.unseen = false;
        fetch(`/shots/${this.shot}/seen-live?seed=${this.asked().seed}`, {
          method: "POST",
          headers: { "Moss-Page": page },
        }).catch(() => null);
      }
    }, RESTS);
  }

  /** What the hand did is kept: where no room is free, a worker shows it; a picture that came before is noted now. */
  kept() {
    this.queued.kept();
    if (this.unseen) this.seen();
  }

  /** Words, weight or seed changed: the picture is asked for anew. */
  anew() {
    this.wanted = true;
    this.soon();
  }

  soon() {
    this.frame ??= requestAnimationFrame(() => {
      this.frame = null;
      this.send();
    });
  }

  async send() {
    if (!(this.dirty || this.wanted) || this.flying >= MOST || this.waiting || this.queued.on) return;
    const box = this.dirty ?? [0, 0, 0, 0];
    this.dirty = null;
    this.wanted = false;
    const [x, y, w, h] = [box[0], box[1], box[2] - box[0], box[3] - box[1]];
    const body = w ? this.canvas.getContext("2d").getImageData(x, y, w, h).data : new Uint8Array();
    const number = ++this.sent;
    const { cue, weight, seed } = this.asked();
    const query = new URLSearchParams({
      width: this.canvas.width,
      height: this.canvas.height,
      x,
      y,
      w,
      h,
      cue,
      weight,
      seed,
    });
    this.flying++;
    try {
      const answer = await fetch(`/shots/${this.shot}/follow?${query}`, {
        method: "POST",
        body,
        headers: { "Moss-Page": page, "Content-Type": "application/octet-stream" },
      });
      await this.take(answer, number);
    } catch {
      this.later("the studio does not answer: the board is kept here");
    }
    this.flying--;
    if (this.dirty || this.wanted) this.soon();
  }

  async take(answer, number) {
    if (answer.status === 200) {
      if (number < this.last) return;
      this.last = number;
      this.lost = 0;
      this.queued.end();
      const told = JSON.parse(decodeURIComponent(answer.headers.get("Moss-Told") ?? "%5B%5D"));
      this.shown(URL.createObjectURL(await answer.blob()), told);
      this.says(decodeURIComponent(answer.headers.get("Moss-Note") ?? "") || "follows the hand");
      this.unseen = true;
      this.seen();
    } else if (answer.status === 409) {
      if (++this.lost > 2) this.later("the live picture stopped: it is begun anew");
      else this.whole();
    } else if (answer.status === 503) {
      this.says((await answer.json()).problem);
      this.queued.begin();
    } else if (answer.status !== 204)
      this.says((await answer.json().catch(() => ({}))).problem ?? "this board could not be followed just now");
  }

  /** All of it again, by and by. */
  later(sentence) {
    this.says(sentence);
    clearTimeout(this.waiting);
    this.waiting = setTimeout(() => {
      this.waiting = 0;
      this.whole();
    }, AGAIN);
  }
}
