// A choice that is an answer by itself sends its form.
document.addEventListener("change", (event) => {
  if (event.target.matches("[data-submits]")) event.target.form.submit();
});
