// Acts: carried out once and in order, whatever the network does, also for a page that is gone.
import assert from "node:assert/strict";
import { test } from "node:test";
import { Acts, DOES_NOT_ANSWER, filled, freshId, GIVEN_UP, Store } from "../../src/mosskeeper/web/static/js/acts.js";
import { Browser, Clock, Network, random, Studio } from "./network.mjs";

const applied = (state, { of }) => ({ ...state, things: { ...state.things, [of.name]: of.value } });

function page(studio, clock, network, { browser = new Browser(), name = "page", ...more } = {}) {
  const told = { shown: [], refused: [], says: [] };
  const store = new Store("test", name, browser.storage, browser.locks);
  const acts = new Acts({
    state: studio.state,
    store,
    send: (act, path) => network.send(act, path),
    wait: (ms) => clock.wait(ms),
    apply: applied,
    shown: (state) => told.shown.push(state),
    refused: (sentence, act, moved) => told.refused.push({ sentence, act, moved }),
    says: (sentence, ways) => told.says.push({ sentence, ways }),
    ...more,
  });
  return { acts, told, store, browser };
}

function quiet() {
  const [studio, clock] = [new Studio(), new Clock()];
  return { studio, clock, network: new Network(studio, clock, random(1)) };
}

const set = (acts, name, value, path = "/set") => acts.do(path, { kind: `set ${name}`, of: { name, value } });

test("what the hand did shows at once, and is confirmed in order", async () => {
  const { studio, clock, network } = quiet();
  const { acts } = page(studio, clock, network);
  const first = set(acts, "a", 1);
  set(acts, "a", 2);
  set(acts, "b", 3);
  assert.deepEqual(acts.state.things, { a: 2, b: 3 });
  assert.deepEqual(acts.confirmed.things, {});
  await clock.run();
  assert.equal((await first).revision, 1);
  assert.deepEqual(studio.things, { a: 2, b: 3 });
  assert.equal(acts.settled(), null);
  assert.equal(acts.named.length, 3);
});

test("an answer that tells an older state does not take away what was done since", async () => {
  const { studio, clock, network } = quiet();
  const { acts, told } = page(studio, clock, network);
  set(acts, "a", 1);
  await clock.run(() => network.sent === 1);
  set(acts, "a", 2);
  await clock.run(() => acts.confirmed.things.a === 1);
  assert.equal(acts.state.things.a, 2);
  assert.ok(told.shown.every(({ things }) => things.a !== undefined));
  await clock.run();
  assert.equal(acts.confirmed.things.a, 2);
});

test("where nothing answers it is said, tried with longer waits, given up, and sent again on demand", async () => {
  const { studio, clock, network } = quiet();
  network.away = true;
  const { acts, told } = page(studio, clock, network);
  const done = set(acts, "a", 1);
  await clock.run();
  assert.equal(told.says[0].sentence, DOES_NOT_ANSWER);
  const last = told.says.at(-1);
  assert.equal(last.sentence, GIVEN_UP);
  assert.equal(network.sent, 10);
  assert.ok(clock.now > 60_000);
  assert.deepEqual(acts.state.things, { a: 1 });
  network.away = false;
  last.ways[0].act();
  await clock.run();
  assert.equal((await done).things.a, 1);
  assert.equal(told.says.at(-1).sentence, "");
});

test("what was given up is sent again when something waits for it", async () => {
  const { studio, clock, network } = quiet();
  network.away = true;
  const { acts } = page(studio, clock, network);
  set(acts, "a", 1);
  await clock.run();
  network.away = false;
  const settled = acts.settled();
  await clock.run();
  assert.equal(await settled, true);
  assert.deepEqual(studio.things, { a: 1 });
});

test("what a page did that only goes while the next one comes is taken up a moment later", async () => {
  const { studio, clock, network } = quiet();
  const browser = new Browser();
  const going = page(studio, clock, network, { browser, name: "going" });
  going.acts.send = () => new Promise(() => {});
  set(going.acts, "a", 1);
  const next = page(studio, clock, network, { browser, name: "next" });
  await next.acts.adopt();
  browser.close(going.store);
  await clock.run();
  assert.deepEqual(studio.things, { a: 1 });
});

