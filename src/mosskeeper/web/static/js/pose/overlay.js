// The pose overlay: figures are shown, dragged, bound to people, fetched from the book or from pictures, kept and
// followed.
import { adopt } from "../draft.js";
import { drag } from "../drag.js";
import { Acts, anew, freshId, goesOnOnce, Store } from "../acts.js";
import { asked, sendAct } from "../ask.js";
import { tell } from "../tell.js";
import { near } from "../near.js";
import { overlayKeys } from "../overlay-keys.js";
import { page } from "../page.js";
import { Queued } from "../queued.js";
import { tally } from "../tabs.js";
import * as body from "./body.js";

const get = (id) => document.getElementById(id);
const main = get("main");
const shot = main.dataset.shot;
const [W, H] = main.dataset.size.split(" ").map(Number);
const begins = JSON.parse(get("pose-begins").textContent);
const NAMES = begins.joints;
const svg = get("poses");
const seed = +main.dataset.seed;
const HEADERS = { "Moss-Page": page, "Content-Type": "application/json" };
const LETTERS = "ABCD";
const BONES = [
  ["right shoulder", "right elbow"],
  ["right elbow", "right wrist"],
  ["left shoulder", "left elbow"],
  ["left elbow", "left wrist"],
  ["right hip", "right knee"],
  ["right knee", "right ankle"],
  ["left hip", "left knee"],
  ["left knee", "left ankle"],
].map((pair) => pair.map((n) => body.N[n]));
let figures = []; // { cue, figure, joints (px), hidden: Set, hands, behind }
let chosen = 0;
let state = begins.state;
let last = null; // the pose that was taken last, for half and half

// -- from and to the studio --------------------------------------------------------------------------------

const STANDS = [
  [0, -0.5],
  [0, -0.32],
  [-0.1, -0.31],
  [-0.13, -0.14],
  [-0.14, 0.02],
  [0.1, -0.31],
  [0.13, -0.14],
  [0.14, 0.02],
  [-0.06, 0],
  [-0.07, 0.22],
  [-0.07, 0.44],
  [0.06, 0],
  [0.07, 0.22],
  [0.07, 0.44],
  [-0.03, -0.52],
  [0.03, -0.52],
  [-0.075, -0.51],
  [0.075, -0.51],
];

/** A figure of the studio, with places also for joints that are hidden: beside those that they hang on. */
function taken(f) {
  const known = f.skeleton.map((p, k) => [p, k]).filter(([p]) => p);
  const at = (k) => [f.skeleton[k][0] * W, f.skeleton[k][1] * H];
  const tall =
    known.length > 1 ? Math.max(...known.map(([p]) => p[1])) * H - Math.min(...known.map(([p]) => p[1])) * H : 0.7 * H;
  const base = known.length
    ? (() => {
        const k = (known.find(([, i]) => i === 1) ?? known[0])[1];
        return [at(k)[0] - STANDS[k][0] * tall, at(k)[1] - STANDS[k][1] * tall];
      })()
    : [W / 2, H / 2];
  return {
    cue: f.cue || freshId(),
    figure: f.figure,
    hands: f.hands,
    behind: f.behind ?? [],
    joints: f.skeleton.map((p, k) => (p ? at(k) : [base[0] + STANDS[k][0] * tall, base[1] + STANDS[k][1] * tall])),
    hidden: new Set(f.skeleton.flatMap((p, k) => (p ? [] : [k]))),
  };
}
const told = (f) => ({
  cue: f.cue,
  figure: f.figure,
  hands: f.hands,
  behind: f.behind,
  skeleton: f.joints.map(([x, y], k) => (f.hidden.has(k) ? null : [+(x / W).toFixed(5), +(y / H).toFixed(5)])),
});

