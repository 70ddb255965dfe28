// @ts-check
// Acts: edits that a page sends to the studio, one after the other, each carried out once. What is not confirmed yet
// stays in the browser's storage, so that it outlives the page; the studio knows by its id an act that it has carried
// out already.
//
// What a page shows is the last state that the studio confirmed, with the acts that are not confirmed yet applied to
// it again.

/**
 * @typedef {object} Act
 * @property {string} id  a UUID
 * @property {string} path  of the request; {names} in it are filled in when it is sent, from what is confirmed by then
 * @property {Record<string, string>} [form]  fields of the request
 * @property {unknown} [json]  or its body as JSON
 * @property {string} [kind]  of what it changes: by this it is applied before it is confirmed
 * @property {any} [of]  what it changes it to; whatever JSON can hold
 * @property {Record<string, string>} [on]  {names} of what the act was made on: of a page that is gone they stay as
 *   they were
 * @property {string} [defect]  the sentence of a defect of the studio that it met: it is left aside until the artist
 *   decides
 */

/**
 * @typedef {object} Answer
 * @property {number} status  of HTTP; 0 where none came
 * @property {any} told  its JSON; null where it has none
 */

const AWAY = new Set([0, 502, 503, 504]); // of a studio that is starting, full, or cannot be reached
const TRIES = 10; // with longer and longer waits: about two minutes
const LONGEST = 16_000; // ms between two tries
const GOING = 2000; // ms that a page may take to go
const MOST_NAMED = 40; // confirmed acts that a run names

export const DOES_NOT_ANSWER = "The studio does not answer: what you did is kept here, and sent again.";
export const GIVEN_UP = "The studio does not answer. What you did is kept in this browser.";
const DEFECT = "The studio could not do this: that is a defect, and its log says more.";
const REFUSED = "This could not be done. What you did is still on the page.";

/** A fresh id of a thing that this page makes: a region, a mend. */
export function freshId() {
  const [a, b] = crypto.getRandomValues(new Uint32Array(2));
  return `${a.toString(36)}${b.toString(36)}`.slice(0, 12);
}

/** @param {string} path @param {Record<string, string>} names */
export const filled = (path, names) => path.replace(/\{(\w+)\}/g, (_, name) => encodeURIComponent(names[name] ?? ""));

/** @type {Set<Acts>} */
const every = new Set();

/** Ids of the last acts of this page that were confirmed: a run names them. */
export const confirmed = () => [...every].flatMap((acts) => acts.named);

export class Acts {
  /**
   * @param {object} options
   * @param {any} options.state  that the studio confirmed, as the page came
   * @param {(act: Act, path: string) => Promise<Answer>} options.send  one request; never throws
   * @param {{ save: (acts: Act[]) => void, left: () => Promise<Act[]> }} options.store  of what is not confirmed
   * @param {(state: any, act: Act) => any} [options.apply]  the state with an act that is not confirmed yet
   * @param {(state: any) => Record<string, string>} [options.names]  {names} of where things are now
   * @param {(state: any, act: Act) => Record<string, string>} [options.stands]  {names} of what an act is made on
   * @param {(state: any, act: Act) => boolean} [options.holds]  whether a state is the one that an act led to
   * @param {(told: any) => boolean} [options.isState]  whether an answer tells a state
   * @param {(told: any, act: Act | null) => void} [options.shown]  the state has changed; act : that was confirmed
   * @param {(sentence: string, act: Act, moved: boolean) => void} [options.refused]  an act was refused, and is gone
   * @param {(sentence: string, ways: { said: string, act: () => void }[]) => void} [options.says]  "" where all is
   *   well again
   * @param {(ms: number) => Promise<void>} [options.wait]
   */
  constructor({
    state,
    send,
    store,
    apply = (now) => now,
    names = () => ({}),
    stands = () => ({}),
    holds = () => true,
    isState = () => true,
    shown = () => {},
    refused = () => {},
    says = () => {},
    wait = (ms) => new Promise((done) => setTimeout(done, ms)),
  }) {
    this.send = send;
    this.store = store;
    this.apply = apply;
    this.names = names;
    this.stands = stands;
    this.holds = holds;
    this.isState = isState;
    this.onShown = shown;
    this.onRefused = refused;
    this.says = says;
    this.wait = wait;
    this.confirmed = state;
    /** @type {Act[]} */
    this.queue = [];
    /** @type {Map<string, (told: any) => void>} */
    this.ends = new Map();
    /**
     * @type {Set<string>} acts of a page that is gone, or made after one whose answer may be old: they keep what they
     *   were made on
     */
    this.late = new Set();
    /** @type {string[]} */
    this.named = [];
    this.answers = 0; // a reading that was asked for before one of them is old
    this.sending = false;
    this.troubled = false;
    every.add(this);
  }

