// Swipe: the edge between the take and the anchor follows the hand or the arrow keys.
document.addEventListener("input", (event) => {
  const swipe = event.target.closest(".swipe");
  if (swipe) swipe.style.setProperty("--at", `${event.target.value}%`);
});
