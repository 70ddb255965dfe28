// The fields of the light table, and how what is edited in them gets saved.
//
// Of every field is known what the studio last said stands in it (`known`) and what stood in the page then (`raw`). A
// field is edited when it differs from that. Only edited fields are sent, each with what it replaces, so that edits
// of different things in several tabs merge, and of the same thing none is lost. They are put together when a request
// really goes out: one that had to wait for another carries what stands there by then.
import "./page.js";

export const form = () => document.getElementById("recipe");
export const field = (name) => form().elements.namedItem(name);

const known = new Map();
const raw = new Map();
let flying = new Map(); // what a request under way carries: going back from that to `raw` is an edit, too
const kept = `moss-shot-${document.querySelector("[data-shot]").dataset.shot}`;
const SAVES = /\/shots\/\d+\/(draft|run|recast)(\?|$)/;
const same = (a, b) => a.length === b.length && a.every((value, i) => value === b[i]);

/** Sets a field as if the artist had typed. */
export function set(name, value) {
  const input = field(name);
  input.value = value;
  input.dispatchEvent(new Event("input", { bubbles: true }));
  input.dispatchEvent(new Event("change", { bubbles: true }));
}

const stated = () => JSON.parse(document.querySelector("#revision [data-fields]").dataset.fields);
const standard = (name) => (name.startsWith("emphasis:") ? ["1"] : name.startsWith("cue-") ? null : [""]);
const inputsOf = (name) => [...form().elements].filter((input) => input.name === name);

const chosen = { value: (input) => input.value, checked: (input) => input.checked };
const drawn = {
  // as the page came from the studio, whatever was typed before this script ran
  value: (input) =>
    input.options
      ? ([...input.options].find((option) => option.defaultSelected) ?? input.options[0]).value
      : input.defaultValue,
  checked: (input) => input.defaultChecked,
};

/** What stands in each field of the page now, by its name; or stood there when it was drawn. */
function values({ value, checked } = chosen) {
  const out = new Map();
  for (const input of form().elements) {
    if (!isOfRecipe(input)) continue;
    const of = out.get(input.name) ?? [];
    if (input.type !== "checkbox") of.push(value(input));
    else if (input.name !== "styles") of.push(checked(input) ? "yes" : "");
    else if (checked(input)) of.push(input.value);
    out.set(input.name, of);
  }
  return out;
}

/** Whether a field of the form is one of the recipe's, which is saved by itself. */
function isOfRecipe({ name, type, dataset }) {
  if (!name || name === "revision" || ["file", "submit"].includes(type)) return false;
  return dataset.recast === undefined && dataset.aside === undefined;
}

function put(name, value) {
  for (const [i, input] of inputsOf(name).entries()) {
    if (input.type === "checkbox") input.checked = name === "styles" ? value.includes(input.value) : value[0] === "yes";
    else input.value = value[i] ?? value[0] ?? "";
  }
  form().dispatchEvent(new CustomEvent("shown", { detail: name, bubbles: true }));
}

const edited = () => [...values()].filter(([name, now]) => known.has(name) && !same(now, raw.get(name)));
const unsaved = () =>
  [...values()].filter(
    ([name, now]) => known.has(name) && ![raw, flying].every((of) => same(now, of.get(name) ?? now)),
  );

/** The page takes over what the studio says stands in each field; what was edited since stays, and will be sent. */
function reconcile(sent = new Map(), refused = new Set()) {
  const says = stated();
  const fresh = values(drawn);
  for (const [name, now] of values()) {
    const theirs = says[name] ?? standard(name);
    if (theirs === null) continue;
    const mine = refused.has(name) ? undefined : sent.get(name);
    if (!known.has(name)) takeOver(name, theirs, fresh.get(name));
    else if (same(now, theirs)) takeOver(name, theirs, now);
    else if (mine) takeOver(name, theirs, mine);
    else if (same(now, raw.get(name))) follow(name, theirs);
  }
  for (const name of [...known.keys()].filter((one) => !inputsOf(one).length)) {
    known.delete(name);
    raw.delete(name);
  }
}

/** A field in which nothing was typed says what the studio says. */
function follow(name, theirs) {
  if (!same(theirs, known.get(name))) put(name, theirs);
  takeOver(name, theirs, values().get(name));
}

function takeOver(name, theirs, stands) {
  known.set(name, theirs);
  raw.set(name, stands);
}

/** The page takes over fields that another way than the form's own has saved. */
export function adopt(revision, fields) {
  const own = field("revision");
  own.value = revision;
  own.dataset.fields = JSON.stringify(fields);
  reconcile();
}

// -- saving ------------------------------------------------------------------------------------------------

let waiting = 0;
const save = () => form().dispatchEvent(new CustomEvent("save"));

let ends = []; // told when nothing typed waits to be kept any more

/** Resolves once all that was typed is kept, or could not be. */
export function saved() {
  if (!edited().length && !flying.size) return Promise.resolve();
  save();
  return new Promise((done) => ends.push(done));
}