const acts = new Acts({
  state,
  store: new Store(`poses ${shot}`, page),
  send: sendAct,
  stands: ({ base }) => ({ base }),
  apply: (now, { of }) => ({ ...now, figures: of }),
  holds: (now, { of }) => JSON.stringify(now.figures.map(placed)) === JSON.stringify(of.map(placed)),
  isState: (now) => now.figures !== undefined,
  shown: (now, act) => {
    if (act || !acts.waiting.length) take(now, !act);
  },
  refused: (sentence, { of }, moved) =>
    problem(
      sentence,
      moved
        ? [
            { said: "show those", act: showKept },
            {
              said: "lay mine over them",
              act: () => {
                problem("");
                figures = of.map(taken);
                draw();
                keep(true);
              },
            },
          ]
        : [],
    ),
  says: problem,
});
const placed = ({ figure, skeleton, hands, behind }) => [figure, skeleton, hands ?? null, behind];

let nudging = 0; // until what the keys moved is kept
function keep(over = false) {
  clearTimeout(nudging);
  nudging = 0;
  const posed = figures.map(told);
  const done = acts.do(`/shots/${shot}/poses?base={base}&over=${over}`, { json: posed, kind: "poses", of: posed });
  follow();
  return done;
}

/** What the hand did a moment ago is kept now. Null where nothing waits; else whether all was kept. */
function settled() {
  if (nudging) keep();
  return acts.settled();
}
goesOnOnce(settled);

/** The page takes over what the studio says; shows it, where somebody else changed it. */
function take(now, show = true) {
  state = acts.confirmed;
  if (show) {
    figures = now.figures.map(taken);
    chosen = Math.max(0, Math.min(chosen, figures.length - 1));
  }
  get("undo").disabled = !now.undoes;
  get("redo").disabled = !now.redoes;
  get("pose-told").replaceChildren(
    ...now.told.map((sentence) => Object.assign(document.createElement("li"), { textContent: sentence })),
  );
  weights();
  adopt(state.revision, state.fields);
  tally("pose", new Set(now.figures.map(({ cue }) => cue)).size);
  queued.kept();
  if (show) draw();
}

function weights() {
  const place = get("pose-weights");
  for (const f of figures.filter(
    (one) => state.fields[`cue-${one.cue}-weight`] && !document.getElementById(`weight-${one.cue}`),
  )) {
    const row = Object.assign(document.createElement("div"), { className: "word-dial" });
    row.innerHTML = `<label><b></b> own way</label>
      <input type="range" min="0" max="1" step="0.01"><label><b>this pose</b></label>`;
    row.querySelector("b").textContent = LETTERS[f.figure];
    const dial = row.querySelector("input");
    Object.assign(dial, {
      id: `weight-${f.cue}`,
      name: `cue-${f.cue}-weight`,
      value: state.fields[`cue-${f.cue}-weight`][0],
    });
    dial.defaultValue = dial.value;
    dial.setAttribute("aria-label", `${LETTERS[f.figure]}: from the words' own pose to this one`);
    place.append(row);
  }
  for (const dial of place.querySelectorAll("input"))
    if (!figures.some((f) => `weight-${f.cue}` === dial.id)) dial.parentElement.remove();
}
function problem(sentence, ways = []) {
  tell(get("pose-problem"), sentence, ways);
}
async function read() {
  const { ok, told: now } = await asked(`/shots/${shot}/poses.json`, { method: "GET" });
  if (!ok) problem(now.problem);
  return ok ? now : null;
}
async function showKept() {
  problem("");
  const now = await read();
  if (now) {
    acts.take(now);
    follow();
  }
}

for (const way of ["undo", "redo"])
  get(way).addEventListener("click", async () => {
    await settled();
    const before = await read();
    if (before) await asked(`/shots/${shot}/${way}`);
    const now = before && (await read());
    if (!now) return;
    if (now.rest !== before.rest) anew();
    else {
      acts.take(now);
      follow();
    }
  });

// -- the picture follows -----------------------------------------------------------------------------------

