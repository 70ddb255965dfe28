// The sheet of keys: under ?, and under its button.
const sheet = document.getElementById("keys");
document.addEventListener("keydown", (event) => {
  if (event.key !== "?" || event.target.closest("input:not([type=checkbox], [type=range]), textarea, select")) return;
  event.preventDefault();
  if (sheet.open) sheet.close();
  else sheet.showModal();
});
document.addEventListener("click", ({ target }) => {
  if (target.closest("[data-keys]")) sheet.showModal();
  else if (target === sheet || target.closest("[data-close-keys]")) sheet.close();
});