test("a refused act is told and gone, and what comes after it goes on", async () => {
  const { studio, clock, network } = quiet();
  studio.refuses = ({ of }) => (of.value === "bad" ? { status: 422, told: { problem: "not this" } } : null);
  const { acts, told } = page(studio, clock, network);
  const bad = set(acts, "a", "bad");
  set(acts, "b", 1);
  const settled = acts.settled();
  await clock.run();
  assert.equal(await bad, null);
  assert.equal(await settled, false);
  assert.deepEqual(
    told.refused.map(({ sentence, moved }) => [sentence, moved]),
    [["not this", false]],
  );
  assert.deepEqual(acts.state.things, { b: 1 });
});

test("a defect is left aside, blocks nothing, and can be tried again or left out", async () => {
  const { studio, clock, network } = quiet();
  let broken = true;
  studio.refuses = ({ of }) =>
    of.name === "a" && broken ? { status: 500, told: { problem: "defect 12ab", defect: "12ab" } } : null;
  const { acts, told, browser, store } = page(studio, clock, network);
  set(acts, "a", 1);
  set(acts, "b", 2);
  await clock.run();
  assert.deepEqual(studio.things, { b: 2 });
  const [says] = told.says;
  assert.equal(says.sentence, "defect 12ab");
  assert.equal(network.sent, 2); // not asked again and again
  assert.equal(JSON.parse(browser.storage.getItem(store.name)).length, 1); // it outlives the page
  broken = false;
  says.ways[0].act();
  await clock.run();
  assert.deepEqual(studio.things, { a: 1, b: 2 });

  broken = true;
  set(acts, "a", 5);
  await clock.run();
  told.says.at(-1).ways[1].act();
  assert.equal(acts.state.things.a, 1);
  assert.equal(browser.storage.getItem(store.name), null);
});

test("another tab that was first is told once, with what stood on the refused act", async () => {
  const { studio, clock, network } = quiet();
  const stands = ({ things }, { of }) => ({ base: String(things[of.name] ?? "") });
  const { acts, told } = page(studio, clock, network, { stands });
  studio.take({ id: "other", of: { name: "a", value: "theirs" } }, "/set");
  set(acts, "a", "mine", "/set?base={base}");
  set(acts, "a", "mine, more", "/set?base={base}");
  set(acts, "b", 1, "/set?base={base}");
  await clock.run();
  assert.deepEqual(
    told.refused.map(({ moved }) => moved),
    [true],
  );
  assert.deepEqual(studio.things, { a: "theirs", b: 1 });
});

test("what a page did that was killed is done by the next one, once", async () => {
  for (const at of [0, 1, 2, 3, 4, 5]) {
    const { studio, clock, network } = quiet();
    const browser = new Browser();
    const stands = ({ things }, { of }) => ({ base: String(things[of.name] ?? "") });
    const gone = page(studio, clock, network, { browser, name: "gone", stands });
    for (const value of [1, 2, 3]) set(gone.acts, "a", value, "/set?base={base}");
    let steps = 0;
    await clock.run(() => steps++ >= at);
    gone.acts.send = () => new Promise(() => {}); // its process is gone
    browser.close(gone.store);
    await clock.run();
    const next = page(studio, clock, network, {
      browser,
      name: "next",
      stands,
      holds: (state, { of }) => state.things[of.name] === of.value,
    });
    await next.acts.adopt();
    await clock.run();
    assert.deepEqual(studio.things, { a: 3 }, `killed at ${at}`);
    assert.equal([...studio.done.values()].length, 3);
    assert.deepEqual(next.told.refused, []);
    assert.equal(browser.storage.getItem(next.store.name), null);
  }
});

test("what was made on a thing that somebody changed since does not pass as made on their change", async () => {
  const { studio, clock, network } = quiet();
  const browser = new Browser();
  const stands = ({ things }, { of }) => ({ base: String(things[of.name] ?? "") });
  const holds = (state, { of }) => state.things[of.name] === of.value;
  network.chance = { answerLost: 1 };
  const gone = page(studio, clock, network, { browser, name: "gone", stands, holds });
  set(gone.acts, "a", 1, "/set?base={base}");
  set(gone.acts, "a", 2, "/set?base={base}");
  await clock.run(() => studio.things.a === 1); // the answer never comes
  gone.acts.send = () => new Promise(() => {});
  browser.close(gone.store);
  await clock.run();
  studio.take({ id: "other", of: { name: "a", value: "theirs" } }, "/set?base=1");
  network.chance = {};
  const next = page(studio, clock, network, { browser, name: "next", stands, holds });
  await next.acts.adopt();
  await clock.run();
  assert.equal(studio.things.a, "theirs");
  assert.deepEqual(
    next.told.refused.map(({ moved, act }) => [moved, act.of.value]),
    [[true, 2]],
  );
});

