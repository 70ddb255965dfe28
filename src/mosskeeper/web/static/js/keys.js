// Keys: run Ctrl+Enter, undo Ctrl+Z and redo Ctrl+Shift+Z outside of fields, stop Escape, keep K, compare C, the
// anchor as a cue A, older and newer take with the arrows; to the words W, the takes T, the cue sheet S.

// A part of the page that was just swapped in answers only once htmx has taken it up: wait a frame or two for it.
function press(id, frames = 20) {
  const control = document.getElementById(id);
  if (!control) return;
  const waiting = control.matches("[hx-get], [hx-post]") && !("htmxPowered" in control.dataset);
  if (waiting && frames > 0) requestAnimationFrame(() => press(id, frames - 1));
  else control.click();
}

const PLACES = { w: "#words", t: "#strip li > a[tabindex='0']", s: "#cues [data-bar], #cues .press" };
const PRESSES = { k: "keep", c: "compare", a: "anchor-cue", ArrowLeft: "previous", ArrowRight: "next" };

document.addEventListener("keydown", (event) => {
  const typing = event.target.closest("input:not([type=checkbox], [type=range]), textarea, select");
  const held = event.ctrlKey || event.metaKey;
  if (held) withHeld(event, typing);
  else if (event.key === "Escape") {
    if (typing) event.target.blur();
    else press("stop");
  } else if (!typing && !event.altKey) alone(event);
});

/** With Ctrl or Meta: run, undo, redo. */
function withHeld(event, typing) {
  if (event.key === "Enter") {
    event.preventDefault();
    press("run");
  } else if (event.key.toLowerCase() === "z" && !typing) {
    event.preventDefault();
    press(event.shiftKey ? "redo" : "undo");
  }
}

function alone(event) {
  if (event.target.type === "range" && event.key.startsWith("Arrow")) return;
  const [place, control] = [PLACES[event.key], PRESSES[event.key]];
  if (!place && !control) return;
  event.preventDefault();
  if (place) document.querySelector(place)?.focus();
  else press(control);
}
