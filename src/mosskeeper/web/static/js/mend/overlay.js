// The mends overlay: hand, mask, words, variants and stack brought together.
import { drag } from "../drag.js";
import "../menus.js";
import "../large.js";
import "../beginnings.js";
import { goesOnOnce } from "../acts.js";
import { formOf, onEdits } from "../lends.js";
import { tell } from "../tell.js";
import { tally } from "../tabs.js";
import { Beyond } from "./beyond.js";
import { bring } from "./bring.js";
import { Named } from "./named.js";
import { overlayKeys } from "../overlay-keys.js";
import { Studio } from "./studio.js";
import { Veil } from "./veil.js";

const get = (id) => document.getElementById(id);
const main = get("main");
const { shot, base } = main.dataset;
const canvas = get("veil");
const veil = new Veil(canvas);
const FIELDS = ["words", "negative", "strength", "feather", "outlines", "count"];
let hand = "brush";
let painting = 0; // strokes that are under way: what the studio says of the mask is older
let clash = false; // another tab was first: what was painted here stays until one of the two is chosen
let masked = null; // the mask that the veil shows, as the studio calls it
let open = null; // the mend that the fields show
let viewed = 0; // the variant that is looked at
let before = false; // the picture below is looked at
const typed = new Set(); // fields that were typed in and not sent yet
let acting = false; // the hand has been at the mask since the mend was opened

// -- what the studio says ------------------------------------------------------------------------------------

const studio = new Studio(shot, base, JSON.parse(get("mends-begin").textContent), { stood, problem, moved });
const named = new Named(
  shot,
  (keys) => choose(keys),
  (key) => studio.quick(key),
);

const veiled = () => {
  main.dataset.veiled = String(+(main.dataset.veiled ?? 0) + 1);
}; // for tests and benches: how often a mask was shown

function stood(state, act = null) {
  for (const [name, html] of Object.entries(state.html)) swap(get(`mend-${name}`), html);
  showMask(state, act);
  const other = open !== state.mend;
  for (const name of FIELDS) if (!typed.has(name)) fill(get(name), state.fields[name], other);
  if (other) {
    viewed = 0;
    acting = false;
    get("beside").hidden = true;
  }
  open = state.mend;
  tally("mends", state.mends);
  main.dataset.stack = state.stack;
  main.dataset.mend = state.mend;
  says();
  get("undo").disabled = !state.undoes;
  get("redo").disabled = !state.redoes;
  get("run").disabled = !state.mend || (!state.mask && !state.wider.some(Boolean));
  beyond.stood(state);
  named.of(state.on || state.below);
  named.onTop(state.top);
  named.kept(state.kept);
  look();
  main.dataset.ready = "yes"; // for tests: the page has taken over what the studio said
}

/** The veil shows the mask that the studio keeps, but while the hand is ahead of it. */
function showMask({ mend, mask, size }, act) {
  if (act?.kind === `mask ${mend}` && !studio.masking) {
    clash = false;
    masked = mask; // what the veil shows already
  }
  if (painting) return;
  veil.sized(...size);
  if (clash || studio.masking || (masked === mask && open === mend)) return;
  masked = mask;
  veil.load(mask ? `/pictures/${mask}.png` : "").then(veiled, () => {});
}

/** What somebody opened or is in stays as it is. */
function swap(place, html) {
  if (place.dataset.html === html) return;
  place.dataset.html = html;
  const unfolded = [...place.querySelectorAll("details[open]")].map((one) => one.className);
  const focus = place.contains(document.activeElement) ? document.activeElement : null;
  place.innerHTML = html;
  htmx.process(place);
  for (const name of unfolded) place.querySelector(`details.${name.split(" ")[0]}`)?.setAttribute("open", "");
  if (!focus) return;
  const key = Object.entries(focus.dataset).find(([name]) =>
    ["variant", "mend", "order", "shown", "off", "cue"].includes(name),
  );
  (focus.id
    ? get(focus.id)
    : key
      ? place.querySelector(`[data-${key[0]}="${key[1]}"]${focus.dataset.of ? `[data-of="${focus.dataset.of}"]` : ""}`)
      : null
  )?.focus();
}

