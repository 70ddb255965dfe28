// The regions overlay: hand, list and plan brought together. Every act is one step, sent one after the other.
import { drag } from "../drag.js";
import { tell } from "../tell.js";
import { page } from "../page.js";
import { saved } from "../draft.js";
import { Acts, anew, freshId, goesOnOnce, Store } from "../acts.js";
import { asked, sendAct } from "../ask.js";
import { tally } from "../tabs.js";
import { formOf } from "../lends.js";
import { askWhatEachDid } from "./did.js";
import { chooseLayouts } from "./layouts.js";
import { overlayKeys } from "../overlay-keys.js";
import { List } from "./list.js";
import { Patch } from "./patch.js";

const get = (id) => document.getElementById(id);
const main = get("main");
const { shot, seed } = main.dataset;
const place = get("regions");
let state = JSON.parse(get("regions-begin").textContent);
let chosen = state.regions[0]?.id ?? "";
let picks = 0; // how often the artist chose a region
let hand = "box";
let patches = new Map();
let plan = { people: [], told: [], overlaps: [], view: null };

// -- what the studio is told -----------------------------------------------------------------------------------

const problem = (sentence, ways = []) => tell(get("region-problem"), sentence, ways);

/** The regions with an act that is not confirmed yet: those that change no mask show at once. */
function applied(now, { kind, of }) {
  if (kind === "told")
    return { ...now, regions: now.regions.map((one) => (one.id === of.region ? { ...one, ...of.fields } : one)) };
  if (kind === "off") return { ...now, regions: now.regions.filter(({ id }) => id !== of.region) };
  if (kind !== "order") return now;
  const regions = [...now.regions];
  const from = regions.findIndex(({ id }) => id === of.region);
  if (from < 0) return now;
  const [one] = regions.splice(from, 1);
  regions.splice(Math.min(Math.max(from + of.by, 0), regions.length), 0, one);
  return { ...now, regions: regions.map((region, n) => ({ ...region, letter: String.fromCharCode(65 + n) })) };
}
const acted = new Acts({
  state,
  apply: applied,
  store: new Store(`regions ${shot}`, page),
  send: sendAct,
  isState: (told) => Boolean(told.regions),
  shown: (now, act) => take(now, act),
  refused: (sentence) => problem(sentence),
  says: problem,
});
const act = (path, more) => {
  problem("");
  return acted.do(`/shots/${shot}/regions${path}`, more);
};
const NUMBERS = ["strength", "feather", "threshold", "start", "end"];
/** Tells a region something: fields of its own. */
function tellRegion(region, fields) {
  const entries = Object.entries(fields);
  const own = Object.fromEntries(
    entries.map(([name, value]) => [name, !NUMBERS.includes(name) ? value : value === "" ? null : +value]),
  );
  const form = Object.fromEntries(entries.map(([name, value]) => [name, String(value ?? "")]));
  return act(`/${region}`, { form, kind: "told", of: { region, fields: own } });
}

/** What the hand did a moment ago is told now. Null where nothing waits; else whether all was kept. */
function settled() {
  nudgedNow();
  list.now();
  return acted.settled();
}
goesOnOnce(settled);

const read = () =>
  acted.read(() => asked(`/shots/${shot}/regions.json`, { method: "GET" }).then(({ ok, told }) => (ok ? told : null)));

/** Shows the regions as they stand. done : an act that was confirmed just now; a region that it made is chosen. */
function take(now, done = null) {
  state = now;
  if (done?.of?.fresh && done.of.picks === picks) chosen = done.of.fresh;
  if (!state.regions.some(({ id }) => id === chosen)) chosen = state.regions.at(-1)?.id ?? "";
  if (changedElsewhere()) {
    anew();
    return;
  }
  main.dataset.rest = state.rest;
  tally("regions", state.regions.length);
  get("undo").disabled = !state.undoes;
  get("redo").disabled = !state.redoes;
  get("areas").replaceChildren(...state.areas.map(areaButton));
  show();
  if (!acted.waiting.length) planned();
}

