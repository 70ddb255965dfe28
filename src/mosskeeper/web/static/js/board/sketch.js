// The sketch overlay: hand, pots, dials and stages brought together.
import { drag } from "../drag.js";
import { goesOnOnce } from "../acts.js";
import { asked } from "../ask.js";
import { overlayKeys } from "../overlay-keys.js";
import { tell } from "../tell.js";
import { Follow } from "./follow.js";
import { Kept } from "./kept.js";
import * as on from "./pieces.js";
import { tally } from "../tabs.js";
import { hold } from "./selection.js";

const get = (id) => document.getElementById(id);
const main = get("main");
const shot = main.dataset.shot;
const canvas = get("board");
const pen = canvas.getContext("2d", { willReadFrequently: true });
const begins = JSON.parse(get("board-begins").textContent);
const [MOST, LONGEST] = [1000, 600_000]; // pieces, and characters of them, from which the oldest are joined
let board = begins.state.board;
let seed = +main.dataset.seed;
let hand = "stroke";
let picking = false;

// -- painting ----------------------------------------------------------------------------------------------

function paint(pieces = board.pieces) {
  pen.clearRect(0, 0, canvas.width, canvas.height);
  for (const piece of pieces) on.draw(pen, piece);
}

const pot = () => document.querySelector("#pots [name=pot]:checked");
const colour = () => pot().dataset.colour;
const size = () => +get("brush-size").value;
const cover = () => +get("brush-cover").value / 100;
const tenth = (v) => Math.round(v * 10) / 10;

function place(event) {
  const box = canvas.getBoundingClientRect();
  return [
    ((event.clientX - box.left) / box.width) * canvas.width,
    ((event.clientY - box.top) / box.height) * canvas.height,
  ];
}

/** Notes from which pot a colour came; one that two pots share is told apart by its last digit. */
function ownColour() {
  const name = pot().value;
  let own = colour();
  while (name && board.pots[own] && board.pots[own] !== name)
    own = (parseInt(own, 16) ^ 1).toString(16).padStart(6, "0");
  if (name) board.pots = { ...board.pots, [own]: name };
  return own;
}

async function act(pieces) {
  board = { ...board, pieces, pots: usedPots(pieces) };
  if (!joining && (pieces.length > MOST || JSON.stringify(pieces).length > LONGEST))
    await (joining = join(pieces.slice(0, Math.ceil(pieces.length / 2))));
  return keep.act(board);
}

/** The older half of many pieces becomes one picture: it looks the same, and can be moved as a whole only. */
let joining = null;
async function join(older) {
  const whole = await joined(older);
  joining = null;
  // what was painted meanwhile stays; where one of the older was changed meanwhile, none are joined
  if (whole && older.every((piece, k) => board.pieces[k] === piece))
    board = { ...board, pieces: [whole, ...board.pieces.slice(older.length)] };
}

/** Pieces as one picture; null where the studio could not take it. */
async function joined(pieces) {
  const sheet = Object.assign(document.createElement("canvas"), { width: canvas.width, height: canvas.height });
  for (const piece of pieces) on.draw(sheet.getContext("2d"), piece);
  const body = new FormData();
  body.append("picture", await new Promise((done) => sheet.toBlob(done, "image/png")), "joined strokes.png");
  const { ok, told } = await asked(`/shots/${shot}/board/pictures`, { body });
  if (!ok) return null;
  const whole = {
    kind: "picture",
    picture: told.picture,
    at: [canvas.width / 2, canvas.height / 2],
    size: [canvas.width, canvas.height],
    turn: 0,
    cover: 1,
  };
  await on.loaded([whole]);
  return whole;
}

function usedPots(pieces) {
  if (pieces.some((p) => p.kind === "picture")) return board.pots; // strokes that were joined keep theirs
  const used = new Set(pieces.map((p) => p.colour));
  return Object.fromEntries(Object.entries(board.pots).filter(([c]) => used.has(c)));
}

