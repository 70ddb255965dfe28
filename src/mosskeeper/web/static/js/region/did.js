// What each region of a take did: asked for, shown once a worker has found it; what bled becomes a mend by one press.
import { asked } from "../ask.js";
import { page } from "../page.js";

const get = (id) => document.getElementById(id);
const headers = { "Moss-Page": page };

/** take : whose regions are asked about. problem(sentence) : tells it. */
export function askWhatEachDid(take, problem) {
  let key = "";

  get("influences")?.addEventListener("click", async ({ target }) => {
    const { region } = target.dataset;
    if (region === undefined) return;
    key = `/takes/${take}/influence/${region}`;
    get("influence-told").replaceChildren(
      Object.assign(document.createElement("li"), { textContent: "is being looked for …" }),
    );
    const answer = await fetch(key, { method: "POST", headers }).catch(() => null);
    if (answer?.status === 204) did();
    else if (!answer?.ok)
      get("influence-told").textContent =
        (await answer?.json().catch(() => null))?.problem ?? "The studio does not answer.";
  });
  get("mend-bled")?.addEventListener("click", async () => {
    const { ok, told } = await asked(`${key}/mend`);
    if (ok) location.assign(told.to);
    else problem(told.problem);
  });
  async function did() {
    const {
      told,
      acts = 0,
      out = "",
    } = await fetch(`${key}.json`)
      .then((answer) => answer.json())
      .catch(() => ({}));
    if (!told) return;
    get("influence-told").replaceChildren(
      ...told.map((sentence) => Object.assign(document.createElement("li"), { textContent: sentence })),
    );
    get("mend-bled").hidden = !out;
    get("influence-map").src = `${key}.png`;
    get("influence-map").hidden = !acts;
  }
  document.addEventListener("moss:tick", ({ detail }) => {
    const [, , take, , region] = key.split("/");
    if (key && (detail.made ?? []).includes(`map influence:${take}:${region}`)) did();
  });
}
