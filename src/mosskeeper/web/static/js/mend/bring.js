// A picture from outside is brought to be mended; one that carries mends comes with them.
import { page } from "../page.js";
import { tell } from "../tell.js";

const main = document.getElementById("main");

export async function bring(file) {
  const body = new FormData();
  body.append("picture", file, file.name || "pasted.png");
  const answer = await fetch(`/shots/${main.dataset.shot}/mends/pictures`, {
    method: "POST",
    body,
    headers: { "Moss-Page": page },
  }).catch(() => null);
  const told = await answer?.json().catch(() => null);
  if (answer?.ok) location.href = `/shots/${main.dataset.shot}/mends?base=${told.base}`;
  else
    tell(
      document.getElementById("mend-problem"),
      told?.problem ?? "This picture could not be taken: it is too large at once, or the studio does not answer.",
    );
}

document.getElementById("other-file").addEventListener("change", ({ target }) => {
  if (target.files[0]) bring(target.files[0]);
  target.value = "";
});
// An empty canvas, or two pictures joined: a worker draws it, and this page goes there once it hears of it.
let waits = false;
async function drawn(address) {
  waits = true;
  const place = document.getElementById("mend-problem");
  tell(place, "");
  const answer = await fetch(address, { method: "POST", headers: { "Moss-Page": page } }).catch(() => null);
  if (answer?.ok) tell(place, "The canvas is being drawn …");
  else tell(place, (await answer?.json().catch(() => null))?.problem ?? "The studio does not answer. Try it again.");
}
document.addEventListener("moss:tick", ({ detail }) => {
  if (!waits) return;
  for (const made of detail.made ?? []) {
    if (made.startsWith(`canvas ${main.dataset.shot} `))
      location.href = `/shots/${main.dataset.shot}/mends?base=${made.split(" ")[2]}`;
    else if (made.startsWith(`no canvas ${main.dataset.shot} `)) {
      waits = false;
      tell(document.getElementById("mend-problem"), made.split(" ").slice(3).join(" "));
    }
  }
});
document
  .getElementById("begin-empty")
  .addEventListener("click", () => drawn(`/shots/${main.dataset.shot}/mends/empty`));
main.addEventListener("click", ({ target }) => {
  if (target.id === "full-size") drawn(`/stacks/${main.dataset.stack}/full`);
});
if (new URLSearchParams(location.search).has("join")) {
  const joining = document.getElementById("joining");
  joining?.setAttribute("open", "");
  joining?.querySelector("summary")?.focus();
}
document.getElementById("join")?.addEventListener("click", () => {
  const others = [...document.querySelectorAll("[name=join-with]:checked")].flatMap((one) => [
    ["other", one.value],
    ["theirs", one.closest("label").querySelector("[data-of]").value],
  ]);
  if (!others.length || others.length > 6) {
    tell(
      document.getElementById("mend-problem"),
      others.length
        ? "At most four pictures are joined at once: this one and three others."
        : "Choose the pictures first that should be joined to this one.",
    );
    return;
  }
  const value = (id) => document.getElementById(id).value;
  const query = new URLSearchParams([
    ["first", main.dataset.base],
    ...others,
    ["side", value("join-side")],
    ["gap", value("join-gap")],
    ["tones", value("join-tones")],
    ["stays", value("join-stays")],
    ["mend", main.dataset.mend ?? ""],
  ]);
  drawn(`/shots/${main.dataset.shot}/mends/join?${query}`);
});
