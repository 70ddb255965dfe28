// Keys: run Ctrl+Enter, undo Ctrl+Z and redo Ctrl+Shift+Z outside of fields, stop Escape, keep K, compare C, the anchor as a cue A,
// older and newer take with the arrows; to the words W, the takes T, the cue sheet S.

// A part of the page that was just swapped in answers only once htmx has taken it up: wait a frame or two for it.
function press(id, frames = 20) {
  const control = document.getElementById(id);
  if (!control) return;
  const waiting = control.matches("[hx-get], [hx-post]") && !("htmxPowered" in control.dataset);
  if (waiting && frames > 0) requestAnimationFrame(() => press(id, frames - 1));
  else control.click();
}

document.addEventListener("keydown", (event) => {
  if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) {
    event.preventDefault();
    press("run");
    return;
  }
  const typing = event.target.closest("input:not([type=checkbox], [type=range]), textarea, select");
  if (event.key === "Escape") {
    if (typing) event.target.blur();
    else press("stop");
    return;
  }
  if (event.key.toLowerCase() === "z" && (event.ctrlKey || event.metaKey) && !typing) {
    event.preventDefault();
    press(event.shiftKey ? "redo" : "undo");
    return;
  }
  if (event.target.type === "range" && event.key.startsWith("Arrow")) return;
  if (typing || event.ctrlKey || event.metaKey || event.altKey) return;
  const place = { w: "#words", t: "#strip li > a[tabindex='0']", s: "#cues [data-bar], #cues .press" }[event.key];
  if (place) {
    event.preventDefault();
    document.querySelector(place)?.focus();
    return;
  }
  const act = { k: "keep", c: "compare", a: "anchor-cue", ArrowLeft: "previous", ArrowRight: "next" }[event.key];
  if (act) {
    event.preventDefault();
    press(act);
  }
});