/** Whether words of the whole picture that stand in the page are others by now, and not by the hand that is in them. */
function changedElsewhere() {
  const words = get("words");
  if (state.words === undefined || state.words === words.value || document.activeElement === words) return false;
  return Boolean(main.dataset.rest) && state.rest !== main.dataset.rest;
}

function areaButton({ cue, name, area }) {
  const button = Object.assign(document.createElement("button"), {
    type: "button",
    className: "act",
    textContent: `${name} acts ${area === "a part of its own" ? "in " : ""}${area}: make it a region`,
    title: "The part in which the reference acts is drawn and moved like any region",
  });
  button.dataset.cue = cue;
  return button;
}

/**
 * What an act that makes a region carries: its id, and that it is chosen unless the artist chooses another meanwhile.
 */
const makes = (fresh) => ({ kind: "made", of: { fresh, picks } });

function pick(id) {
  picks++;
  chosen = id;
  show();
}

// -- how it is shown -------------------------------------------------------------------------------------------

const list = new List({
  chosen: (id, focus) => {
    if (id && id !== chosen) pick(id);
    if (focus) place.focus({ preventScroll: true });
  },
  told: (id, name, value) => tellRegion(id, { [name]: value }),
  bordered: (id, name, value) => {
    const patch = patches.get(id);
    if (patch?.mask) {
      patch.region = { ...patch.region, [name]: value === "" ? null : +value };
      patch.draw();
    }
  },
  act: (id, name) => acts[name]?.(id),
  cast: (id, value) => {
    const [character, outfit] = value.split(" ");
    act(`/${id}/cast?character=${character}&outfit=${outfit}`);
  },
  lead: (id, picture, role) => act(`/${id}/cues?picture=${picture}&role=${role}`),
  weigh: (id, cue, weight) => act(`/${id}/cues/${cue}?weight=${weight}`),
  edit: (id, cue, edit) => act(`/${id}/cues/${cue}/lends`, { form: formOf(edit) }),
});
const acts = {
  mute: (id) => tellRegion(id, { on: !of(id).on }),
  solo: (id) => tellRegion(id, { solo: !of(id).solo }),
  front: (id) => act(`/${id}/order?by=-1`, { kind: "order", of: { region: id, by: -1 } }),
  back: (id) => act(`/${id}/order?by=1`, { kind: "order", of: { region: id, by: 1 } }),
  copy: (id) => {
    const fresh = freshId();
    act(`/${id}/copy?fresh=${fresh}`, makes(fresh));
  },
  off: (id) => act(`/${id}/off`, { kind: "off", of: { region: id } }),
};
const of = (id) => state.regions.find((region) => region.id === id);

async function show() {
  list.show(state.regions, chosen, plan.overlaps);
  const now = new Map([...state.regions.entries()].reverse().map(([n, region]) => [region.id, patchOf(region, n)]));
  for (const [id, patch] of patches) if (!now.has(id)) patch.remove();
  patches = now;
  await Promise.all([...patches.values()].map((patch) => patch.loading));
  for (const [id, patch] of patches) patch.marked(id === chosen);
  corner();
  main.dataset.ready = state.regions.map(({ id }) => id).join(" ") || "none"; // for tests: what is shown
}

/** The patch of a region as it stands: the one that lies there, where its mask is the same. */
function patchOf(region, n) {
  let patch = patches.get(region.id);
  if (patch?.region.mask !== region.mask || patch.n !== n) {
    patch?.remove();
    patch = new Patch(place, region, n);
    patch.loading = patch.load().catch(() => {});
  } else patch.takes(region);
  place.append(patch.canvas, patch.letter);
  return patch;
}

const grip = Object.assign(document.createElement("i"), {
  className: "region-grip",
  title: "Drag it: the region's size",
});
grip.dataset.drag = "";
function corner(box = patches.get(chosen)?.box) {
  grip.remove();
  if (!box) return;
  grip.style.left = `${100 * box[2]}%`;
  grip.style.top = `${100 * box[3]}%`;
  place.append(grip);
}