  /** What the page shows: what is confirmed, and what the hand did since. */
  get state() {
    return this.queue.reduce((state, act) => this.apply(state, act), this.confirmed);
  }

  /** Acts that are on their way; not those left aside after a defect. */
  get waiting() {
    return this.queue.filter((act) => !act.defect);
  }

  /**
   * Does an act. Resolves to what the studio tells, or to null where it was refused or left aside.
   * @param {string} path @param {Omit<Act, "id" | "path">} [more]
   */
  do(path, more = {}) {
    /** @type {Act} */
    const act = { id: crypto.randomUUID(), path, ...more };
    act.on = this.stands(this.confirmed, act);
    this.queue.push(act);
    const end = new Promise((done) => this.ends.set(act.id, done));
    this.save();
    this.onShown(this.state, null);
    this.pump();
    return end;
  }

  /** Null where nothing is on its way; else whether all that is on its way now will have been confirmed. */
  settled() {
    const now = this.waiting;
    if (!now.length) return null;
    this.pump(); // where it was given up for a while
    const all = now.map(
      (act) =>
        new Promise((done) => {
          const before = this.ends.get(act.id);
          this.ends.set(act.id, (told) => {
            before?.(told);
            done(told !== null);
          });
        }),
    );
    return Promise.all(all).then((done) => done.every(Boolean));
  }

  /** Reads the state anew, unless something is done or answered meanwhile: then what was read is old. */
  async read(/** @type {() => Promise<any>} */ ask) {
    const before = this.answers;
    const told = await ask();
    if (told && !this.waiting.length && this.answers === before) this.take(told);
    return told;
  }

  /** The page takes over a state that the studio told. */
  take(/** @type {any} */ told, /** @type {Act | null} */ act = null) {
    this.confirmed = told;
    this.save();
    this.onShown(this.state, act);
  }

  /** Takes up what pages that are gone had not confirmed; again a moment later, for one that is only just going. */
  async adopt() {
    await this.takeUp();
    this.wait(GOING).then(() => this.takeUp());
  }

  async takeUp() {
    const left = (await this.store.left()).filter((act) => this.queue.every(({ id }) => id !== act.id));
    if (!left.length) return;
    for (const act of left) this.late.add(act.id);
    this.queue.unshift(...left);
    this.save();
    this.onShown(this.state, null);
    this.pump();
  }

  /** What was left aside, or given up for a while, is sent again. */
  again() {
    for (const act of this.queue) delete act.defect;
    this.save();
    this.pump();
  }

  /** An act that met a defect is given up for good. */
  leaveOut(/** @type {string} */ id) {
    this.queue = this.queue.filter((act) => act.id !== id);
    this.save();
    this.says("", []);
    this.onShown(this.state, null);
  }

  save() {
    for (const act of this.queue) if (!this.late.has(act.id)) act.on = this.stands(this.confirmed, act);
    this.store.save(this.queue);
  }

  async pump() {
    if (this.sending) return;
    this.sending = true;
    for (let act = this.waiting[0]; act; act = this.waiting[0]) {
      const answer = await this.tried(act);
      if (!answer) break;
      this.answered(act, answer);
    }
    this.sending = false;
  }

  /** Sends an act until something answers; null where nothing did for so long that the artist should know. */
  async tried(/** @type {Act} */ act) {
    for (let k = 0; k < TRIES; k++) {
      const stands = this.late.has(act.id) ? act.on : this.stands(this.confirmed, act);
      const answer = await this.send(act, filled(act.path, { ...this.names(this.confirmed), ...stands }));
      if (!AWAY.has(answer.status) && (answer.told || answer.status >= 300)) {
        if (this.troubled) this.says("", []);
        this.troubled = false;
        return answer;
      }
      this.troubled = true;
      this.says(DOES_NOT_ANSWER, []);
      await this.wait(Math.min(1000 * 2 ** k, LONGEST));
    }
    this.says(GIVEN_UP, [{ said: "try again", act: () => this.again() }]);
    return null;
  }

  answered(/** @type {Act} */ act, /** @type {Answer} */ answer) {
    this.answers++;
    if (answer.status >= 500) this.leftAside(act, answer);
    else if (answer.status >= 300) this.wasRefused(act, answer);
    else this.wasDone(act, answer);
  }

  /** A defect of the studio: the act stays here, and blocks nothing. */
  leftAside(/** @type {Act} */ act, /** @type {Answer} */ { told }) {
    act.defect = told?.problem ?? DEFECT;
    this.save();
    this.end(act, null);
    this.says(act.defect ?? DEFECT, [
      { said: "try it again", act: () => this.again() },
      { said: "leave it out", act: () => this.leaveOut(act.id) },
    ]);
  }

