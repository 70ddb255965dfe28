// @ts-check
// How this open page calls itself, so that the studio tells its edits from those of other tabs.
import { confirmed } from "./acts.js";

export const page = crypto
  .getRandomValues(new Uint32Array(2))
  .reduce((id, n) => id + n.toString(36), "")
  .slice(0, 16);

document.addEventListener("htmx:config:request", (event) => {
  const { headers } = /** @type {CustomEvent} */ (event).detail.ctx.request;
  headers["Moss-Page"] = page;
  const before = confirmed(); // on which a run stands
  if (before.length) headers["Moss-After"] = before.join(",");
});
