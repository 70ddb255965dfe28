// Small handles are taken hold of by a press anywhere near them, so that fingers find them.
const REACH = 15; // CSS px from the middle: wider than the least size of a target, 24 px

/** The handle nearest to the pointer, or undefined where none is in reach. */
export function near(event, handles) {
  let found;
  let least = REACH;
  for (const handle of handles) {
    const box = handle.getBoundingClientRect();
    const away = Math.hypot(box.x + box.width / 2 - event.clientX, box.y + box.height / 2 - event.clientY);
    if (away < least) [found, least] = [handle, away];
  }
  return found;
}
