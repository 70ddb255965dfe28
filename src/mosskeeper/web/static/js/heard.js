// What a screen reader hears of a run: its beginning, each take, its end, what went wrong; not every step.
const heard = document.getElementById("heard");
const now = () => {
  const {
    run = "",
    state = "",
    made = "0",
    message = "",
  } = document.querySelector("#run-state [data-run]")?.dataset ?? {};
  return { run, state, made: Number(made), message };
};
const SAID = {
  waiting: "The run waits its turn.",
  running: "The run has begun.",
  stopping: "The run stops after this step.",
  stopped: "The run was stopped.",
  done: "The run is done.",
};
let last = now();

document.addEventListener("htmx:after:swap", () => {
  const { run, state, made, message } = now();
  const told = [];
  if (run !== last.run || state !== last.state) told.push(SAID[state] ?? message);
  if (run === last.run && made > last.made) told.push(`Take ${made} of this run is there.`);
  last = { run, state, made, message };
  if (told.length) heard.textContent = told.join(" ");
});