// -- the plan --------------------------------------------------------------------------------------------------

let flying = false;
let again = null;
async function planned(dragged = null) {
  if (flying) {
    again = { dragged };
    return;
  }
  flying = true;
  const { ok, told } = await asked(`/shots/${shot}/regions/plan?seed=${seed}`, {
    json: { dragged, view: dragged ? plan.view : null },
  });
  if (ok) {
    plan = told;
    tellPlan();
    main.dataset.planned = String(+(main.dataset.planned ?? 0) + 1);
  }
  flying = false;
  if (again) {
    const next = again;
    again = null;
    planned(next.dragged);
  }
}

function tellPlan() {
  get("region-told").replaceChildren(
    ...(plan.told.length ? plan.told : ["All of it fits."]).map((sentence) => {
      const item = Object.assign(document.createElement("li"), { textContent: sentence });
      const floats = /^Region ([A-H]) .*move it down (\d+) px/.exec(sentence);
      if (floats)
        item.append(
          " ",
          Object.assign(document.createElement("button"), {
            type: "button",
            className: "act",
            textContent: "move it down",
            onclick: () => down(floats[1].charCodeAt(0) - 65),
          }),
        );
      return item;
    }),
  );
  for (const old of place.querySelectorAll(".region-stands, .region-horizon")) old.remove();
  for (const { region, box, subject } of plan.people) {
    const figure = Object.assign(document.createElement("i"), { className: "region-stands", title: subject });
    [figure.style.left, figure.style.top, figure.style.width, figure.style.height] = [
      box[0],
      box[1],
      box[2] - box[0],
      box[3] - box[1],
    ].map((share) => `${100 * share}%`);
    figure.dataset.of = String.fromCharCode(65 + region);
    place.append(figure);
  }
  if (plan.view) {
    const line = Object.assign(document.createElement("i"), { className: "region-horizon" });
    line.style.top = `${100 * plan.view[0]}%`;
    place.append(line);
  }
  list.show(state.regions, chosen, plan.overlaps);
}

/** One press mends what floats: the region is moved to where its person stands. */
function down(n) {
  const region = state.regions[n];
  const person = plan.people.find((one) => one.region === n);
  const box = patches.get(region?.id)?.box;
  if (!person || !box) return;
  const by = person.box[3] - box[3];
  moveTo(region.id, [box[0], box[1] + by, box[2], box[3] + by]);
}

// -- the hand --------------------------------------------------------------------------------------------------

