// The tray: pictures held for comparing, on every page, by their buttons, or by H over any picture. It lives in this
// browser alone.
const KEY = "held";
const tray = document.getElementById("tray");
export const held = () => JSON.parse(localStorage.getItem(KEY) ?? "[]");

function show() {
  const names = held();
  tray.hidden = names.length === 0;
  tray.querySelector(".held").replaceChildren(
    ...names.map((name) => {
      const button = document.createElement("button");
      button.type = "button";
      button.title = "let go";
      button.dataset.hold = name;
      const image = new Image();
      image.src = `/pictures/${name}/thumbnail.jpg`;
      image.alt = "held picture";
      button.append(image);
      return button;
    }),
  );
  const go = tray.querySelector("a");
  go.href = `/compare?${names.map((name) => `p=${name}`).join("&")}`;
  go.textContent = names.length > 1 ? `compare ${names.length}` : "hold another to compare";
  go.toggleAttribute("aria-disabled", names.length < 2);
  mark();
}

function mark() {
  const names = held();
  for (const button of document.querySelectorAll("[data-hold]"))
    button.classList.toggle("on", names.includes(button.dataset.hold));
}

export function hold(name) {
  const names = held();
  localStorage.setItem(
    KEY,
    JSON.stringify(names.includes(name) ? names.filter((n) => n !== name) : [...names, name].slice(-4)),
  );
  show();
}

/** The name of the picture under the mouse, or in what has the focus. */
function pointedAt() {
  const image =
    document.querySelector("img:hover, image:hover") ?? document.activeElement?.querySelector?.(":scope > img");
  return /\/pictures\/([0-9a-f]{64})/.exec(image?.src ?? image?.href?.baseVal ?? "")?.[1];
}

document.addEventListener("click", (event) => {
  const button = event.target.closest("[data-hold]");
  if (button) hold(button.dataset.hold);
  else if (event.target.closest("[data-let-go]")) {
    localStorage.removeItem(KEY);
    show();
  } else if (event.target.closest("#tray a[aria-disabled]")) event.preventDefault();
});
document.addEventListener("keydown", (event) => {
  if (
    event.key.toLowerCase() !== "h" ||
    event.ctrlKey ||
    event.metaKey ||
    event.altKey ||
    event.target.closest("input, textarea, select")
  )
    return;
  const name = pointedAt() ?? document.querySelector("main [data-hold]")?.dataset.hold;
  if (name) hold(name);
});
document.addEventListener("htmx:after:swap", mark);
window.addEventListener("storage", show);
show();