document.addEventListener("htmx:before:request", ({ detail: { ctx } }) => {
  if (!SAVES.test(ctx.request.action)) return;
  const body = new URLSearchParams([["revision", field("revision").value]]);
  ctx.sent = new Map(edited());
  flying = ctx.sent;
  for (const [name, now] of ctx.sent) {
    for (const value of now.length ? now : [""]) body.append(name, value);
    for (const value of known.get(name).length ? known.get(name) : [""]) body.append(`was-${name}`, value);
  }
  if (ctx.request.action.includes("/recast"))
    for (const select of document.querySelectorAll("[data-recast]")) body.append(select.name, select.value);
  ctx.request.body = body;
});

// An answer that was drawn before an edit was saved, and comes after the answer to that, tells of the table as it
// was: what it says of pictures and runs holds, what it says of the draft does not.
const OF_DRAFT = new Set(["cues", "held", "hints", "history", "mirror", "revision", "run-facts", "seed-says"]);
const idOf = ({ target }) => (typeof target === "string" ? target.slice(1) : target?.id);
const drawnAt = (parent) => Number(parent.querySelector("#cues")?.dataset.revision ?? 0);
function withoutOlder(tasks) {
  const cues = tasks.find((task) => idOf(task) === "cues");
  if (!cues || drawnAt(cues.fragment) >= Math.max(Number(field("revision").value), drawnAt(document))) return;
  tasks.splice(0, tasks.length, ...tasks.filter((task) => !OF_DRAFT.has(idOf(task))));
}

// Parts of the form that an answer brings must not take away what was edited while it was under way.
let before = null;
document.addEventListener("htmx:before:swap", ({ detail }) => {
  withoutOlder(detail.tasks);
  before ??= new Map(unsaved());
});
document.addEventListener("htmx:after:swap", () => {
  for (const [name, mine] of before ?? []) {
    const now = values().get(name);
    if (now && !same(now, mine)) put(name, mine);
  }
});

document.addEventListener("htmx:after:request", ({ detail: { ctx } }) => {
  const status = ctx.response?.status;
  if (SAVES.test(ctx.request.action) && (status === 503 || status === undefined)) retry();
});
document.addEventListener("htmx:finally:request", ({ detail: { ctx } }) => {
  before = null;
  if (ctx.sent === flying) flying = new Map();
  const status = ctx.response?.status;
  if (status === 200 || status === 409 || status === 422) {
    const refused = new Set([...document.querySelectorAll("[data-clash]")].map((clash) => clash.dataset.clash));
    reconcile(status === 422 ? new Map() : ctx.sent, refused);
    keep();
    if (ctx.sent && status === 200 && edited().length)
      save(); // typed while the answer was under way
    else if (ctx.sent) {
      ends.forEach((done) => done());
      ends = [];
    }
  }
});
document.addEventListener("htmx:error", ({ target, detail }) => {
  if (target.closest?.("#recipe") && !detail.ctx?.response) retry();
});
function retry() {
  clearTimeout(waiting);
  waiting = setTimeout(save, 3000);
}

// -- clashes -----------------------------------------------------------------------------------------------

document.addEventListener("click", ({ target }) => {
  const clash = target.closest?.("[data-clash] [data-take]")?.closest("[data-clash]");
  if (!clash) return;
  const name = clash.dataset.clash;
  const says = stated()[name] ?? standard(name);
  if (says && inputsOf(name).length) {
    known.set(name, says);
    if (target.closest("[data-take]").dataset.take === "theirs") {
      put(name, says);
      raw.set(name, values().get(name));
    }
  }
  clash.remove();
  keep();
  save();
});

// -- what was typed survives errors, crashes and reloads ---------------------------------------------------

function keep() {
  const now = unsaved().map(([name, mine]) => [
    name,
    mine,
    same(mine, raw.get(name)) ? flying.get(name) : known.get(name),
  ]);
  if (now.length) localStorage.setItem(kept, JSON.stringify(now));
  else localStorage.removeItem(kept);
}

function restore() {
  for (const [name, mine, was] of JSON.parse(localStorage.getItem(kept) ?? "[]")) {
    if (!inputsOf(name).length || !known.has(name)) continue;
    const says = stated()[name] ?? standard(name);
    if (says && same(mine, says)) continue; // it was saved; the page went before it heard of that
    put(name, mine);
    if (was) {
      known.set(name, was);
      raw.set(name, was);
    } // so that a change made elsewhere meanwhile is told, not overwritten
  }
  keep(); // also what was typed before this script ran
  if (edited().length) save();
}

function typed({ target }) {
  if (target.form !== form()) return;
  if (before) {
    // while an answer is being put in: one act of the hand may set several fields
    if (known.has(target.name)) before.set(target.name, values().get(target.name));
    for (const [name, mine] of unsaved()) before.set(name, mine);
  }
  keep();
}
document.addEventListener("input", typed);
document.addEventListener("change", typed);
reconcile();
addEventListener("load", restore);
