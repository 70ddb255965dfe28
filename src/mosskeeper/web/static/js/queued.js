// Where no live room is free: the picture comes from a worker, after every act that was kept.
import { page } from "./page.js";

const AGAIN = 10_000; // ms until a room is asked for again

export class Queued {
  /** seed() : of the live picture. shown(address, told) : a picture has come. free() : a room may be free by now. */
  constructor(shot, seed, shown, free) {
    Object.assign(this, { shot, seed, shown, free, on: false, later: 0 });
    document.addEventListener("moss:tick", ({ detail }) => {
      if (this.on && (detail.again || detail.hello || (detail.made ?? []).includes(`map live:${shot}:${seed()}`)))
        this.look();
    });
  }

  /** All rooms are taken. */
  begin() {
    this.on = true;
    clearTimeout(this.later);
    this.later = setTimeout(() => {
      this.on = false;
      this.free();
    }, AGAIN);
    this.kept();
  }

  end() {
    this.on = false;
    clearTimeout(this.later);
  }

  /** What the hand did is kept: the picture is asked for. */
  async kept() {
    if (!this.on) return;
    const answer = await fetch(`/shots/${this.shot}/follow/queued?seed=${this.seed()}`, {
      method: "POST",
      headers: { "Moss-Page": page },
    }).catch(() => null);
    if (answer?.status === 204) this.look();
  }

  async look() {
    const seed = this.seed();
    const state = await fetch(`/shots/${this.shot}/follow/queued.json?seed=${seed}`)
      .then((answer) => answer.json())
      .catch(() => null);
    if (!this.on || !state?.of || seed !== this.seed()) return;
    this.shown(`/shots/${this.shot}/follow/queued.png?seed=${seed}&of=${state.of.slice(0, 12)}`, state.told);
    if (!state.now) this.kept(); // something newer was kept meanwhile
  }
}
