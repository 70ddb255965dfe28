// What the studio is told, one act after the other, and what it answers: how the mends stand now.
import { page } from "../page.js";

const headers = { "Moss-Page": page };

export class Studio {
  /** stood(state) : the page takes over how the mends stand. problem(sentence, moved) : what went wrong; "" nothing. */
  constructor(shot, base, state, stood, problem) {
    Object.assign(this, { shot, base, state, stood, problem });
    this.chain = Promise.resolve();
    this.waits = 0;
    this.acts = 0; // that were answered: a reading that was asked for before one of them is old
  }

  /** path : a function of the state, since an act before it may begin the stack or the mend. */
  act(path, body = null) {
    this.waits++;
    this.chain = this.chain.then(() => this.send(path, body)).finally(() => { this.waits--; });
    return this.chain;
  }

  async send(path, body) {
    const parts = typeof body === "function" ? await body(this.state) : body;
    for (let wait = 1; ; wait = Math.min(wait * 2, 16)) {
      const answer = await fetch(path(this.state), { method: "POST", body: parts, headers }).catch(() => null);
      const told = await answer?.json().catch(() => null);
      if (answer?.ok && told) {
        this.problem("");
        this.acts++;
        if (told.html) this.take(told);
        return told;
      }
      if (answer && answer.status < 500) { this.problem(told?.problem ?? "This could not be done. What you chose and typed is still here.", Boolean(told?.moved)); return null; }
      this.problem("The studio does not answer: this is sent again.");
      await new Promise((done) => setTimeout(done, 1000 * wait));
    }
  }

  /** Begins a mend where none is open. */
  async begun() {
    if (!this.state.mend) await this.act(() => `/shots/${this.shot}/mends?base=${this.base}`);
  }

  of(rest) { return (state) => `/stacks/${state.stack}/mends/${state.mend}${rest}`; }

  async read(mend = this.state.mend) {
    const before = this.acts;
    const answer = await fetch(`/shots/${this.shot}/mends.json?base=${this.base}&mend=${mend || (this.state.mend ? "" : "new")}`).catch(() => null);
    const told = answer?.ok ? await answer.json() : null;
    if (told && !this.waits && this.acts === before) this.take(told);
  }

  take(state) {
    this.state = state;
    this.stood(state);
  }
}
