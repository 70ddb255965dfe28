// Lists of pictures and rows are one stop of the Tab key each; inside, arrow keys lead to the nearest in their
// direction.
const ITEMS = ".cell, .add-shot button, #strip li > a, [data-entry] > a, .shelf-row h2 a, .farthest a, .sweep-cell";
const lists = () => [...document.querySelectorAll("[data-rove]")];
const itemsOf = (list) => [...list.querySelectorAll(ITEMS)];

function settle() {
  for (const list of lists()) {
    const items = itemsOf(list);
    const stop =
      items.find((item) => item === document.activeElement) ??
      items.find((item) => item.ariaCurrent === "true") ??
      items[0];
    for (const item of items) item.tabIndex = item === stop ? 0 : -1;
  }
}

const TOWARDS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** The item nearest to `from` in a direction: what lies straight ahead before what lies aside. */
function nearest(items, from, [dx, dy]) {
  const middle = (item) => {
    const r = item.getBoundingClientRect();
    return [r.left + r.width / 2, r.top + r.height / 2];
  };
  const [x, y] = middle(from);
  const far = (item) => {
    const [a, b] = middle(item);
    const ahead = (a - x) * dx + (b - y) * dy;
    const aside = Math.abs((a - x) * dy) + Math.abs((b - y) * dx);
    return ahead < 4 ? Infinity : ahead + 3 * aside;
  };
  const ways = items.filter((item) => item !== from).map((item) => [far(item), item]);
  return ways.filter(([way]) => way < Infinity).sort(([a], [b]) => a - b)[0]?.[1];
}

document.addEventListener(
  "keydown",
  (event) => {
    const towards = TOWARDS[event.key];
    if (!towards || event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return;
    const list = event.target.closest?.("[data-rove]");
    if (list && event.target.matches(ITEMS)) along(event, list, towards);
    else if (event.target === document.body && event.key === "ArrowDown") into(event);
  },
  true,
);

function along(event, list, towards) {
  const next = nearest(itemsOf(list), event.target, towards);
  if (!next) return;
  event.preventDefault();
  event.stopPropagation();
  event.target.tabIndex = -1;
  next.tabIndex = 0;
  next.focus();
}

/** From nowhere into the first list. */
function into(event) {
  const stops = lists().map((one) => itemsOf(one).find((item) => item.tabIndex === 0));
  const first = stops.find(Boolean);
  if (!first) return;
  event.preventDefault();
  first.focus();
}
document.addEventListener("htmx:after:swap", settle);
settle();
