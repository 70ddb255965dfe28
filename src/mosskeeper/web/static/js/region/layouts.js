// Layouts: laid by a press, kept by a name, taken away and brought back.
import { page } from "../page.js";
import { sent } from "../sent.js";

const get = (id) => document.getElementById(id);
const headers = { "Moss-Page": page };

/** lay(name) : lays one. done() : resolves once all acts before are kept. problem(sentence) : tells it. */
export function chooseLayouts({ shot, lay, done, problem }) {
  get("layouts").addEventListener("click", ({ target }) => { const button = target.closest("[data-layout]"); if (button) lay(button.dataset.layout); });
  get("keep-layout").addEventListener("click", async () => {
    await done();
    const body = new FormData();
    body.append("name", get("layout-name").value);
    const { told, refused } = await sent(() => `/shots/${shot}/layouts`, { body, headers, problem });
    if (refused) problem(told?.problem ?? "This could not be done. What you typed is still here.");
    else location.reload();
  });
  get("layouts").addEventListener("click", async ({ target }) => {
    const { layoutOut, name } = target.dataset;
    if (!layoutOut) return;
    const { refused } = await sent(() => `/layouts/${layoutOut}/out`, { headers, problem });
    if (refused) return;
    const own = target.closest(".own-layout");
    own.hidden = true;
    const back = Object.assign(document.createElement("button"), { type: "button", className: "act", textContent: "bring it back" });
    back.addEventListener("click", async () => { await sent(() => `/layouts/${layoutOut}/out?back=true`, { headers, problem }); own.hidden = false; get("layout-gone").replaceChildren(); });
    get("layout-gone").replaceChildren(`“${name}” was taken away. `, back);
  });
}
