// What the studio is told, one act after the other, and what it answers: how the mends stand now.
import { page } from "../page.js";
import { sent } from "../sent.js";

const headers = { "Moss-Page": page };

export class Studio {
  /** stood(state) : the page takes over how the mends stand. problem(sentence, moved) : what went wrong; "" nothing. */
  constructor(shot, base, state, stood, problem) {
    Object.assign(this, { shot, base, state, stood, problem });
    this.chain = Promise.resolve();
    this.waits = 0;
    this.beginning = null; // of a mend that the studio has not named yet
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
    const { refused, told } = await sent(() => path(this.state), { body: parts, headers, problem: this.problem });
    if (refused) { this.problem(told?.problem ?? "This could not be done. What you chose and typed is still here.", Boolean(told?.moved)); return null; }
    this.acts++;
    if (told.html) this.take(told);
    return told;
  }

  /** Begins a mend where none is open; whoever asks meanwhile waits for the same one. */
  async begun() {
    if (this.beginning || !this.state.mend) await this.anew();
  }

  /** Begins a mend of its own. What is typed until it is there is meant for it. */
  anew() {
    this.beginning ??= this.act(() => `/shots/${this.shot}/mends?base=${this.base}`).finally(() => { this.beginning = null; });
    return this.beginning;
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
