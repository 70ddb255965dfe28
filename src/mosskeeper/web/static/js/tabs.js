// @ts-check
// How much lies on each overlay stands on its index tab; it follows the hand.

/**
 * Puts a number on the tab of an overlay; none where nothing lies on it.
 * @param {string} path @param {number} count
 */
export function tally(path, count) {
  const tab = document.querySelector(`.index-tabs a[href*="/${path}?"], .index-tabs a[href$="/${path}"]`);
  if (!tab) return;
  tab.querySelector("b")?.remove();
  if (count) tab.append(" ", Object.assign(document.createElement("b"), { textContent: String(count) }));
}