let flying = 0;
let wanted = false;
let number = 0;
let shown = 0;
let url = "";
const queued = new Queued(
  shot,
  () => seed,
  (address) => arrived(address, get("follow-state").textContent),
  () => follow(),
);
function arrived(fresh, note) {
  get("live-picture").src = fresh;
  URL.revokeObjectURL(url);
  url = fresh.startsWith("blob:") ? fresh : "";
  main.dataset.followed = String(+(main.dataset.followed ?? 0) + 1); // for tests: a picture has come
  get("follow-state").textContent = note;
}
async function follow() {
  wanted = true;
  if (flying >= 2 || queued.on) return;
  wanted = false;
  flying++;
  const body = JSON.stringify(figures.map(told));
  const mine = ++number;
  try {
    await followed(
      await fetch(`/shots/${shot}/follow/poses?seed=${seed}`, { method: "POST", headers: HEADERS, body }),
      mine,
    );
  } catch {
    get("follow-state").textContent = "the studio does not answer: the pose is kept here";
  }
  flying--;
  if (wanted) follow();
}
async function followed(answer, mine) {
  if (answer.status === 200 && mine > shown) {
    shown = mine;
    queued.end();
    const note = decodeURIComponent(answer.headers.get("Moss-Note") ?? "");
    arrived(URL.createObjectURL(await answer.blob()), note || "follows the hand");
  } else if (answer.status === 409) wanted = true;
  else if (answer.status === 503 || answer.status === 422) {
    get("follow-state").textContent = (await answer.json()).problem;
    if (answer.status === 503) queued.begin();
  }
}
addEventListener("pagehide", () => navigator.sendBeacon(`/shots/${shot}/follow/leave?page=${page}`));
document.addEventListener("htmx:after:request", ({ detail }) => {
  if (/\/draft(\?|$)/.test(detail.ctx.request.action)) {
    follow();
    queued.kept();
  }
});

// -- showing -----------------------------------------------------------------------------------------------

const R = Math.max(W, H) / 90;

/** A figure as elements: name, attributes, and words in it. */
function parts(f, n) {
  const out = [];
  const make = (name, attributes, words = "") => out.push([name, attributes, words]);
  const p = f.joints;
  const there = (...ks) => ks.every((k) => !f.hidden.has(k));
  const behind = (k) =>
    f.behind.some((limb) => {
      const [side, kind] = limb.split(" ");
      return NAMES[k].startsWith(side) && (kind === "arm" ? /elbow|wrist/ : /knee|ankle/).test(NAMES[k]);
    });
  const bone = ([a, b]) =>
    there(a, b) &&
    make("line", {
      class: `limb ${NAMES[b].split(" ")[0]}${behind(b) ? " behind" : ""}`,
      x1: p[a][0],
      y1: p[a][1],
      x2: p[b][0],
      y2: p[b][1],
    });
  BONES.filter(([, b]) => behind(b)).forEach(bone);
  if (there(1, 8, 11))
    make("line", { class: "axis", x1: p[1][0], y1: p[1][1], x2: body.hips(p)[0], y2: body.hips(p)[1] });
  for (const [a, b] of [
    [2, 5],
    [8, 11],
  ])
    if (there(a, b)) make("line", { class: "axis thin", x1: p[a][0], y1: p[a][1], x2: p[b][0], y2: p[b][1] });
  BONES.filter(([, b]) => !behind(b)).forEach(bone);
  if (there(16, 17)) {
    const [x, y] = body.headMiddle(p);
    make("circle", {
      class: "head",
      cx: x,
      cy: y,
      r: Math.max(8, 0.58 * Math.hypot(p[17][0] - p[16][0], p[17][1] - p[16][1])),
      "data-handle": "tilt",
      tabindex: -1,
    });
    if (there(0)) make("line", { class: "axis thin", x1: x, y1: y, x2: p[0][0], y2: p[0][1] });
  }
  p.forEach(([x, y], k) => {
    if (k > 13 || (f.hidden.has(k) && n !== chosen)) return;
    make("circle", {
      class: `joint ${NAMES[k].split(" ")[0]}${f.hidden.has(k) ? " hidden-joint" : ""}`,
      cx: x,
      cy: y,
      r: k === 0 ? R * 0.8 : R,
      "data-joint": k,
      tabindex: n === chosen ? 0 : -1,
      role: "button",
      "aria-label": `${LETTERS[f.figure]}: ${NAMES[k]}${f.hidden.has(k) ? ", hidden" : ""}`,
    });
  });
  if (n === chosen) handles(f, make);
  const [x, y] = body.headMiddle(p);
  make(
    "text",
    { class: "letter", x, y: y - R * 4.5, "text-anchor": "middle", "font-size": R * 2.2 },
    LETTERS[f.figure],
  );
  return out;
}