function stroke(event) {
  const rubbing = hand === "rub" || Boolean(event.buttons & 32); // 32: the pen's other end
  const piece = {
    kind: rubbing ? "rubbed" : "stroke",
    colour: rubbing ? "000000" : ownColour(),
    cover: cover(),
    points: [],
  };
  const under = document.createElement("canvas");
  [under.width, under.height] = [canvas.width, canvas.height];
  under.getContext("2d").drawImage(canvas, 0, 0);
  const width = (e) => size() * (e.pointerType === "pen" && e.pressure ? 0.3 + 1.4 * e.pressure : 1);
  const first = [...place(event), width(event)];
  let last = first;
  const whole = piece.cover < 1 || hand === "line";
  const add = (e) => {
    const next = [...place(e), width(e)];
    if (hand === "line") piece.points = [...first, ...next].map(tenth);
    else if (Math.hypot(next[0] - last[0], next[1] - last[1]) < 1.2 && piece.points.length) return;
    else piece.points.push(...next.map(tenth));
    if (whole) {
      pen.clearRect(0, 0, canvas.width, canvas.height);
      pen.drawImage(under, 0, 0);
      on.draw(pen, piece);
      follow.whole();
    } else {
      pen.save();
      pen.strokeStyle = `#${piece.colour}`;
      pen.globalCompositeOperation = rubbing ? "destination-out" : "source-over";
      on.stretch(pen, last, next);
      pen.restore();
      const reach = next[2] + 3;
      follow.painted(
        Math.min(last[0], next[0]) - reach,
        Math.min(last[1], next[1]) - reach,
        Math.max(last[0], next[0]) + reach,
        Math.max(last[1], next[1]) + reach,
      );
    }
    last = next;
  };
  piece.points.push(...first.map(tenth));
  add(event);
  if (!whole) {
    pen.save();
    pen.strokeStyle = `#${piece.colour}`;
    pen.globalCompositeOperation = rubbing ? "destination-out" : "source-over";
    on.stretch(pen, first, first);
    pen.restore();
    follow.painted(first[0] - size(), first[1] - size(), first[0] + size(), first[1] + size());
  }
  drag(event, {
    move: (_dx, _dy, e) => {
      for (const each of e.getCoalescedEvents?.() ?? [e]) add(each);
    },
    end: () => act([...board.pieces, piece]),
    cancel: () => {
      paint();
      follow.whole();
    },
  });
}

function shape(event) {
  const [x0, y0] = place(event);
  const piece = { kind: hand, colour: ownColour(), cover: cover(), at: [x0, y0], size: [1, 1], turn: 0 };
  const draw = () => {
    paint();
    on.draw(pen, piece);
    follow.whole();
  };
  drag(event, {
    move(_dx, _dy, e) {
      const [x, y] = place(e);
      let [w, h] = [x - x0, y - y0];
      if (e.shiftKey) w = h = Math.max(Math.abs(w), Math.abs(h));
      piece.at = [tenth(x0 + w / 2), tenth(y0 + h / 2)];
      piece.size = [tenth(Math.abs(w)), tenth(Math.abs(h))];
      draw();
    },
    end: (moved) => {
      if (moved) act([...board.pieces, piece]);
    },
    cancel: () => {
      paint();
      follow.whole();
    },
  });
}

function blob(event) {
  const points = [place(event)];
  const piece = { kind: "blob", colour: ownColour(), cover: cover(), at: [0, 0], size: [1, 1], turn: 0, points: [] };
  const fit = () => {
    const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
    const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
    piece.at = [tenth((x0 + x1) / 2), tenth((y0 + y1) / 2)];
    piece.size = [tenth(Math.max(1, x1 - x0)), tenth(Math.max(1, y1 - y0))];
    piece.points = points
      .flatMap(([x, y]) => [(x - piece.at[0]) / piece.size[0], (y - piece.at[1]) / piece.size[1]])
      .map((v) => Math.round(Math.min(1, Math.max(-1, v)) * 1e4) / 1e4);
  };
  drag(event, {
    move(_dx, _dy, e) {
      const next = place(e);
      if (Math.hypot(next[0] - points.at(-1)[0], next[1] - points.at(-1)[1]) < 3) return;
      points.push(next);
      if (points.length < 3) return;
      fit();
      paint();
      on.draw(pen, piece);
      follow.whole();
    },
    end: () => {
      if (points.length > 2) act([...board.pieces, piece]);
    },
    cancel: () => {
      paint();
      follow.whole();
    },
  });
}

canvas.addEventListener("pointerdown", (event) => {
  if (event.button > 0 || watching) return;
  canvas.focus({ preventScroll: true });
  if (picking) pick(event);
  else if (hand === "piece") selection.press(event);
  else if (["disc", "box", "triangle"].includes(hand)) shape(event);
  else if (hand === "blob") blob(event);
  else stroke(event);
});

