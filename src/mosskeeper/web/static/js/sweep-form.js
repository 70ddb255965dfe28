// Another dial has other values: the form is asked for anew.
document.addEventListener("change", (event) => {
  if (!event.target.matches("[data-choose]")) return;
  const chosen = new FormData(document.getElementById("sweep-form"));
  location.search = new URLSearchParams({ first: chosen.get("first"), second: chosen.get("second") });
});