/** Handles of the whole figure: moved below the feet, sized and turned beside it. */
function handles(f, make) {
  const [gx, gy] = body.ground(f.joints);
  const y = Math.min(gy + R * 2.6, H - R * 1.4);
  const whole = (name, shape, handle, said) =>
    make(name, {
      class: "whole",
      ...shape,
      "data-handle": handle,
      tabindex: 0,
      role: "button",
      "aria-label": `${said}: drag, or arrow keys`,
    });
  whole(
    "rect",
    { x: gx - R * 2.6, y: y - R * 0.9, width: R * 5.2, height: R * 1.8, rx: R * 0.9 },
    "move",
    "The whole figure",
  );
  const right = Math.min(Math.max(...f.joints.map((p) => p[0])) + R * 3, W - R * 1.5);
  const [, hy] = body.hips(f.joints);
  whole("rect", { x: right - R, y: hy - R, width: 2 * R, height: 2 * R, rx: 0 }, "size", "Size of the figure");
  whole("circle", { cx: right, cy: hy - R * 4, r: R * 1.05 }, "turn", "Turn of the figure");
}

/** Shows all figures. What is there already is only moved: what a finger holds must not go from under it. */
function draw() {
  const focused = document.activeElement?.dataset?.joint;
  while (svg.children.length > figures.length) svg.lastChild.remove();
  figures.forEach((f, n) => {
    const g = svg.children[n] ?? svg.appendChild(document.createElementNS("http://www.w3.org/2000/svg", "g"));
    g.setAttribute("class", `figure${n === chosen ? " chosen" : ""}`);
    g.dataset.figure = n;
    const wanted = parts(f, n);
    if (g.children.length !== wanted.length || wanted.some(([name], k) => g.children[k].tagName !== name)) {
      g.replaceChildren(...wanted.map(([name]) => document.createElementNS("http://www.w3.org/2000/svg", name)));
    }
    wanted.forEach(([, attributes, words], k) => {
      const element = g.children[k];
      for (const { name } of [...element.attributes]) if (!(name in attributes)) element.removeAttribute(name);
      for (const [name, value] of Object.entries(attributes))
        if (element.getAttribute(name) !== String(value)) element.setAttribute(name, value);
      if (words) element.textContent = words;
    });
  });
  panel();
  if (focused !== undefined && !document.activeElement?.dataset?.joint)
    svg.querySelector(`.chosen [data-joint="${focused}"]`)?.focus();
}

function panel() {
  const f = figures[chosen];
  get("figure-panel").hidden = !f;
  if (!f) return;
  get("figure-letter").textContent = LETTERS[f.figure];
  get("figure-of").value = f.figure;
  get("hand-right").value = f.hands?.[0] ?? "";
  get("hand-left").value = f.hands?.[1] ?? "";
  for (const box of document.querySelectorAll("[data-behind]")) box.checked = f.behind.includes(box.dataset.behind);
}

// -- dragging ----------------------------------------------------------------------------------------------

const at = (event) => {
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return [p.x, p.y];
};

function changed(f, handle, from, to, start, free) {
  const about = body.hips(start);
  if (handle.joint !== undefined)
    return body.dragged(
      start,
      +handle.joint,
      [start[handle.joint][0] + to[0] - from[0], start[handle.joint][1] + to[1] - from[1]],
      free,
    );
  if (handle.handle === "move") return body.moved(start, [to[0] - from[0], to[1] - from[1]]);
  if (handle.handle === "tilt") {
    const ear = body.N["right ear"];
    const neck = start[1];
    const angle = Math.atan2(to[1] - neck[1], to[0] - neck[0]) - Math.atan2(from[1] - neck[1], from[0] - neck[0]);
    return body.dragged(start, ear, body.turned(start[ear], neck, angle));
  }
  if (handle.handle === "turn")
    return body.rolled(
      start,
      about,
      Math.atan2(to[1] - about[1], to[0] - about[0]) - Math.atan2(from[1] - about[1], from[0] - about[0]),
    );
  const foot = body.ground(start);
  const k = Math.min(5, Math.max(0.15, (Math.abs(to[0] - foot[0]) + R) / (Math.abs(from[0] - foot[0]) + R)));
  return body.grown(start, foot, k);
}