// -- pieces ------------------------------------------------------------------------------------------------

const selection = hold({
  canvas,
  place,
  pieces: () => board.pieces,
  colour: ownColour,
  show(pieces) {
    paint(pieces);
    follow.whole();
  },
  done: act,
  layers: on,
});

// -- tools and pots ----------------------------------------------------------------------------------------

function take(name) {
  hand = name;
  for (const button of document.querySelectorAll("[data-hand]"))
    button.setAttribute("aria-pressed", String(button.dataset.hand === name));
  canvas.dataset.hand = name;
  if (name !== "piece") selection.none();
}
get("hand").addEventListener("click", ({ target }) => {
  const button = target.closest("[data-hand]");
  if (button) take(button.dataset.hand);
});

get("pots").addEventListener("change", ({ target }) => {
  if (target.name === "pot") get("tone").value = `#${target.dataset.colour}`;
  if (target.id === "tone") tone(target.value.slice(1));
});
get("tone").addEventListener("input", ({ target }) => tone(target.value.slice(1)));
get("pots").addEventListener("click", ({ target }) => {
  if (!target.dataset.tone) return;
  tone(target.dataset.tone);
  get("tone").value = `#${target.dataset.tone}`;
});
get("fill").addEventListener("click", () => {
  const ground = { kind: "ground", colour: ownColour(), cover: cover() };
  const all = [ground, ...board.pieces.filter((p) => p.kind !== "ground")];
  paint(all);
  follow.whole();
  act(all);
});
get("place").addEventListener("change", async ({ target }) => {
  const name = target.value;
  target.value = "";
  if (!name) return;
  if (await keep.do(`place?name=${encodeURIComponent(name)}`)) follow.anew();
});
get("surface").addEventListener("change", async ({ target }) => {
  if (await keep.do(`surface?name=${encodeURIComponent(target.value)}`)) follow.anew();
  else target.value = keep.acts.confirmed.surface;
});
get("pots").addEventListener("dblclick", ({ target }) => target.closest(".pot") && get("tone").click());
function tone(hexadecimal) {
  pot().dataset.colour = hexadecimal;
  pot().nextElementSibling.style.background = `#${hexadecimal}`;
}
get("pick").addEventListener("click", () => {
  picking = !picking;
  get("pick").classList.toggle("on", picking);
});
function pick(event) {
  const [x, y] = place(event);
  const seen = document.createElement("canvas").getContext("2d");
  const picture = get("live-picture");
  [seen.canvas.width, seen.canvas.height] = [canvas.width, canvas.height];
  seen.drawImage(picture, 0, 0, canvas.width, canvas.height);
  const [r, g, b] = seen.getImageData(Math.floor(x), Math.floor(y), 1, 1).data;
  const own = [r, g, b].map((v) => v.toString(16).padStart(2, "0")).join("");
  tone(own);
  get("tone").value = `#${own}`;
  picking = false;
  get("pick").classList.remove("on");
}
for (const id of ["brush-size", "brush-cover"])
  get(id).addEventListener("input", ({ target }) => {
    document.querySelector(`output[for=${id}]`).textContent = target.value;
  });

// -- the picture follows -----------------------------------------------------------------------------------

const weight = get("board-weight");
let url = "";
const follow = new Follow(
  canvas,
  shot,
  () => ({ cue: keep.cue, weight: weight.value, seed }),
  (fresh, told) => {
    get("live-picture").src = fresh;
    URL.revokeObjectURL(url);
    url = fresh.startsWith("blob:") ? fresh : "";
    main.dataset.followed = String(+(main.dataset.followed ?? 0) + 1); // for tests: a picture has come
    readAs(told);
  },
  (sentence) => {
    get("follow-state").textContent = sentence;
  },
  () => keep.unconfirmed === null,
);
weight.addEventListener("input", () => {
  get("weight-says").textContent = (+weight.value).toFixed(2);
  follow.anew();
});

