// What was painted is kept: every act is one step of the shot's history. What is not kept yet survives a reload.
import { page } from "../page.js";
import { adopt } from "../draft.js";

const headers = { "Moss-Page": page };

export class Keep {
  /** state : { picture, cue } as the page came. problem(sentence, moved) tells what went wrong. */
  constructor(shot, canvas, state, problem, kept) {
    Object.assign(this, { shot, canvas, problem, kept });
    this.base = state.picture;
    this.cue = state.cue;
    this.chain = Promise.resolve();
    this.waits = 0;
    this.store = `moss-board-${shot}`;
  }

  /** What was painted and never kept, by a page that was closed too soon. */
  left() {
    const found = JSON.parse(localStorage.getItem(this.store) ?? "null");
    return found && found.base === this.base ? found.board : null;
  }

  /** Keeps the board; acts are kept in the order in which they were made. */
  act(board, over = false) {
    localStorage.setItem(this.store, JSON.stringify({ base: this.base, board }));
    const painted = new Promise((done) => this.canvas.toBlob(done, "image/png"));
    this.waits++;
    this.chain = this.chain.then(async () => this.send(await painted, board, over)).finally(() => { this.waits--; });
    return this.chain;
  }

  async send(picture, board, over) {
    const body = new FormData();
    body.append("picture", picture, "board.png");
    body.append("document", JSON.stringify(board));
    body.append("base", this.base);
    for (let wait = 1; ; wait = Math.min(wait * 2, 16)) {
      const answer = await fetch(`/shots/${this.shot}/board?cue=${this.cue}&over=${over}`, { method: "POST", body, headers }).catch(() => null);
      const told = await answer?.json().catch(() => null);
      if (answer?.status === 200) {
        if (this.waits <= 1) localStorage.removeItem(this.store);
        this.take(told, this.waits <= 1);
        this.problem("");
        return;
      }
      if (answer && answer.status < 500) { this.problem(told?.problem ?? "The board could not be kept.", Boolean(told?.moved)); return; }
      this.problem("The studio does not answer: the board is kept here, and sent again.");
      await new Promise((done) => setTimeout(done, 1000 * wait));
    }
  }

  /** The page takes over what the studio says of the board; not its pieces, where something was painted since. */
  take(state, pieces = true) {
    this.base = state.picture;
    this.cue = state.cue;
    this.kept(state, pieces);
    adopt(state.revision, state.fields);
  }

  async read() { return (await fetch(`/shots/${this.shot}/board.json`)).json(); }

  /** One step back or forth; a step that was about something else shows the page anew. */
  async walk(way) {
    await this.chain;
    const before = await this.read();
    await fetch(`/shots/${this.shot}/${way}`, { method: "POST", headers });
    const now = await this.read();
    if (now.rest !== before.rest) location.reload();
    else this.take(now);
    return now;
  }
}