function at(event) {
  const box = place.getBoundingClientRect();
  return [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
}
const moveTo = (id, [x0, y0, x1, y1]) => act(`/${id}/move?x0=${x0}&y0=${y0}&x1=${x1}&y1=${y1}`);
const drawn = (region, shape) => act(`/${region}/shape`, { json: shape });
function laid(shape) {
  const fresh = freshId();
  return act(`?region=${fresh}`, { json: shape, ...makes(fresh) });
}

place.addEventListener("pointerdown", (event) => {
  if (event.button > 0) return;
  place.focus({ preventScroll: true });
  const start = at(event);
  if (event.target === grip) {
    carry(event, patches.get(chosen), true);
    return;
  }
  if (hand === "box") {
    const under = state.regions.map(({ id }) => patches.get(id)).filter((patch) => patch?.covers(...start));
    const own = under.find((patch) => patch.region.id === chosen);
    if (own || (under.length && !event.shiftKey)) {
      const patch = own ?? under[0];
      if (!own) pick(patch.region.id);
      carry(event, patch, false);
      return;
    }
  }
  if (hand === "outline" || hand === "box") open(event, start);
  else brush(event, start);
});

function carry(event, patch, scales) {
  if (!patch?.box) return;
  const [x0, y0, x1, y1] = patch.box;
  const { width, height } = place.getBoundingClientRect();
  let box = patch.box;
  drag(event, {
    move(dx, dy) {
      const [x, y] = [dx / width, dy / height];
      box = scales
        ? [x0, y0, Math.max(x1 + x, x0 + 0.02), Math.max(y1 + y, y0 + 0.02)]
        : [x0 + x, y0 + y, x1 + x, y1 + y];
      patch.placed(box);
      corner(box);
      planned({ [patch.region.id]: box });
    },
    end(moved) {
      if (moved) moveTo(patch.region.id, box);
    },
    cancel() {
      patch.placed(patch.box);
      corner();
      planned();
    },
  });
}

function open(event, start) {
  const points = [start];
  const sketch = Object.assign(document.createElement("canvas"), {
    className: "region-patch",
    width: place.clientWidth,
    height: place.clientHeight,
  });
  const pen = sketch.getContext("2d");
  [pen.strokeStyle, pen.lineWidth] = ["#23302B", 2];
  place.append(sketch);
  drag(event, {
    move(_dx, _dy, e) {
      const next = at(e);
      if (hand === "box") points.splice(1, 1, next);
      else points.push(next);
      pen.clearRect(0, 0, sketch.width, sketch.height);
      pen.beginPath();
      const px = points.map(([x, y]) => [x * sketch.width, y * sketch.height]);
      if (hand === "box") pen.rect(...px[0], px[1][0] - px[0][0], px[1][1] - px[0][1]);
      else px.forEach((point, k) => (k ? pen.lineTo(...point) : pen.moveTo(...point)));
      pen.stroke();
    },
    end(moved) {
      sketch.remove();
      if (!moved || points.length < 2) {
        const under = state.regions.find(({ id }) => patches.get(id)?.covers(...start));
        if (under) pick(under.id);
        return;
      }
      laid({ kind: hand, points, way: "only" });
    },
    cancel: () => sketch.remove(),
  });
}

function brush(event, start) {
  if (!chosen) {
    problem("Choose a region first, or drag one open: then brush adds to it, or takes away.");
    return;
  }
  const points = [start, start];
  const sketch = Object.assign(document.createElement("canvas"), {
    className: "region-patch",
    width: place.clientWidth,
    height: place.clientHeight,
  });
  const pen = sketch.getContext("2d");
  Object.assign(pen, {
    lineWidth: 0.06 * sketch.width,
    lineCap: "round",
    lineJoin: "round",
    strokeStyle: hand === "adds" ? "rgba(185, 196, 138, .6)" : "rgba(247, 244, 236, .8)",
  });
  place.append(sketch);
  drag(event, {
    move(_dx, _dy, e) {
      points.push(at(e));
      pen.clearRect(0, 0, sketch.width, sketch.height);
      pen.beginPath();
      points.forEach(([x, y], k) =>
        k ? pen.lineTo(x * sketch.width, y * sketch.height) : pen.moveTo(x * sketch.width, y * sketch.height),
      );
      pen.stroke();
    },
    end() {
      sketch.remove();
      drawn(chosen, { kind: "stroke", points, way: hand === "adds" ? "add" : "take" });
    },
    cancel: () => sketch.remove(),
  });
}

function takeHand(name) {
  hand = name;
  for (const button of document.querySelectorAll("[data-hand]"))
    button.setAttribute("aria-pressed", String(button.dataset.hand === name));
  place.dataset.hand = name;
}
get("hand").addEventListener("click", ({ target }) => {
  const button = target.closest("[data-hand]");
  if (button) takeHand(button.dataset.hand);
});
get("areas").addEventListener("click", ({ target }) => {
  if (!target.dataset.cue) return;
  const fresh = freshId();
  act(`/area?cue=${target.dataset.cue}&region=${fresh}`, makes(fresh));
});
get("propose").addEventListener("click", async () => {
  settled();
  await saved();
  if (await act("/propose")) anew();
});
let seeing = ""; // asked for, while a worker looks
async function seen(query) {
  const told = await act(`/seen?${query}`);
  if (!told?.waits) return;
  seeing = query;
  problem("What is seen in the picture is being looked for …");
}
main.addEventListener("click", ({ target }) => {
  if (target.dataset.seen !== undefined)
    seen(new URLSearchParams({ picture: target.dataset.picture, name: target.dataset.seen }));
});
document.addEventListener("moss:tick", ({ detail }) => {
  if (seeing && (detail.made ?? []).some((made) => made.startsWith("map choices:"))) {
    const query = seeing;
    seeing = "";
    problem("");
    seen(query);
  }
});
get("apart").addEventListener("click", () => act("/apart"));
get("region-cover").addEventListener("input", ({ target }) => {
  place.style.setProperty("--cover", target.value / 100);
});
get("stands").addEventListener("change", ({ target }) => place.classList.toggle("no-stands", !target.checked));
document.addEventListener("htmx:after:request", ({ detail }) => {
  if (/\/draft(\?|$)/.test(detail.ctx.request.action)) planned();
});

for (const way of ["undo", "redo"])
  get(way).addEventListener("click", async () => {
    await settled();
    const before = state.rest;
    const { ok, told: now } = await asked(`/shots/${shot}/${way}`).then((gone) =>
      gone.ok ? asked(`/shots/${shot}/regions.json`, { method: "GET" }) : gone,
    );
    if (!ok) problem(now.problem);
    else if (now.rest !== before) anew();
    else acted.take(now);
  });

const STEPS = {
  ArrowLeft: [-0.02, 0, 0],
  ArrowRight: [0.02, 0, 0],
  ArrowUp: [0, -0.02, 0],
  ArrowDown: [0, 0.02, 0],
  "+": [0, 0, 0.02],
  "-": [0, 0, -0.02],
};
/** What a key does to the chosen region while the hand is on the picture. */
const OF_REGION = {
  Delete: () => acts.off(chosen),
  PageUp: () => acts.front(chosen),
  PageDown: () => acts.back(chosen),
  Enter: ({ target }) => target === place && pick(after(chosen)),
  ...Object.fromEntries(Object.entries(STEPS).map(([key, by]) => [key, () => nudge(by)])),
};
const after = (id) =>
  state.regions[(state.regions.findIndex((region) => region.id === id) + 1) % state.regions.length].id;
const onPlace = (act) => (event) => {
  if (!place.contains(event.target) || !chosen) return;
  event.preventDefault();
  act(event);
};
overlayKeys(main, {
  hands: ["box", "outline", "adds", "takes away"],
  take: takeHand,
  keys: Object.fromEntries(Object.entries(OF_REGION).map(([key, act]) => [key, onPlace(act)])),
});

let nudging = 0;
let nudged = null;
/** Moves the chosen region by a step, or makes it larger or smaller; kept once the keys rest. */
function nudge([dx, dy, grows]) {
  const patch = patches.get(chosen);
  if (!patch?.box) return;
  if (nudged && nudged.of !== chosen) nudgedNow();
  const [x0, y0, x1, y1] = nudged?.box ?? patch.box;
  const far = [Math.max(x1 + dx + grows, x0 + 0.04), Math.max(y1 + dy + grows, y0 + 0.04)];
  nudged = { of: chosen, box: [x0 + dx, y0 + dy, ...far] };
  patch.placed(nudged.box);
  corner(nudged.box);
  clearTimeout(nudging);
  nudging = setTimeout(nudgedNow, 350);
}
function nudgedNow() {
  clearTimeout(nudging);
  if (nudged) moveTo(nudged.of, nudged.box);
  nudged = null;
}
document.addEventListener("moss:tick", ({ detail }) => {
  const cues = state.regions.flatMap((region) => region.cues);
  if (
    detail.again ||
    detail.hello ||
    (detail.made ?? []).some((made) => cues.some(({ picture }) => made === `reading ${picture}`))
  )
    read();
});

askWhatEachDid(main.dataset.take, problem);
chooseLayouts({
  shot,
  problem,
  lay: (name) => act(`/layout?name=${encodeURIComponent(name)}`),
  done: () => acted.settled(),
});
takeHand("box");
take(state);
acted.adopt();
