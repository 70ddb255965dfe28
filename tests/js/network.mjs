// A simulated studio and a network that loses, delays, reorders and repeats, on a clock that tests move.

/** Numbers 0…1 that are the same for the same seed. */
export function random(seed) {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** Time that passes only where a test lets it: what waits is called in the order in which it is due. */
export class Clock {
  constructor() {
    Object.assign(this, { now: 0, due: [] });
  }

  wait(ms) {
    return new Promise((done) => this.due.push({ at: this.now + ms, done }));
  }

  /** Lets time pass until nothing waits any more, or `until` holds. */
  async run(until = () => false) {
    for (let k = 0; k < 100_000; k++) {
      for (let n = 0; n < 12; n++) await null; // what was resolved goes on
      if (until() || !this.due.length) return;
      this.due.sort((a, b) => a.at - b.at);
      const next = this.due.shift();
      this.now = Math.max(this.now, next.at);
      next.done();
    }
    throw new Error("this never ends");
  }
}

/** A studio that carries each act out once: things by their names, and how often each act was carried out. */
export class Studio {
  constructor() {
    Object.assign(this, { things: {}, revision: 0, done: new Map(), refuses: () => null });
  }

  get state() {
    return { things: { ...this.things }, revision: this.revision };
  }

  take(act, path) {
    const before = this.done.get(act.id);
    if (before !== undefined)
      return before.refused ? before.refused : { status: 200, told: { ...this.state, again: true } };
    const base = new URLSearchParams(path.split("?")[1]).get("base");
    let refused = this.refuses(act);
    if (!refused && base !== null && base !== String(this.things[act.of.name] ?? "")) {
      refused = { status: 409, told: { problem: "changed elsewhere", moved: true } };
    }
    if (refused?.status >= 500) return refused; // nothing was changed, and nothing is noted
    this.done.set(act.id, { refused });
    if (refused) return refused;
    this.revision++;
    this.things[act.of.name] = act.of.value;
    return { status: 200, told: this.state };
  }
}

/** The way to a studio. chance : { lost, answerLost, twice, slow }, shares of requests. */
export class Network {
  constructor(studio, clock, number, chance = {}) {
    Object.assign(this, { studio, clock, number, chance, sent: 0, away: false });
  }

  delay() {
    return 1 + this.number() * (this.number() < (this.chance.slow ?? 0) ? 5000 : 100);
  }

  async send(act, path) {
    this.sent++;
    await this.clock.wait(this.delay());
    const { lost = 0, answerLost = 0, twice = 0 } = this.chance;
    if (this.away || this.number() < lost)
      return { status: [0, 502, 503, 504][Math.floor(this.number() * 4)], told: null };
    const answer = this.studio.take(act, path);
    // a proxy that repeats
    if (this.number() < twice) this.clock.wait(this.delay()).then(() => this.studio.take(act, path));
    await this.clock.wait(this.delay());
    return this.number() < answerLost ? { status: 0, told: null } : answer;
  }
}

/** What a browser keeps for all its tabs. */
export class Browser {
  constructor() {
    this.held = new Set();
    const browser = this;
    this.storage = new Proxy(
      {},
      {
        get: (kept, name) =>
          ({
            getItem: (key) => kept[key] ?? null,
            setItem: (key, value) => {
              kept[key] = value;
            },
            removeItem: (key) => {
              delete kept[key];
            },
          })[name] ?? kept[name],
      },
    );
    this.locks = {
      async request(name, options, take = options) {
        if (options.ifAvailable) {
          await take(browser.held.has(name) ? null : { name });
          return;
        }
        browser.held.add(name);
        take({ name });
      },
    };
  }

  /** A tab is closed, or its process killed. */
  close(store) {
    this.held.delete(store.name);
  }
}