function readAs(told) {
  if (document.activeElement?.closest?.("#told")) return; // somebody is saying it better just now
  const items = told.map(({ words, kind, at }) => {
    const item = document.createElement("li");
    if (!kind) {
      item.textContent = words;
      return item;
    }
    const choice = document.createElement("select");
    choice.setAttribute("aria-label", `${words}: say what it is`);
    choice.dataset.aside = "";
    choice.append(
      new Option(words, ""),
      ...begins.kinds.filter((k) => k !== kind).map((k) => new Option(`it is ${k === "nothing" ? "nothing" : k}`, k)),
    );
    choice.addEventListener("change", () => say(at, choice.value));
    item.append(choice);
    return item;
  });
  get("told").replaceChildren(...items);
}
async function say(at, kind) {
  document.activeElement?.blur();
  if (!kind) return;
  await keep.do(`names?${new URLSearchParams({ x: at[0], y: at[1], kind })}&cue={cue}`);
  follow.anew();
}

get("live-seed").textContent = seed;
get("another-seed").addEventListener("click", anotherSeed);
function anotherSeed() {
  seed = (seed * 48271 + 11) % 2147483647;
  get("live-seed").textContent = seed;
  follow.anew();
  follow.kept();
}
for (const field of ["words", "negative"]) get(field)?.addEventListener("change", () => follow.anew());
document.addEventListener("htmx:after:request", ({ detail }) => {
  if (/\/draft(\?|$)/.test(detail.ctx.request.action)) {
    follow.anew();
    follow.kept();
  }
});

// -- keeping, undoing, two tabs ----------------------------------------------------------------------------

const keep = new Kept(shot, [canvas.width, canvas.height], begins.state, {
  shown(state, own) {
    if (own && !joining) board = state.board; // pieces that are being joined stay those that they are
    if (state.cue && weight.name !== `cue-${state.cue}-weight`) {
      const chosen = weight.value;
      weight.name = `cue-${state.cue}-weight`;
      delete weight.dataset.aside;
      weight.value = weight.defaultValue = state.weight;
      if (chosen !== weight.value)
        queueMicrotask(() => {
          weight.value = chosen;
          weight.dispatchEvent(new Event("change", { bubbles: true }));
        });
    }
    follow.kept();
    tally("sketch", state.cue ? 1 : 0);
    get("surface").value = state.surface;
    get("undo").disabled = !state.undoes;
    get("redo").disabled = !state.redoes;
  },
  problem,
  moved(sentence, mine) {
    problem(sentence, [
      { said: "show that one", act: showKept },
      {
        said: "lay mine over it",
        act: async () => {
          problem("");
          await redraw({ board: mine });
          keep.act(mine, true);
        },
      },
    ]);
  },
});

function problem(sentence, ways = []) {
  tell(get("board-problem"), sentence, ways);
}

async function showKept() {
  problem("");
  const state = await keep.read();
  if (!state) return;
  keep.acts.take(state);
  redraw(state);
}

/** What a page painted that was closed too soon is painted again, and kept. */
async function recover() {
  await keep.acts.adopt();
  const left = keep.unconfirmed;
  if (!left) return;
  keep.newest ??= left;
  redraw({ board: left });
}
async function redraw(state) {
  board = state.board;
  selection.none();
  await on.loaded(board.pieces);
  paint();
  follow.whole();
}
for (const way of ["undo", "redo"])
  get(way).addEventListener("click", async () => {
    const now = await keep.walk(way);
    if (now) redraw(now);
  });
get("clear").addEventListener("click", () => {
  selection.none();
  paint([]);
  follow.whole();
  act([]);
});

// One tab draws; a second one watches until it takes the pen.
let watching = false;
let watch = 0;
function wait() {
  watching = true;
  main.classList.add("watching");
  get("follow-state").textContent = "another tab draws on this board: watching";
  const mine = Object.assign(document.createElement("button"), {
    type: "button",
    className: "press",
    textContent: "Take the pen",
  });
  mine.addEventListener("click", () => hands(true));
  get("board-problem").replaceChildren(mine);
  watch = setInterval(async () => {
    if (document.visibilityState !== "visible") return;
    const state = await keep.read();
    if (state && state.picture !== keep.base) {
      keep.acts.take(state);
      redraw(state);
    }
  }, 1500);
}
function hands(steal = false) {
  clearInterval(watch);
  navigator.locks
    .request(`moss board ${shot}`, steal ? { steal } : { ifAvailable: true }, async (lock) => {
      if (!lock) {
        wait();
        return;
      }
      if (watching) {
        watching = false;
        main.classList.remove("watching");
        await showKept();
      } else recover();
      await new Promise(() => {});
    })
    .catch(() => wait()); // the pen was taken
}
if (navigator.locks) hands();
else recover(); // a browser that knows no locks here