function fill(field, value, other) {
  if (field === document.activeElement && !other) return;
  if (field.type === "checkbox") field.checked = value ?? true;
  else field.value = value ?? { words: "", negative: "", strength: 1, feather: 3, count: 3 }[field.id];
}

function says() {
  get("strength-says").textContent = (+get("strength").value).toFixed(2);
  get("feather-says").textContent = `${get("feather").value} px`;
  get("run-count").textContent = `${get("count").value} variant${get("count").value === "1" ? "" : "s"}`;
}

function problem(sentence, ways = []) {
  tell(get("mend-problem"), sentence, ways);
}
function moved(sentence) {
  clash = true;
  problem(sentence, [
    { said: "show that one", act: theirs },
    {
      said: "lay mine over it",
      act: () => {
        problem("");
        keep(true);
      },
    },
  ]);
}

async function theirs() {
  clash = false;
  masked = null;
  await studio.read();
  problem("");
}

// -- the hand ------------------------------------------------------------------------------------------------

const way = () => get("way").value;
const size = () => +get("brush-size").value * (canvas.width / canvas.getBoundingClientRect().width || 1);

function place(event) {
  const box = canvas.getBoundingClientRect();
  return [
    ((event.clientX - box.left) / box.width) * canvas.width,
    ((event.clientY - box.top) / box.height) * canvas.height,
  ];
}

function keep(over = false) {
  acting = true;
  painting++; // the veil of a mend that only begins shows what was painted for it
  studio.begin();
  painting--;
  studio.mask(veil.address(), over);
}

function brush(event) {
  const opens = way() !== "take" && !(event.buttons & 32); // 32: the pen's other end
  if (way() === "only") veil.clear();
  const width = (e) => size() * (e.pointerType === "pen" && e.pressure ? 0.3 + 1.4 * e.pressure : 1);
  const edge = +get("brush-edge").value / 100;
  const soft = edge < 1;
  const stretches = [];
  let last = place(event);
  const stretch = (next, wide) => {
    veil.stretch(last, next, wide, opens, soft);
    stretches.push([last, next, wide]);
    last = next;
  };
  painting++;
  stretch([last[0] + 0.01, last[1]], width(event));
  drag(event, {
    move(_dx, _dy, e) {
      for (const each of e.getCoalescedEvents?.() ?? [e]) stretch(place(each), width(each));
    },
    end() {
      painting--;
      if (soft) veil.soft(stretches, edge, opens);
      veil.show();
      keep();
    },
    cancel() {
      painting--;
      masked = null;
      stood(studio.state);
    },
  });
}

function outlined(event) {
  const points = [place(event)];
  const pen = canvas.getContext("2d");
  drag(event, {
    move(_dx, _dy, e) {
      const next = place(e);
      if (Math.hypot(next[0] - points.at(-1)[0], next[1] - points.at(-1)[1]) < 2) return;
      pen.save();
      [pen.strokeStyle, pen.lineWidth] = ["#23302B", Math.max(1.5, canvas.width / 400)];
      pen.beginPath();
      pen.moveTo(...points.at(-1));
      pen.lineTo(...next);
      pen.stroke();
      pen.restore();
      points.push(next);
    },
    end() {
      if (points.length < 3) {
        veil.show();
        return;
      }
      const path = new Path2D();
      points.forEach(([x, y], k) => (k ? path.lineTo(x, y) : path.moveTo(x, y)));
      path.closePath();
      veil.area(path, way());
      keep();
    },
    cancel: () => veil.show(),
  });
}

