// What the hand did is kept one act after the other, a moment later: runs and ways to other pages wait for it.
const WAIT = "#run, a[href], [formaction]";
let passes = false;
let leaves = false;

/** settled() : null where nothing waits; else a promise of whether all is kept. What could not be kept is told: then nothing goes on. */
export function goesOnOnce(settled) {
  document.addEventListener("click", async (event) => {
    const way = event.target.closest?.(WAIT);
    const waits = !way || passes || event.ctrlKey || event.metaKey || event.shiftKey ? null : settled();
    if (!waits) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    if (!(await waits)) return;
    passes = true;
    way.click();
    passes = false;
  }, true);
  addEventListener("beforeunload", (event) => { if (!leaves && settled()) event.preventDefault(); });
}

/** Shows the page anew, whatever it still waits for: the studio said that it has changed. */
export function anew() {
  leaves = true;
  location.reload();
}