// -- stages and large --------------------------------------------------------------------------------------

async function keepStage() {
  await keep.settled();
  const { ok, told } = await asked(`/shots/${shot}/stages?seed=${seed}`);
  if (!ok) {
    problem(told.problem);
    return;
  }
  const answer = await fetch(`/shots/${shot}/stages`).catch(() => null);
  if (answer?.ok) get("stages").innerHTML = await answer.text();
}
get("keep-stage").addEventListener("click", keepStage);
get("make-large").addEventListener("click", async () => {
  await keep.settled();
  const { ok, told } = await asked(`/shots/${shot}/board/large?seed=${seed}`);
  if (!ok) problem(told.problem);
  else document.dispatchEvent(new CustomEvent("moss:tick", { detail: { again: true, workers: null, active: [] } }));
});

// -- pictures laid on the board ----------------------------------------------------------------------------

/** Painted before it is kept: what is kept is what is painted. */
function lay(piece) {
  const all = [...board.pieces, piece];
  paint(all);
  follow.whole();
  act(all);
}
async function layPicture(file) {
  const body = new FormData();
  body.append("picture", file, file.name || "pasted.png");
  const { ok, told } = await asked(`/shots/${shot}/board/pictures`, { body });
  if (!ok) {
    problem(told.problem);
    return;
  }
  const k = Math.min(canvas.width / told.width, canvas.height / told.height, 1) * 0.7;
  const piece = {
    kind: "picture",
    picture: told.picture,
    at: [canvas.width / 2, canvas.height / 2],
    size: [tenth(told.width * k), tenth(told.height * k)],
    turn: 0,
    cover: 1,
  };
  await on.loaded([piece]);
  lay(piece);
  take("piece");
  selection.choose(board.pieces.length - 1);
}
async function digitise(file) {
  const body = new FormData();
  body.append("picture", file, file.name);
  const { ok, told } = await asked(`/shots/${shot}/board/paper`, { body });
  if (!ok) {
    problem(told.problem);
    return;
  }
  const k = Math.min(canvas.width / told.width, canvas.height / told.height);
  const piece = {
    kind: "picture",
    picture: told.picture,
    at: [canvas.width / 2, canvas.height / 2],
    size: [tenth(told.width * k), tenth(told.height * k)],
    turn: 0,
    cover: 1,
  };
  await on.loaded([piece]);
  lay(piece);
  const before = Object.assign(new Image(), { src: told.before, alt: "The photograph, as it came" });
  get("paper-told").replaceChildren(
    before,
    Object.assign(document.createElement("p"), { className: "facts", textContent: told.note }),
  );
}
get("paper-file").addEventListener("change", ({ target }) => {
  if (target.files[0]) digitise(target.files[0]);
  target.value = "";
});
get("board-file").addEventListener("change", ({ target }) => {
  if (target.files[0]) layPicture(target.files[0]);
  target.value = "";
});
addEventListener("paste", ({ clipboardData }) => {
  const file = [...(clipboardData?.files ?? [])].find((f) => f.type.startsWith("image/"));
  if (file) layPicture(file);
});
canvas.addEventListener("dragover", (event) => event.preventDefault());
canvas.addEventListener("drop", (event) => {
  event.preventDefault();
  const [file] = event.dataTransfer.files;
  if (file) layPicture(file);
});

// -- what shines through -----------------------------------------------------------------------------------

const through = () => {
  canvas.style.opacity = get("beside").checked ? 1 : get("board-cover").value / 100;
};
get("board-cover").addEventListener("input", through);
get("beside").addEventListener("change", ({ target }) => {
  main.classList.toggle("beside", target.checked);
  through();
});
through();

overlayKeys(main, {
  hands: ["stroke", "line", "disc", "box", "triangle", "blob", "rub", "piece"],
  take,
  keys: { n: anotherSeed, m: keepStage },
});

// -- begin -------------------------------------------------------------------------------------------------

goesOnOnce(() => (joining ? joining.then(() => keep.settled() ?? true) : keep.settled()));
on.loaded(board.pieces).then(() => {
  paint();
  follow.whole();
  main.dataset.ready = "yes";
});