function boxed(event, all) {
  const [x0, y0] = place(event);
  let box = null;
  const pen = canvas.getContext("2d");
  drag(event, {
    move(_dx, _dy, e) {
      const [x, y] = place(e);
      box = [Math.min(x0, x), Math.min(y0, y), Math.abs(x - x0), Math.abs(y - y0)];
      veil.show();
      pen.save();
      [pen.strokeStyle, pen.lineWidth] = ["#23302B", Math.max(1.5, canvas.width / 400)];
      pen.strokeRect(...box);
      pen.restore();
    },
    end() {
      if (!box) return;
      const path = new Path2D();
      path.rect(...box);
      if (all) path.rect(0, 0, canvas.width, canvas.height);
      veil.area(path, way());
      keep();
    },
    cancel: () => veil.show(),
  });
}

async function choose(keys, how = way()) {
  const chosen = named.drawn(keys);
  const on = studio.state.mask ? how : "only";
  painting++;
  if (chosen) {
    veil.laid(chosen, on);
    veiled();
  } // at once: the studio follows
  studio.begin();
  const query = new URLSearchParams(keys.map((key) => ["key", key]));
  query.set("way", on);
  const kept = await studio.mend(`/choose?${query}`);
  painting--;
  if (!kept) masked = null;
  stood(studio.state);
  return kept;
}

function tone(x, y) {
  const query = new URLSearchParams({ x: Math.floor(x), y: Math.floor(y), way: studio.state.mask ? way() : "only" });
  studio.begin();
  studio.mend(`/alike?${query}`);
}

canvas.addEventListener("pointerdown", (event) => {
  if (event.button > 0) return;
  canvas.focus({ preventScroll: true });
  viewed = 0;
  look();
  const [x, y] = place(event);
  if (hand === "outline") outlined(event);
  else if (hand === "window") beyond.draw(event, place);
  else if (hand === "box" || hand === "frame") boxed(event, hand === "frame");
  else if (hand === "tone") tone(x, y);
  else if (hand === "part") {
    const wider = named.last;
    const found = named.at(x, y);
    if (found) choose([found.key], wider?.atom === named.last.atom ? "only" : way());
    else problem("What can be pressed here is still being looked for: brush meanwhile.");
  } else brush(event);
});

function take(name) {
  hand = name;
  for (const button of document.querySelectorAll("[data-hand]"))
    button.setAttribute("aria-pressed", String(button.dataset.hand === name));
  canvas.dataset.hand = name;
}
get("hand").addEventListener("click", ({ target }) => {
  const button = target.closest("[data-hand]");
  if (button) take(button.dataset.hand);
});
for (const id of ["brush-size", "brush-edge"])
  get(id).addEventListener("input", ({ target }) => {
    document.querySelector(`output[for=${id}]`).textContent = target.value;
  });
get("mask-acts").addEventListener("click", ({ target }) => {
  if (!target.dataset.act) return;
  studio.begin();
  studio.mend(`/act?act=${encodeURIComponent(target.dataset.act)}&px=${Math.max(2, Math.round(canvas.width / 80))}`);
});
get("clear").addEventListener("click", () => {
  veil.clear();
  if (studio.state.mend) keep();
});

// -- words and dials -----------------------------------------------------------------------------------------

let typing = 0;
async function tellField(name) {
  const field = get(name);
  const value =
    field.type === "checkbox"
      ? field.checked
      : field.type === "range" || field.type === "number"
        ? +field.value
        : field.value;
  typed.delete(name);
  studio.begin();
  get("save-state").textContent = "saving";
  const done = await studio.mend("", {
    form: { [name]: String(value) },
    kind: `told ${studio.open}`,
    of: { [name]: value },
  });
  get("save-state").textContent = done ? "saved" : "";
}
/** What was typed a moment ago is told now. */
function flush() {
  clearTimeout(typing);
  for (const name of [...typed]) tellField(name);
}
for (const name of FIELDS) {
  get(name).addEventListener("input", () => {
    says();
    typed.add(name);
    clearTimeout(typing);
    if (["words", "negative"].includes(name)) typing = setTimeout(() => tellField(name), 500);
  });
  get(name).addEventListener("change", () => {
    clearTimeout(typing);
    tellField(name);
  });
}
goesOnOnce(() => {
  flush();
  return studio.acts.settled();
});
const beyond = new Beyond(
  canvas,
  () => {
    const { mend, mask, settled: stands } = studio.state; // what lies beyond is a mend of its own
    if (mend && (mask || stands)) {
      flush();
      studio.anew();
    } else studio.begin();
  },
  (fields) => studio.beyond(fields),
);
get("keep-choice").addEventListener("click", () => {
  const name = prompt("The choice is called");
  if (!name) return;
  studio.begin();
  studio.mend("/kept", { form: { name } });
});