test("a page that lives keeps its acts to itself; without locks they are carried out once all the same", async () => {
  const { studio, clock, network } = quiet();
  const browser = new Browser();
  const one = page(studio, clock, network, { browser, name: "one" });
  const other = page(studio, clock, network, { browser, name: "other" });
  set(one.acts, "a", 1);
  await other.acts.adopt();
  assert.deepEqual(other.acts.queue, []);
  const without = new Store("test", "without", browser.storage, null);
  assert.equal((await without.left()).length, 1);
  await clock.run();
  assert.equal(studio.revision, 1);
});

test("a full storage loses nothing while the page lives", async () => {
  const { studio, clock, network } = quiet();
  const browser = new Browser();
  const { acts } = page(studio, clock, network, { browser });
  acts.store.storage = {
    ...browser.storage,
    setItem() {
      throw new Error("QuotaExceededError");
    },
    removeItem() {},
  };
  set(acts, "a", 1);
  await clock.run();
  assert.deepEqual(studio.things, { a: 1 });
});

test("a reading that was asked for before an act is not taken over after it", async () => {
  const { studio, clock, network } = quiet();
  const { acts } = page(studio, clock, network);
  const old = studio.state;
  let answer = null;
  const reading = acts.read(
    () =>
      new Promise((done) => {
        answer = done;
      }),
  );
  set(acts, "a", 1);
  await clock.run();
  answer(old);
  await reading;
  assert.deepEqual(acts.state.things, { a: 1 });
});

test("names of things are of letters and digits, and differ", () => {
  const names = new Set(Array.from({ length: 2000 }, freshId));
  assert.equal(names.size, 2000);
  for (const name of names) assert.match(name, /^[a-z0-9]{1,12}$/);
  assert.equal(filled("/stacks/{stack}/x?base={base}", { stack: "7" }), "/stacks/7/x?base=");
});

test("2,000 random courses with two tabs, killed at random: nothing is lost or done twice, all agree", async () => {
  for (let seed = 0; seed < 2000; seed++) {
    const number = random(seed);
    const [studio, clock, browser] = [new Studio(), new Clock(), new Browser()];
    const network = new Network(studio, clock, number, { lost: 0.15, answerLost: 0.15, twice: 0.1, slow: 0.2 });
    const applies = studio.take.bind(studio);
    const carried = new Map();
    studio.take = (act, path) => {
      const before = studio.revision;
      const answer = applies(act, path);
      if (studio.revision > before) carried.set(act.id, (carried.get(act.id) ?? 0) + 1);
      return answer;
    };
    let pages = 0;
    const open = () => page(studio, clock, network, { browser, name: `page${pages++}` });
    const tabs = [open(), open()];
    const done = [];
    for (let k = 0; k < 8; k++) {
      const which = Math.floor(number() * 2);
      const name = `tab ${which}`; // each tab has a thing of its own: the order of its acts shows in it
      set(tabs[which].acts, name, k);
      done.push([name, k]);
      if (number() < 0.15) {
        tabs[which].acts.send = () => new Promise(() => {});
        browser.close(tabs[which].store);
        tabs[which] = open();
        tabs[which].acts.adopt();
      }
      const until = clock.now + number() * 400;
      await clock.run(() => clock.now >= until);
    }
    await clock.run();
    for (const { acts } of tabs) {
      acts.again();
      await clock.run();
    }
    for (const name of ["tab 0", "tab 1"]) {
      const last = done.filter(([of]) => of === name).at(-1)?.[1];
      assert.equal(studio.things[name], last, `seed ${seed}: ${name}`);
    }
    assert.equal(carried.size, done.length, `seed ${seed}: all were carried out`);
    assert.ok(
      [...carried.values()].every((times) => times === 1),
      `seed ${seed}: once`,
    );
    for (const { acts } of tabs) {
      await acts.read(async () => studio.state);
      assert.deepEqual(acts.state, studio.state, `seed ${seed}`);
      assert.equal(acts.settled(), null);
    }
  }
});
