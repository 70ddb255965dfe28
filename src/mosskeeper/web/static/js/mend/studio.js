// @ts-check
// The mends on a picture, as the studio confirmed them and as this page has changed them since.
import { Acts, freshId, Store } from "../acts.js";
import { asked, blobOf, sendAct } from "../ask.js";
import { page } from "../page.js";

/** @typedef {import("../acts.js").Act} Act */

const UNNAMED = "unnamed"; // a mask that is on its way
const numbers = (/** @type {string} */ text) => text.split(" ").map(Number);
/** A mend that was only begun. */
const BEGUN = {
  mask: "",
  wider: [0, 0, 0, 0],
  window: null,
  settled: false,
  fields: { words: "", negative: "", strength: 1, feather: 3, outlines: true, count: 3 },
};

export class Studio {
  /**
   * @param {string} shot @param {string} base  the picture that is mended
   * @param {any} state  as the page came
   * @param {object} page
   * @param {(state: any, act: Act | null) => void} page.stood  how the mends stand now; act: that was confirmed just
   *   now
   * @param {(sentence: string, ways?: { said: string, act: () => void }[]) => void} page.problem
   * @param {(sentence: string) => void} page.moved  another tab changed the mask first
   */
  constructor(shot, base, state, { stood, problem, moved }) {
    this.shot = shot;
    this.base = base;
    this.stood = stood;
    /** @type {Map<string | undefined, string>} of each mend, as confirmed */
    this.masks = new Map();
    /** @type {string} the mend that is open, also where the studio does not know it yet */
    this.open = state.mend;
    this.acts = new Acts({
      state,
      store: new Store(`mends ${shot} ${base.slice(0, 16)}`, page),
      send: (act, path) =>
        sendAct(act, path, ({ kind, of }) => (kind?.startsWith("mask ") && of ? Promise.resolve(maskOf(of)) : null)),
      names: ({ stack }) => ({ stack: String(stack || "") }),
      stands: (_, { kind }) => ({ mask: this.masks.get(kind?.slice("mask ".length)) ?? "" }),
      apply: (now, { kind, of }) => {
        if (kind === "begun") return { ...now, ...BEGUN, mend: of };
        if (kind === `told ${this.open}`) return { ...now, fields: { ...now.fields, ...of } };
        if (kind === `mask ${this.open}`) return { ...now, mask: UNNAMED };
        if (kind === `beyond ${this.open}`)
          return { ...now, wider: numbers(of.wider), window: of.window ? numbers(of.window) : null };
        return now;
      },
      holds: () => false,
      isState: (told) => told.html !== undefined,
      shown: (now, act) => this.take(now, act),
      refused: (sentence, _act, other) => (other ? moved(sentence) : problem(sentence)),
      says: problem,
    });
    this.masks.set(state.mend, state.mask);
  }

  get state() {
    return this.acts.state;
  }

  /** Changes the mend that is open. rest : of the path. more : of the act. */
  mend(/** @type {string} */ rest, /** @type {Omit<Act, "id" | "path">} */ more = {}) {
    return this.acts.do(`/stacks/{stack}/mends/${this.open}${rest}`, more);
  }

  /** Whether what the hand opened is on its way. */
  get masking() {
    return this.acts.waiting.some(({ kind }) => kind === `mask ${this.open}`);
  }

  /** Makes the canvas wider. fields : wider, window, as texts. */
  beyond(/** @type {{ wider: string, window: string }} */ fields) {
    return this.mend("", { form: fields, kind: `beyond ${this.open}`, of: fields });
  }

  /** Keeps what is open. mask : as a data address. over : also where another tab changed it. */
  mask(/** @type {string} */ mask, /** @type {boolean} */ over) {
    return this.mend(`/mask?base={mask}&over=${over}`, { kind: `mask ${this.open}`, of: mask });
  }

  /** Changes the stack. */
  stack(/** @type {string} */ rest) {
    return this.acts.do(`/stacks/{stack}${rest}`);
  }

  /** Begins a mend where none is open. */
  begin() {
    if (!this.open) this.anew();
  }

  /** Begins a mend of its own, and opens it. */
  anew() {
    this.open = freshId();
    return this.acts.do(`/shots/${this.shot}/mends?base=${this.base}&mend=${this.open}`, {
      kind: "begun",
      of: this.open,
    });
  }

  /** Begins a mend that is chosen, worded and run by one press. */
  quick(/** @type {string} */ key) {
    const fresh = freshId();
    return this.acts.do(
      `/shots/${this.shot}/mends/quick?base=${this.base}&mend=${fresh}&key=${encodeURIComponent(key)}`,
      { kind: "quick", of: fresh },
    );
  }

  async read(mend = this.open) {
    this.open = mend;
    return this.acts.read(async () => {
      const { ok, told } = await asked(`/shots/${this.shot}/mends.json?base=${this.base}&mend=${mend || "new"}`, {
        method: "GET",
      });
      return ok && this.open === mend ? told : null;
    });
  }

  take(/** @type {any} */ state, /** @type {Act | null} */ act) {
    const told = this.acts.confirmed;
    this.masks.set(told.mend, told.mask);
    if (act?.kind === "quick") this.open = act.of;
    if (!this.acts.waiting.length) this.open = state.mend; // the studio opens another where that one was taken off
    if (state.mend === this.open) this.stood(state, act);
  }
}

function maskOf(/** @type {string} */ address) {
  const body = new FormData();
  body.append("mask", blobOf(address), "mask.png");
  return body;
}
