// @ts-check
// What was painted is kept: every act of the hand is one step of the shot's history, with the whole board as it is
// after it.
import { Acts, anew, Store } from "../acts.js";
import { asked, sendAct } from "../ask.js";
import { sheet } from "../canvas.js";
import { adopt } from "../draft.js";
import { page } from "../page.js";
import { draw, loaded } from "./pieces.js";

/** @typedef {{ pieces: import("./pieces.js").Piece[], pots?: Record<string, string> }} Board */
/**
 * @typedef {{ picture: string, cue: string, board: Board, rest: string, revision: number, fields: object }} State
 *   and what pages show
 */

/**
 * True where a board that the studio keeps is the one that was sent: it may say more of it.
 * @type {(kept: any, sent: any) => boolean}
 */
function holds(kept, sent) {
  if (typeof sent === "number") return Math.abs(kept - sent) < 1e-3;
  if (typeof sent !== "object" || sent === null) return kept === sent;
  if (typeof kept !== "object" || kept === null || (Array.isArray(sent) && sent.length !== kept.length)) return false;
  return Object.keys(sent).every((key) => holds(kept[key], sent[key]));
}

export class Kept {
  /**
   * @param {string} shot @param {[number, number]} size  width and height of the board
   * @param {State} state  as the page came
   * @param {object} page
   * @param {(state: State, own: boolean) => void} page.shown  what the studio says of the board; own: nothing painted
   *   is on its way
   * @param {(sentence: string, ways?: { said: string, act: () => void }[]) => void} page.problem
   * @param {(sentence: string, board: Board) => void} page.moved  another tab was first; board: what was painted here
   */
  constructor(shot, size, state, { shown, problem, moved }) {
    this.shot = shot;
    this.size = size;
    this.problem = problem;
    this.shown = shown;
    /** @type {Board | undefined} that this page painted last */
    this.newest = undefined;
    this.acts = new Acts({
      state,
      store: new Store(`board ${shot}`, page),
      send: (act, path) => sendAct(act, path, (one) => (one.kind === "board" ? this.body(one) : null)),
      names: ({ cue }) => ({ cue }),
      stands: ({ picture }) => ({ base: picture }),
      apply: (now, { kind, of }) => (kind === "board" ? { ...now, board: of } : now),
      holds: (now, { kind, of }) => kind !== "board" || holds(now.board, of),
      isState: (told) => told.board !== undefined,
      shown: (now, act) => {
        if (act || !this.acts.waiting.length) this.take(now);
      },
      refused: (sentence, act, other) => {
        if (other) moved(sentence, this.newest ?? act.of);
        else problem(sentence);
      },
      says: problem,
    });
  }

  get base() {
    return this.acts.confirmed.picture;
  }

  get cue() {
    return this.acts.confirmed.cue;
  }

  /** What was painted and is not confirmed: by this page, or by one that is gone. Null where there is nothing. */
  get unconfirmed() {
    return this.acts.waiting.findLast(({ kind }) => kind === "board")?.of ?? null;
  }

  /** Keeps the board; over : lay it over whatever another page made of it. @param {Board} board */
  act(board, over = false) {
    this.newest = board;
    return this.acts.do(`/shots/${this.shot}/board?cue={cue}&base={base}&over=${over}`, { kind: "board", of: board });
  }

  /** Does something else to the board: chooses its place, its surface, what a shape is. */
  do(/** @type {string} */ path) {
    return this.acts.do(`/shots/${this.shot}/board/${path}`);
  }

  /** A board as the studio takes it: its picture, painted from its pieces, and its pieces. */
  async body(/** @type {import("../acts.js").Act} */ act) {
    /** @type {Board} */
    const board = act.of;
    const [canvas, pen] = sheet(...this.size);
    await loaded(board.pieces);
    for (const piece of board.pieces) draw(pen, piece);
    const body = new FormData();
    const painted = await new Promise((done) => canvas.toBlob(done, "image/png"));
    body.append("picture", painted, "board.png");
    body.append("document", JSON.stringify(board));
    return body;
  }

  take(/** @type {State} */ state) {
    this.shown(state, this.unconfirmed === null);
    adopt(this.acts.confirmed.revision, this.acts.confirmed.fields);
  }

  settled() {
    return this.acts.settled();
  }

  /** The board as it is kept; null where the studio does not answer. */
  async read() {
    const { ok, told } = await asked(`/shots/${this.shot}/board.json`, { method: "GET" });
    return ok ? told : null;
  }

  /** One step back or forth, and what is kept then; a step that was about something else shows the page anew. */
  async walk(/** @type {"undo" | "redo"} */ way) {
    await this.settled();
    const before = await this.read();
    if (before) await asked(`/shots/${this.shot}/${way}`);
    const now = before && (await this.read());
    if (!now) this.problem("The studio does not answer. Try it again.");
    else if (now.rest !== before.rest) anew();
    else this.acts.take(now);
    return now;
  }
}