// -- runs, variants, stack -----------------------------------------------------------------------------------

async function settled() {
  document.activeElement?.blur?.();
  flush();
  return (await studio.acts.settled()) !== false;
}
async function run(more = false, near = 0) {
  if (!(await settled())) return; // what was refused is told
  if (!studio.state.mend) {
    problem("Choose first what should change: brush over it, or press it.");
    return;
  }
  await studio.mend(`/run?more=${more}${near ? `&near=${near}` : ""}`);
}
get("run").addEventListener("click", () => run());

const thumbs = () => [...document.querySelectorAll("[data-variant]")];
const thumb = () => thumbs().find((one) => +one.dataset.variant === viewed);

// A wider canvas has another shape than the picture on which the mask lies.
get("shown").addEventListener("load", ({ target }) => {
  get("mend-picture")
    .closest(".stage")
    .style.setProperty("--ratio", `${target.naturalWidth} / ${target.naturalHeight}`);
  main.classList.toggle(
    "other-shape",
    Math.abs(target.naturalWidth / target.naturalHeight - canvas.width / canvas.height) > 0.01,
  );
});

/** Puts a picture on the stage; what begins from it begins from this one. */
function showPicture(address) {
  if (!get("shown").src.endsWith(address)) get("shown").src = address;
  for (const list of document.querySelectorAll(".under-picture [data-begin]"))
    [list.dataset.begin] = address.match(/[0-9a-f]{64}/);
}

/** Shows the variant that is looked at, the picture before, or the mend as it stands. */
function look() {
  const one = thumb();
  const address = `/pictures/${before ? studio.state.below : one ? one.dataset.picture : studio.state.picture}.png`;
  showPicture(address);
  main.classList.toggle("lifted", Boolean(one) || before);
  main.classList.toggle("settled", Boolean(studio.state.settled) && !acting);
  for (const each of thumbs()) each.setAttribute("aria-pressed", String(each === one));
  for (const id of ["accept", "near", "hold-beside"]) if (get(id)) get(id).disabled = !one;
  if (get("variant-says")) get("variant-says").textContent = one?.dataset.says ?? "";
}
function view(variant) {
  viewed = variant;
  look();
  if (thumb()) get("heard").textContent = `Variant ${thumbs().indexOf(thumb()) + 1} is shown. ${thumb().dataset.says}`;
}
function step(by) {
  const all = thumbs();
  if (!all.length) return;
  const at = all.indexOf(thumb());
  view(+all[(at + by + all.length) % all.length].dataset.variant);
}
function accept() {
  const variant = viewed;
  if (!thumb()) return;
  acting = false;
  studio.stack(`/variants/${variant}/accept`).then((told) => told && view(0));
}
function holdBeside() {
  const one = thumb();
  if (!one) return;
  const figure = get("beside");
  figure.hidden = false;
  figure.querySelector("img").src = `/pictures/${one.dataset.picture}.png`;
  figure.querySelector("figcaption").textContent = `variant ${thumbs().indexOf(one) + 1}, held beside`;
}

