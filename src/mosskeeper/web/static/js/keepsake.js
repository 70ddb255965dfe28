// Keeps what was typed in this browser until the server has it, over errors, crashes and reloads.
import { field, form } from "./form.js";

const key = `moss-shot-${document.querySelector("[data-shot]").dataset.shot}`;
let typed = 0;
let leaving = false;
window.addEventListener("beforeunload", () => { leaving = true; });

function remember() {
  typed += 1;
  const values = {};
  for (const [name, value] of new FormData(form())) {
    if (typeof value === "string" && name !== "revision") (values[name] ??= []).push(value);
  }
  localStorage.setItem(key, JSON.stringify(values));
}

function restore() {
  const kept = JSON.parse(localStorage.getItem(key) ?? "null");
  if (!kept) return;
  for (const input of form().elements) {
    if (!input.name || ["hidden", "file"].includes(input.type) || input.dataset.recast !== undefined) continue;
    const values = kept[input.name] ?? [];
    if (input.type === "checkbox") input.checked = values.includes(input.value) || (input.name.startsWith("cue-") && values.length > 0);
    else if (values.length) input.value = values[0];
  }
  save();
}

const save = () => form().dispatchEvent(new CustomEvent("save"));

form().addEventListener("input", remember);
form().addEventListener("htmx:before:request", (event) => {
  if (event.detail.ctx.request.action.endsWith("/draft")) event.detail.ctx.typed = typed;
});
document.addEventListener("htmx:after:request", (event) => {
  const { ctx } = event.detail;
  if (!/\/(draft|run)$/.test(ctx.request.action)) return;
  // while the page is being left, the next one may already have been made from what was saved before
  if (leaving) return;
  const status = ctx.response?.status;
  if (status === 200 && (ctx.typed === undefined || ctx.typed === typed)) localStorage.removeItem(key);
  if (status === 503) setTimeout(save, 3000);
});
document.addEventListener("htmx:error", (event) => {
  if (event.target.closest("#recipe") && !event.detail.ctx?.response) setTimeout(save, 3000);
});
document.addEventListener("click", (event) => {
  if (event.target.closest("[data-forget]")) localStorage.removeItem(key);
});
window.addEventListener("load", () => field("words") && restore());
