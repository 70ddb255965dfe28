import "./submits.js";

// A sweep, a sheet or faces put on pictures, live: the bar moves with the ticks; the pictures are asked for anew when
// one came or was measured.
const main = document.querySelector("[data-sweep]");
const { sweep, live } = main.dataset;
const ask = () => htmx.ajax("GET", live, { source: main, swap: "none" });

document.addEventListener("moss:tick", ({ detail }) => {
  const run = (detail.runs ?? []).find((one) => one.run === +sweep);
  const state = document.querySelector("#sweep-state [data-made]");
  const measured = (detail.made ?? []).some((name) => main.querySelector(`[data-measures="${name}"]`));
  if (detail.again || measured || (run && (run.made !== +state.dataset.made || run.state !== state.dataset.state)))
    ask();
  else if (run) {
    const bar = document.querySelector("#sweep-state progress");
    if (bar) bar.value = run.step;
  }
});