svg.addEventListener("pointerdown", (event) => {
  const beside = near(event, svg.querySelectorAll(".chosen .joint"));
  const group = event.target.closest("[data-figure]") ?? beside?.closest("[data-figure]");
  if (!group || event.button) return;
  const n = +group.dataset.figure;
  const handle =
    event.target.closest("[data-joint], [data-handle]") ?? (group.contains(beside ?? null) ? beside : null);
  if (n !== chosen) {
    chosen = n;
    draw();
  }
  if (!handle) return;
  const f = figures[n];
  const start = f.joints.map((p) => [...p]);
  const from = at(event);
  const data = { ...handle.dataset };
  drag(
    new Proxy(event, {
      get: (e, key) => (key === "target" ? svg : typeof e[key] === "function" ? e[key].bind(e) : e[key]),
    }),
    {
      move(_dx, _dy, e) {
        f.joints = changed(f, data, from, at(e), start, e.shiftKey);
        if (data.joint !== undefined) f.hidden.delete(+data.joint);
        draw();
        follow();
      },
      end: (moved_) => {
        if (moved_) keep();
        else svg.querySelector(`.chosen [data-joint="${data.joint}"], .chosen [data-handle="${data.handle}"]`)?.focus();
      },
      cancel: () => {
        f.joints = start;
        draw();
        follow();
      },
    },
  );
});

svg.addEventListener("keydown", (event) => {
  const target = event.target.closest("[data-joint], [data-handle]");
  if (!target || !figures[chosen]) return;
  const f = figures[chosen];
  const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (by) {
    event.preventDefault();
    event.stopPropagation();
    const step = Math.max(W, H) * 0.006;
    const from = target.dataset.joint !== undefined ? f.joints[+target.dataset.joint] : handlePlace(target);
    f.joints = changed(
      f,
      { ...target.dataset },
      from,
      [from[0] + by[0] * step, from[1] + by[1] * step],
      f.joints,
      event.shiftKey,
    );
    const again = target.dataset.handle;
    draw();
    if (again) svg.querySelector(`.chosen [data-handle="${again}"]`)?.focus();
    follow();
    clearTimeout(nudging);
    nudging = setTimeout(() => keep(), 350);
  } else if (event.key === "Delete" || event.key === "Backspace") {
    event.preventDefault();
    hide(target.dataset.joint);
  }
});
const handlePlace = (target) => {
  const box = target.getBBox();
  return [box.x + box.width / 2, box.y + box.height / 2];
};

function hide(k) {
  if (k === undefined) return;
  const f = figures[chosen];
  if (f.hidden.has(+k)) f.hidden.delete(+k);
  else f.hidden.add(+k);
  draw();
  keep();
}
get("hide-joint").addEventListener("pointerdown", (event) => {
  event.preventDefault();
  hide(document.activeElement?.dataset?.joint);
});

// -- the chosen figure -------------------------------------------------------------------------------------

const edit = (change) => {
  const f = figures[chosen];
  if (f) {
    change(f);
    draw();
    keep();
  }
};
get("figure-of").addEventListener("change", ({ target }) =>
  edit((f) => {
    const other = figures.find((one) => one !== f && one.figure === +target.value);
    if (other) other.figure = f.figure; // the two change places
    f.figure = +target.value;
  }),
);
for (const side of ["right", "left"])
  get(`hand-${side}`).addEventListener("change", () =>
    edit((f) => {
      const [right, left] = [get("hand-right").value, get("hand-left").value];
      f.hands = right || left ? [right || "relaxed", left || "relaxed"] : null;
    }),
  );
for (const box of document.querySelectorAll("[data-behind]"))
  box.addEventListener("change", () =>
    edit((f) => {
      f.behind = f.behind.filter((limb) => limb !== box.dataset.behind).concat(box.checked ? [box.dataset.behind] : []);
    }),
  );
