// One stream for all tabs of a browser: open while at least one of them is shown. What came last is kept for those
// that join.
const shown = new Set();
const runs = new Map(); // by shot
let source = null;
let workers = null;

function take(tick) {
  if (tick.hello) runs.clear();
  for (const run of tick.runs ?? []) runs.set(run.shot, run);
  workers = tick.workers ?? workers;
  return {
    ...tick,
    workers,
    active: [...runs.values()].filter((run) => ["waiting", "running", "stopping"].includes(run.state)),
  };
}

function update() {
  if (shown.size && !source) {
    source = new EventSource("/live");
    source.onmessage = ({ data }) => {
      const told = take(JSON.parse(data));
      for (const port of shown) port.postMessage(told);
    };
    source.onerror = () => {
      for (const port of shown) port.postMessage({ away: true, active: [], workers });
    };
  } else if (!shown.size && source) {
    source.close();
    source = null;
  }
}

onconnect = ({ ports: [port] }) => {
  port.onmessage = ({ data }) => {
    if (data === "shown") {
      const joins = source && source.readyState === EventSource.OPEN;
      shown.add(port);
      if (joins) port.postMessage(take({ runs: [...runs.values()], again: true }));
    } else shown.delete(port);
    update();
  };
};
