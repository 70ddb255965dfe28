// A choice that is an answer by itself sends its form.
document.addEventListener("change", (event) => {
  if (event.target.matches("[data-submits]")) event.target.form.submit();
});
for (const input of document.querySelectorAll("input[type=file][data-submits]"))
  if (input.files.length) input.form.submit(); // chosen before this script ran