  wasRefused(/** @type {Act} */ act, /** @type {Answer} */ { told }) {
    const moved = Boolean(told?.moved);
    this.remove(act);
    if (moved) this.dropAfter(act); // they stood on it
    this.save();
    this.onShown(this.state, null);
    this.onRefused(told?.problem ?? REFUSED, act, moved);
    this.end(act, null);
  }

  wasDone(/** @type {Act} */ act, /** @type {Answer} */ { told }) {
    const late = this.remove(act);
    this.named = [...this.named, act.id].slice(-MOST_NAMED);
    // Of an act that had arrived before, the answer tells the state of now. Where somebody changed it since, what was
    // made on the act must not pass as made on that.
    const older = told.again && !this.holds(told, act);
    for (const { id } of this.queue.filter(({ kind }) => kind && kind === act.kind)) {
      if (older) this.late.add(id);
      else if (late) this.late.delete(id);
    }
    if (this.isState(told)) this.take(told, act);
    else this.save();
    this.end(act, told);
  }

  /** Takes an act out of the queue; whether it was one of a page that is gone. */
  remove(/** @type {Act} */ act) {
    this.queue = this.queue.filter((one) => one !== act);
    return this.late.delete(act.id);
  }

  dropAfter(/** @type {Act} */ act) {
    const gone = this.queue.filter((one) => one.kind === act.kind && one.kind);
    this.queue = this.queue.filter((one) => !gone.includes(one));
    for (const one of gone) this.end(one, null);
  }

  end(/** @type {Act} */ act, /** @type {any} */ told) {
    this.ends.get(act.id)?.(told);
    this.ends.delete(act.id);
  }
}

/** Keeps acts in a storage of the browser by page; acts of pages that are gone are found by their locks being free. */
export class Store {
  /**
   * @param {string} key  of what is edited, one of its kind in a browser
   * @param {string} page  that edits it
   * @param {Storage} [storage] @param {LockManager | undefined} [locks]
   */
  constructor(key, page, storage = localStorage, locks = navigator.locks) {
    this.storage = storage;
    this.locks = locks;
    this.prefix = `moss-acts ${key} `;
    this.name = this.prefix + page;
    locks?.request(this.name, () => new Promise(() => {})); // while the page lives
  }

  save(/** @type {Act[]} */ acts) {
    if (!acts.length) this.storage.removeItem(this.name);
    else {
      try {
        this.storage.setItem(this.name, JSON.stringify(acts));
      } catch {
        /* the storage is full: what was done is kept by this page alone, and sent by it */
      }
    }
  }

  /**
   * What pages that are gone left. Without locks also what another page may be sending: the studio carries it out
   * once.
   */
  async left() {
    /** @type {Act[]} */
    const acts = [];
    for (const name of Object.keys(this.storage).filter((one) => one.startsWith(this.prefix) && one !== this.name)) {
      const take = (/** @type {unknown} */ lock) => {
        if (!lock) return;
        acts.push(...JSON.parse(this.storage.getItem(name) ?? "[]"));
        this.storage.removeItem(name);
      };
      if (this.locks) await this.locks.request(name, { ifAvailable: true }, take);
      else take(true);
    }
    return acts;
  }
}

// -- runs and ways to other pages ------------------------------------------------------------------------------------

const GOES_ON = "#run, a[href], [formaction]";
/** @type {Set<() => Promise<boolean> | null>} */
const gates = new Set();
let passes = false;
let leaves = false;

/**
 * Lets runs and ways to other pages wait for what the hand did a moment ago.
 * @param {() => Promise<boolean> | null} settled  null where nothing waits; else whether all was kept: where it was
 *   not, that is
 *   told, and nothing goes on
 */
export function goesOnOnce(settled) {
  if (!gates.size) {
    document.addEventListener("click", hold, true);
    addEventListener("beforeunload", (event) => {
      if (!leaves && waits()) event.preventDefault();
    });
  }
  gates.add(settled);
}

function waits() {
  const all = [...gates].map((settled) => settled()).filter((one) => one !== null);
  return all.length ? Promise.all(all).then((done) => done.every(Boolean)) : null;
}

async function hold(/** @type {MouseEvent} */ event) {
  const way = /** @type {HTMLElement | null} */ (/** @type {Element} */ (event.target).closest?.(GOES_ON));
  const settled = !way || passes || event.ctrlKey || event.metaKey || event.shiftKey ? null : waits();
  if (!way || !settled) return;
  event.preventDefault();
  event.stopImmediatePropagation();
  if (!(await settled)) return;
  passes = true;
  way.click();
  passes = false;
}

/**
 * Shows the page anew, whatever it still waits for: what is not confirmed stays in the browser, and is sent by the
 * new page.
 */
export function anew() {
  leaves = true;
  location.reload();
}
