// Who, outfit and scene: the page is made anew, so these do not go the way of the other fields.
import { form } from "./draft.js";

const shot = document.querySelector("[data-shot]").dataset.shot;
for (const select of document.querySelectorAll("[data-recast]")) {
  select.addEventListener("change", (event) => {
    event.stopPropagation();
    htmx.ajax("POST", `/shots/${shot}/recast`, { source: form(), swap: "none" });
  });
}
