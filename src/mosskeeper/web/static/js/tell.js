// @ts-check
// What is told beside the hand, with the ways out.

/**
 * Tells what went wrong; "" nothing.
 * @param {Element} place @param {string} sentence
 * @param {{ said: string, act: () => void }[]} [ways]  each a press: how it is called, and what it does
 */
export function tell(place, sentence, ways = []) {
  place.replaceChildren();
  if (!sentence) return;
  const told = Object.assign(document.createElement("p"), { className: "problem", textContent: `${sentence} ` });
  for (const { said, act } of ways) {
    const way = Object.assign(document.createElement("button"), {
      type: "button",
      className: "link",
      textContent: said,
    });
    way.addEventListener("click", act);
    told.append(way, " ");
  }
  place.append(told);
}
