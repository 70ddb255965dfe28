/**
 * Tells beside the hand what went wrong. Where another tab was first, both ways out stand there.
 *
 * moved : null, or { theirs, mine } with what each way out is called (`said`) and does (`act`).
 */
export function tell(place, sentence, moved = null) {
  place.replaceChildren();
  if (!sentence) return;
  const told = Object.assign(document.createElement("p"), { className: "problem", textContent: `${sentence} ` });
  for (const { said, act } of moved ? [moved.theirs, moved.mine] : []) {
    const way = Object.assign(document.createElement("button"), { type: "button", className: "link", textContent: said });
    way.addEventListener("click", act);
    told.append(way, " ");
  }
  place.append(told);
}
