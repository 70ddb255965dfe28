// @ts-check
// What begins from a picture: variations, runs that start from it, references, words, people cut out of it.
import { asked } from "./ask.js";

const main = /** @type {HTMLElement} */ (document.getElementById("main"));
const { shot } = main.dataset;
/** The cut-out that is waited for: its name, and the list that it was asked in. @type {[string, HTMLElement] | null} */
let waits = null;

/** @param {Element} list @param {string} sentence */
function say(list, sentence) {
  const place = list.querySelector(".begin-says");
  if (place) place.textContent = sentence;
}

/** @type {Record<string, (list: HTMLElement, picture: string, press: HTMLElement) => unknown>} */
const ACTS = {
  async vary(list, picture, press) {
    const { told } = await asked(`/shots/${shot}/begin/${picture}/vary?amount=${press.dataset.vary}`);
    say(list, told.problem ?? told.says);
  },
  async fromIt(list, picture) {
    const { ok, told } = await asked(`/shots/${shot}/begin/${picture}`);
    if (ok) location.assign(told.to);
    else say(list, told.problem);
  },
  async asReference(list, picture) {
    const answer = await fetch(`/shots/${shot}/cues/${picture}`, { method: "POST" }).catch(() => null);
    if (answer?.ok) location.assign(`/shots/${shot}`);
    else say(list, "This could not be put on the cue sheet. Try it again.");
  },
  wordsOf(list, picture) {
    if (document.getElementById("word-offers")) {
      const { htmx } = /** @type {{ htmx: { ajax: Function } }} */ (/** @type {unknown} */ (window));
      htmx.ajax("GET", `/shots/${shot}/words/from/${picture}`, { source: list, swap: "none" });
    } else location.assign(`/shots/${shot}?words=${picture}`);
  },
  async cutOut(list, picture) {
    const answer = await fetch(`/pictures/${picture}/cut-out`, { method: "POST" }).catch(() => null);
    if (answer?.status === 204) taken(picture);
    else if (answer?.status === 202) {
      waits = [picture, list];
      say(list, "is being cut out …");
    } else say(list, (await answer?.json().catch(() => null))?.problem ?? "The studio does not answer. Try it again.");
  },
};

/** Hands the cut-out over as a file. @param {string} picture */
function taken(picture) {
  Object.assign(document.createElement("a"), { href: `/pictures/${picture}/cut-out.png`, download: "" }).click();
}

const asks = new URLSearchParams(location.search).get("words");
if (asks && document.getElementById("word-offers")) {
  const place = /** @type {HTMLElement} */ (document.getElementById("words-panel"));
  ACTS.wordsOf(place, asks, place);
}
document.addEventListener("click", ({ target }) => {
  const press = /** @type {HTMLElement | null} */ (/** @type {Element} */ (target).closest?.("[data-begin] button"));
  const list = /** @type {HTMLElement | null} */ (press?.closest("[data-begin]"));
  if (!press || !list) return;
  const act = Object.keys(ACTS).find((name) => name in press.dataset);
  if (act) ACTS[act](list, list.dataset.begin ?? "", press);
});
document.addEventListener("moss:tick", (event) => {
  const made = /** @type {CustomEvent<{ made?: string[] }>} */ (event).detail.made ?? [];
  if (!waits || !made.includes(`map cut-out:${waits[0]}`)) return;
  const [picture, list] = waits;
  waits = null;
  say(list, "");
  taken(picture);
});
