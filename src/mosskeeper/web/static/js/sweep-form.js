// Another dial has other values: the form is asked for anew, with what was typed for the one that stays.
document.addEventListener("change", (event) => {
  if (!event.target.matches("[data-choose]")) return;
  location.search = new URLSearchParams(
    [...new FormData(document.getElementById("sweep-form"))].filter(([name]) => !name.endsWith("-values")),
  );
});
