// Keys that all overlays have: space lifts what lies on the picture, digits choose what the hand does.
const FIELDS = "input:not([type=radio], [type=checkbox], [type=range]), textarea, select";
const PRESSED = "button, a, label, input, summary, [role=button]"; // where space presses

/**
 * hands : what the digits choose, from 1 on. take(hand) : chooses it. keys : what others do, by the key; each is
 * given the event.
 * sinks() : space is up again. Nothing is done while somebody types, or with Alt, Ctrl or Meta held.
 */
export function overlayKeys(
  main,
  { hands = [], take = () => {}, keys = {}, sinks = () => main.classList.remove("lifted") },
) {
  document.addEventListener("keydown", (event) => {
    if (event.target.closest(FIELDS) || event.altKey || event.ctrlKey || event.metaKey) return;
    if (event.code === "Space") {
      if (event.target.closest(PRESSED)) return;
      event.preventDefault();
      main.classList.add("lifted");
    } else if (hands[+event.key - 1]) take(hands[+event.key - 1]);
    else keys[event.key]?.(event);
  });
  addEventListener("keyup", (event) => {
    if (event.code === "Space") sinks();
  });
}
