// Layouts: laid by a press, kept by a name, taken away and brought back.
import { asked } from "../ask.js";

const get = (id) => document.getElementById(id);

/** lay(name) : lays one. done() : resolves once all acts before are kept. problem(sentence) : tells it. */
export function chooseLayouts({ shot, lay, done, problem }) {
  get("layouts").addEventListener("click", ({ target }) => {
    const button = target.closest("[data-layout]");
    if (button) lay(button.dataset.layout);
  });
  get("keep-layout").addEventListener("click", async () => {
    await done();
    const { ok, told } = await asked(`/shots/${shot}/layouts`, {
      body: new URLSearchParams({ name: get("layout-name").value }),
    });
    if (ok) location.reload();
    else problem(told.problem);
  });
  get("layouts").addEventListener("click", async ({ target }) => {
    const { layoutOut, name } = target.dataset;
    if (!layoutOut) return;
    const { ok, told } = await asked(`/layouts/${layoutOut}/out`);
    if (!ok) {
      problem(told.problem);
      return;
    }
    const own = target.closest(".own-layout");
    own.hidden = true;
    const back = Object.assign(document.createElement("button"), {
      type: "button",
      className: "act",
      textContent: "bring it back",
    });
    back.addEventListener("click", async () => {
      const { ok: again, told: said } = await asked(`/layouts/${layoutOut}/out?back=true`);
      if (!again) {
        problem(said.problem);
        return;
      }
      own.hidden = false;
      get("layout-gone").replaceChildren();
    });
    get("layout-gone").replaceChildren(`“${name}” was taken away. `, back);
  });
}