/** What a press on a button does: by its data, or by its id. */
const BY_DATA = {
  variant: ({ variant }) => view(+variant),
  mend: async ({ mend }) => {
    viewed = 0;
    await settled();
    studio.read(mend);
  },
  order: ({ of, order }) => studio.stack(`/mends/${of}/order?by=${order}`),
  shown: ({ of, shown }) => studio.stack(`/mends/${of}/shown?shown=${shown}`),
  off: ({ off }) => studio.stack(`/mends/${off}/off`),
  lead: ({ lead, picture }) => addCue(`/cues?picture=${picture}&role=${lead}`),
  ofShot: ({ ofShot }) => addCue(`/of-shot/${ofShot}`),
  stop: async ({ stop }) => {
    await fetch(`/runs/${stop}/stop`, { method: "POST", headers: { "HX-Request": "true" } }).catch(() => null);
    studio.read();
  },
};
const BY_ID = {
  accept,
  more: () => run(true),
  near: () => run(true, viewed),
  "hold-beside": holdBeside,
  "new-mend": () => {
    flush();
    studio.anew();
  },
  "redo-stack": () => studio.stack(`/redo?mend=${studio.open}`),
  copy,
  "as-take": asTake,
  undo: () => studio.stack(`/walk?back=true&mend=${studio.open}`),
  redo: () => studio.stack(`/walk?back=false&mend=${studio.open}`),
};
main.addEventListener("click", ({ target }) => {
  const button = target.closest("button");
  if (!button) return;
  const name = Object.keys(BY_DATA).find((one) => button.dataset[one]);
  if (name) BY_DATA[name](button.dataset);
  else BY_ID[button.id]?.();
});

function addCue(path) {
  studio.begin();
  studio.mend(path);
}
main.addEventListener("change", ({ target }) => {
  if (target.dataset.cue) studio.mend(`/cues/${target.dataset.cue}?weight=${target.value}`);
});
onEdits(main, (cue, edit) => studio.mend(`/cues/${cue}/lends`, { form: formOf(edit) }));
main.addEventListener("input", ({ target }) => {
  if (target.dataset.cue) target.nextElementSibling.textContent = (+target.value).toFixed(2);
});

async function copy() {
  const takes = [...document.querySelectorAll("[name=copy-to]:checked")].map((one) => ["take", one.value]);
  if (!takes.length) {
    problem("Choose the takes first to which this mend should go.");
    return;
  }
  studio.mend(`/copy?${new URLSearchParams(takes)}`);
}
async function asTake() {
  await settled();
  const told = await studio.stack("/take");
  if (told) problem(told.fresh ? `This is take ${told.number} now.` : `This is take ${told.number} already.`);
}

// -- what comes from elsewhere -------------------------------------------------------------------------------

document.addEventListener("moss:tick", ({ detail }) => {
  const own =
    (detail.made ?? []).includes(`mend ${studio.state.stack}`) ||
    (detail.runs ?? []).some((one) => one.stack === studio.state.stack);
  const read = (detail.made ?? []).some(
    (made) => made.startsWith("reading ") && get("mend-cues").innerHTML.includes(made.slice("reading ".length)),
  );
  if (own || read || detail.again || detail.hello) studio.read();
});
addEventListener("paste", ({ clipboardData }) => {
  const file = [...(clipboardData?.files ?? [])].find((f) => f.type.startsWith("image/"));
  if (file) bring(file);
});
canvas.addEventListener("dragover", (event) => event.preventDefault());
canvas.addEventListener("drop", (event) => {
  event.preventDefault();
  const [file] = event.dataTransfer.files;
  if (file) bring(file);
});

// -- how it is shown, keys -----------------------------------------------------------------------------------

const cover = () => {
  canvas.style.opacity = get("alone").checked ? 1 : get("veil-cover").value / 100;
};
get("veil-cover").addEventListener("input", cover);
get("alone").addEventListener("change", ({ target }) => {
  veil.alone = target.checked;
  veil.show();
  cover();
});
cover();

overlayKeys(main, {
  hands: ["brush", "outline", "box", "frame", "tone", "part", "window"],
  take,
  keys: {
    ArrowRight: (event) => stepped(event, 1),
    ArrowLeft: (event) => stepped(event, -1),
    k: accept,
    n: () => get("new-mend")?.click(),
    b: () => {
      before = true;
      look();
    },
  },
  sinks: look,
});
function stepped(event, by) {
  if (event.target.closest("input")) return;
  event.preventDefault();
  step(by);
}
addEventListener("keyup", (event) => {
  if (event.key !== "b") return;
  before = false;
  look();
});

take("brush");
stood(studio.state);
studio.acts.adopt();
