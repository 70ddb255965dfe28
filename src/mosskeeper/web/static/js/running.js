// The runs of a story: bars move with the ticks; the list is asked for anew when runs come, end, or go wrong.
const place = document.getElementById("running");
const story = +place.dataset.story;

document.addEventListener("moss:tick", ({ detail }) => {
  let stale = Boolean(detail.again);
  for (const run of (detail.runs ?? []).filter((one) => one.story === story)) {
    const line = place.querySelector(`[data-run="${run.run}"]`);
    if (!line || line.dataset.state !== run.state) stale = true;
    else {
      line.querySelector("progress").value = run.step;
      line.querySelector("small").textContent = `${run.state}, step ${run.step} of ${run.steps}`;
    }
  }
  if (stale) htmx.ajax("GET", `/stories/${story}/running`, { source: place, swap: "none" });
});