get("take-figure-off").addEventListener("click", () => {
  figures.splice(chosen, 1);
  chosen = Math.max(0, chosen - 1);
  draw();
  keep();
});
get("mirror-figure").addEventListener("click", () =>
  edit((f) => {
    const [mx] = body.hips(f.joints);
    const swap = (name) => (name.includes("right") ? name.replace("right", "left") : name.replace("left", "right"));
    const of = NAMES.map((name) => NAMES.indexOf(swap(name)));
    f.joints = of.map((k) => [2 * mx - f.joints[k][0], f.joints[k][1]]);
    f.hidden = new Set([...f.hidden].map((k) => of[k]));
    f.hands = f.hands && [f.hands[1], f.hands[0]];
    f.behind = f.behind.map(swap);
  }),
);

// -- where poses come from ---------------------------------------------------------------------------------

const fitted = (wanted, onto = null, half = null) =>
  asked(`/shots/${shot}/poses/fit`, { json: { wanted, onto, half_of: half, mirror: false } });
let fetches = 0;
async function fetched(from, half = null) {
  const mine = ++fetches;
  const old = figures[chosen];
  const { ok, told: found } = await fitted(from, old ? told(old) : null, half);
  if (mine !== fetches) return; // another pose was asked for since
  if (!ok) {
    problem(found.problem ?? "This pose could not be read.");
    return;
  }
  problem("");
  const fresh = found.figures.map(taken);
  const at = figures.indexOf(old);
  if (fresh.length === 1 && at >= 0) {
    figures[at] = { ...fresh[0], cue: old.cue, figure: old.figure };
    chosen = at;
  } else if (fresh.length === 1) chosen = figures.push(fresh[0]) - 1;
  else {
    // figures who belong together take the places of all
    fresh.forEach((f, n) => {
      f.figure = n;
      f.cue = figures.find((one) => one.figure === n)?.cue ?? f.cue;
    });
    figures = fresh;
    chosen = 0;
  }
  last = from;
  draw();
  keep();
}
get("book").addEventListener("click", async ({ target }) => {
  const button = target.closest("[data-book], [data-own]");
  const out = target.closest("[data-out]");
  if (button)
    fetched(
      button.dataset.book ? { book: button.dataset.book } : { own: +button.dataset.own },
      get("half").checked ? last : null,
    );
  if (out) {
    const { ok, told: said } = await asked(`/poses/${out.dataset.out}/out`);
    if (ok) await pages(out.dataset.out);
    else problem(said.problem);
  }
});
for (const place of document.querySelectorAll(".from-pictures"))
  place.addEventListener("click", ({ target }) => {
    const button = target.closest("[data-from]");
    if (button) fetched({ picture: button.dataset.from });
  });
const from = new URLSearchParams(location.search).get("from");
if (/^[0-9a-f]{64}$/.test(from ?? "")) {
  fetched({ picture: from });
  history.replaceState(null, "", location.pathname);
}
get("new-figure").addEventListener("click", async () => {
  const free = [0, 1, 2, 3].find((k) => !figures.some((f) => f.figure === k));
  if (free === undefined) {
    problem("A picture has at most 4 figures.");
    return;
  }
  const { ok, told: found } = await fitted({});
  if (!ok) {
    problem(found.problem);
    return;
  }
  const [fresh] = found.figures.map(taken);
  fresh.figure = [0, 1, 2, 3].find((k) => !figures.some((f) => f.figure === k)) ?? free;
  fresh.joints = body.moved(fresh.joints, [figures.length * W * 0.16 * (figures.length % 2 ? 1 : -1), 0]);
  figures.push(fresh);
  chosen = figures.length - 1;
  draw();
  keep();
});
get("pose-points").addEventListener("change", async ({ target }) => {
  const [file] = target.files;
  if (file) await fetched({ keypoints: (await file.text()).slice(0, 2_000_000) });
  target.value = "";
});
get("pose-picture").addEventListener("change", async ({ target }) => {
  const [file] = target.files;
  target.value = "";
  if (!file) return;
  const data = new FormData();
  data.append("picture", file, file.name);
  const { ok, told: stored } = await asked(`/shots/${shot}/board/pictures`, { body: data });
  if (!ok) {
    problem(stored.problem);
    return;
  }
  get("follow-state").textContent = "the reader looks at the picture";
  for (let k = 0; k < 40; k++) {
    // it is read by a worker
    const tried = await fitted({ picture: stored.picture });
    if (tried.ok || !/still being read/.test(tried.told.problem)) break;
    await new Promise((done) => setTimeout(done, 500));
  }
  await fetched({ picture: stored.picture });
});

