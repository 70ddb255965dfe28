// A picture from outside is brought to be mended; one that carries mends comes with them.
import { page } from "../page.js";
import { tell } from "../moved.js";

const main = document.getElementById("main");

export async function bring(file) {
  const body = new FormData();
  body.append("picture", file, file.name || "pasted.png");
  const answer = await fetch(`/shots/${main.dataset.shot}/mends/pictures`, { method: "POST", body, headers: { "Moss-Page": page } }).catch(() => null);
  const told = await answer?.json().catch(() => null);
  if (answer?.ok) location.href = `/shots/${main.dataset.shot}/mends?base=${told.base}`;
  else tell(document.getElementById("mend-problem"), told?.problem ?? "This picture could not be taken: it is too large at once, or the studio does not answer.");
}

document.getElementById("other-file").addEventListener("change", ({ target }) => { if (target.files[0]) bring(target.files[0]); target.value = ""; });
