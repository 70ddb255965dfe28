// What the studio does, told to this page while it is shown: `moss:tick` with the runs that changed, and what was made.
// Elements with data-waits hear of what they wait for by a `made` event.
const worker = new SharedWorker(new URL("./live-worker.js", import.meta.url), "moss live");
const tell = () => worker.port.postMessage(document.visibilityState === "visible" && !left ? "shown" : "hidden");
let left = false;

worker.port.onmessage = ({ data }) => {
  document.documentElement.dataset.live = "yes"; // for tests and styles: the stream has been heard
  status(data.active, data.away);
  if (data.away) return;
  document.dispatchEvent(new CustomEvent("moss:tick", { detail: data }));
  if (data.made) wake((name) => data.made.includes(name));
  if (data.again || data.hello) wake(() => true);
};
addEventListener("pagehide", () => {
  left = true;
  tell();
});
addEventListener("pageshow", () => {
  left = false;
  tell();
});
document.addEventListener("visibilitychange", tell);

function wake(made) {
  for (const element of document.querySelectorAll("[data-waits]")) {
    if (element.dataset.waits.split(", ").some(made)) htmx.trigger(element, "made");
  }
}

// What was made between drawing a page and hearing the stream is missed by both: whoever waits asks again by and by.
setInterval(() => document.visibilityState === "visible" && wake(() => true), 10_000);

function status(active, away) {
  const place = document.getElementById("status");
  const waiting = active.every((run) => run.state === "waiting");
  const told = away
    ? "the studio does not answer: trying again"
    : active.length
      ? `${active.length} run${active.length === 1 ? "" : "s"} ${waiting ? "waiting" : "at work"}`
      : "nothing running";
  if (place.dataset.told === told) return;
  place.dataset.told = told;
  const words = document.createElement("span");
  words.className = away ? "problem" : active.length ? "" : "idle";
  words.textContent = told;
  const dot = Object.assign(document.createElement("span"), { className: "dot" });
  place.replaceChildren(...(active.length && !away ? [dot, words] : [words]));
}
