// Files that come onto a page by drop, anywhere, and by paste.
export const OF_PAGE = "application/x-moss-picture"; // a picture of the page itself, dragged: no file

const hasFiles = (event) => {
  const types = [...(event.dataTransfer?.types ?? [])];
  return types.includes("Files") && !types.includes(OF_PAGE);
};

export function onFiles(take) {
  let depth = 0;
  document.addEventListener("dragenter", (event) => {
    if (hasFiles(event)) document.body.classList.toggle("dragging", ++depth > 0);
  });
  document.addEventListener("dragleave", (event) => {
    if (hasFiles(event)) document.body.classList.toggle("dragging", --depth > 0);
  });
  document.addEventListener("dragover", (event) => hasFiles(event) && event.preventDefault());
  document.addEventListener("drop", (event) => {
    if (!hasFiles(event)) return;
    event.preventDefault();
    depth = 0;
    document.body.classList.remove("dragging");
    take(event.dataTransfer.files);
  });
  document.addEventListener("paste", (event) => take(event.clipboardData?.files ?? []));
}

/** Sends files by a form of htmx; done when the answer has come, or could not. */
export const sent = (form, input, files) =>
  new Promise((done) => {
    const carrier = new DataTransfer();
    for (const file of files) carrier.items.add(file);
    input.files = carrier.files;
    form.addEventListener("htmx:finally:request", done, { once: true });
    form.requestSubmit();
  });