get("book-find").addEventListener("input", find);
function find() {
  const words = get("book-find").value.toLowerCase().split(/\s+/).filter(Boolean);
  for (const pose of document.querySelectorAll(".book-pose"))
    pose.hidden = !words.every((word) => pose.dataset.find.includes(word));
}
async function pages(gone = "") {
  const answer = await fetch(`/shots/${shot}/poses/book`).catch(() => null);
  if (!answer?.ok) return;
  get("book").innerHTML = await answer.text();
  find();
  if (!gone) return;
  const back = Object.assign(document.createElement("button"), {
    type: "button",
    className: "link",
    textContent: "bring it back",
  });
  back.addEventListener("click", async () => {
    const { ok, told: said } = await asked(`/poses/${gone}/out?back=true`);
    problem(ok ? "" : said.problem);
    pages();
  });
  get("pose-problem").replaceChildren("The pose was taken out of the book. ", back);
}
get("add-to-book").addEventListener("click", () => {
  if (!figures.length) {
    problem("There is no figure on the picture: pose one first.");
    return;
  }
  const form = document.createElement("form");
  form.className = "tools";
  form.innerHTML = `
    <input class="written" name="name" maxlength="80" placeholder="name of the pose" aria-label="Name of the pose">
    <input class="written" name="tags" maxlength="160" placeholder="tags" aria-label="Tags">
    <button class="press">Add</button>`;
  form.addEventListener("submit", async (event) => {
    event.preventDefault();
    const values = Object.fromEntries(new FormData(form));
    const { ok, told: said } = await asked(`/shots/${shot}/poses/book`, {
      json: { figures: figures.map(told), ...values },
    });
    if (ok) {
      problem("");
      pages();
      return;
    }
    const says =
      form.querySelector(".problem") ??
      form.appendChild(Object.assign(document.createElement("p"), { className: "problem" }));
    says.textContent = said.problem ?? "Give the pose a name."; // what was typed stays
  });
  get("pose-problem").replaceChildren(form);
  form.elements.name.focus();
});

// -- many poses as one run ---------------------------------------------------------------------------------

const ticked = () => [...document.querySelectorAll("[data-many]:checked")].map((box) => box.dataset.many);
get("book").addEventListener("change", async () => {
  const names = ticked();
  get("run-many").disabled = names.length < 2;
  if (names.length < 2) {
    get("many-says").textContent = "Tick poses to run them in a row: one seed, pose by pose.";
    return;
  }
  const { ok, told: said } = await asked(`/shots/${shot}/poses/run?dry=true`, { json: names });
  get("many-says").textContent = ok
    ? `${names.length} poses: ${said.sparks} sparks, about ${said.seconds} s`
    : said.problem;
});
get("run-many").addEventListener("click", async () => {
  await settled();
  const { ok, told: said } = await asked(`/shots/${shot}/poses/run`, { json: ticked() });
  if (ok) location.assign(said.address);
  else problem(said.problem);
});

// -- what shines through -----------------------------------------------------------------------------------

const cover = get("pose-cover");
cover.addEventListener("input", () => {
  svg.style.opacity = cover.value / 100;
});
svg.style.opacity = cover.value / 100;
overlayKeys(main, {});

take(state);
follow();
acts.adopt().then(() => {
  if (!acts.waiting.length) return; // what a page that was closed too soon had posed
  figures = acts.state.figures.map(taken);
  draw();
  follow();
});
main.dataset.ready = "yes";
