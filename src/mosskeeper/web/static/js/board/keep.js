// What was painted is kept: every act is one step of the shot's history. What is not kept yet survives a reload.
import { page } from "../page.js";
import { adopt } from "../draft.js";
import { asked, sent } from "../sent.js";
import { anew } from "../settled.js";

const headers = { "Moss-Page": page };

/** True where a board that the studio keeps is the one that was sent: it may say more of it. */
function holds(kept, sent) {
  if (typeof sent === "number") return Math.abs(kept - sent) < 1e-3;
  if (typeof sent !== "object" || sent === null) return kept === sent;
  return typeof kept === "object" && kept !== null && (!Array.isArray(sent) || sent.length === kept.length) && Object.keys(sent).every((key) => holds(kept[key], sent[key]));
}

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

  /** What was painted and never kept, by a page that was closed too soon; `older` where the board was changed since, elsewhere. */
  left(now) {
    const found = JSON.parse(localStorage.getItem(this.store) ?? "null");
    if (found && !holds(now, found.board)) return { board: found.board, older: found.base !== this.base };
    this.forget();
    return null;
  }

  forget() { localStorage.removeItem(this.store); }

  /** Keeps the board; acts are kept in the order in which they were made. */
  act(board, over = false) {
    localStorage.setItem(this.store, JSON.stringify({ base: this.base, board }));
    const painted = new Promise((done) => this.canvas.toBlob(done, "image/png"));
    this.waits++;
    this.newest = board;
    this.chain = this.chain.then(async () => this.send(await painted, board, over)).finally(() => { this.waits--; });
    return this.chain;
  }

  async send(picture, board, over) {
    const body = new FormData();
    body.append("picture", picture, "board.png");
    body.append("document", JSON.stringify(board));
    body.append("base", this.base);
    const { refused, told } = await sent(() => `/shots/${this.shot}/board?cue=${this.cue}&over=${over}`, { body, headers, problem: this.problem });
    if (refused) { this.problem(told?.problem ?? "The board could not be kept.", Boolean(told?.moved)); return false; }
    if (this.waits <= 1) this.forget();
    else localStorage.setItem(this.store, JSON.stringify({ base: told.picture, board: this.newest }));
    this.take(told, this.waits <= 1);
    return true;
  }

  /** The page takes over what the studio says of the board; not its pieces, where something was painted since. */
  take(state, pieces = true) {
    this.base = state.picture;
    this.cue = state.cue;
    this.kept(state, pieces);
    adopt(state.revision, state.fields);
  }

  /** The board as it is kept; null where the studio does not answer. */
  async read() {
    const { ok, told } = await asked(`/shots/${this.shot}/board.json`, { method: "GET" });
    return ok ? told : null;
  }

  /** One step back or forth, and what is kept then; a step that was about something else shows the page anew. */
  async walk(way) {
    await this.chain;
    const before = await this.read();
    if (before) await asked(`/shots/${this.shot}/${way}`);
    const now = before && (await this.read());
    if (!now) this.problem("The studio does not answer. Try it again.");
    else if (now.rest !== before.rest) anew();
    else this.take(now);
    return now;
  }
}
