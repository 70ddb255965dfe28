// A request that had to wait for another was put together before that one was answered: it goes out with the
// revision that the page has by then, or it would be taken for a conflict with oneself.
document.addEventListener("htmx:before:request", (event) => {
  const { body } = event.detail.ctx.request;
  const revision = document.querySelector("#revision [name=revision]");
  if (revision && body instanceof URLSearchParams && body.has("revision"))
    body.set("revision", revision.value);
});
