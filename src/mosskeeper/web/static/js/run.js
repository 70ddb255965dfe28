// The run of this table, live: small ticks move the bar and the preview; whole parts are asked for when something is
// there to see.
const main = document.querySelector("[data-shot]");
const shot = +main.dataset.shot;
const ACTIVE = ["waiting", "running", "stopping"];
let seen = null; // state, takes and workers as the page has them
let asking = false;
let asked = false;

const drawn = () => document.querySelector("#run-state [data-run]");

const own = (run) => run.shot === shot && !run.stack;
const runOf = ({ runs, hello, active }) => runs?.find(own) ?? (hello ? active.find(own) : null);

document.addEventListener("moss:tick", ({ detail }) => {
  const run = runOf(detail);
  if (detail.hello || detail.again || (run && isNews(run))) refresh();
  else if (run && ACTIVE.includes(run.state)) move(run);
  if (detail.workers === null) return;
  if (seen !== null && detail.workers > 0 !== seen) refresh();
  seen = detail.workers > 0;
});

/** Whether a run has come to something that the page does not show yet. */
function isNews(run) {
  const now = drawn()?.dataset ?? {};
  return run.run !== +now.run || run.state !== now.state || run.made !== +now.made || run.message !== now.message;
}

function move(run) {
  const bar = document.querySelector("#run-state progress");
  if (!bar) return;
  bar.value = run.step;
  const told = document.querySelector("#run-state [data-told]");
  if (told && run.state === "running" && !run.sweep) told.textContent = words(run);
  if (run.preview) show(`/runs/${run.run}/previews/${run.preview}.jpg`);
}

function words(run) {
  const each = run.steps / run.takes;
  const take = Math.min(Math.floor(run.step / each) + 1, run.takes);
  const step = run.step < run.steps ? run.step % each : each;
  return step === 0
    ? `take ${take} of ${run.takes}, sketching what the words mean`
    : `take ${take} of ${run.takes}, step ${step} of ${each}`;
}

// The next preview takes the place of the last once it is there, so that the picture never flashes.
let latest = "";
function show(address) {
  const figure = document.querySelector("#live figure");
  if (!figure || latest === address) return;
  latest = address;
  const next = new Image();
  next.alt = "What the run sees so far";
  next.onload = () => {
    if (latest !== address || !figure.isConnected) return;
    const place = figure.querySelector("img, .noise");
    next.style.cssText = place.style.cssText;
    place.replaceWith(next);
    figure.dataset.preview = address.match(/(\d+)\.jpg/)[1];
    figure.querySelector("figcaption").textContent = "the picture as the run sees it";
  };
  next.src = address;
}

async function refresh() {
  asked = true;
  if (asking) return;
  asking = true;
  while (asked) {
    asked = false;
    const revision = document.querySelector("[name=revision]").value;
    const { run = "", state = "", made = "-1" } = drawn()?.dataset ?? {};
    const told = (made === "-1" || made === undefined ? "" : `&made=${made}`) + (run && `&run=${run}`);
    await htmx
      .ajax(
        "GET",
        `/shots/${shot}/live?state=${state}${told}&overlay=${main.dataset.overlay ?? ""}&revision=${revision}`,
        { source: main, swap: "none" },
      )
      .catch(() => {});
  }
  asking = false;
}
