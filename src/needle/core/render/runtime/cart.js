// Shows how many pieces are in the cart, and what they come to: the host says both in cookies beside
// that of the cart.
(() => {
  const kept = Object.fromEntries(document.cookie.split("; ").map((one) => one.split("=")));
  const show = (list, words) => list.forEach((place) => {
    place.textContent = words;
    place.hidden = !words;
  });
  const pieces = Number(kept.needle_pieces) || "";
  show(document.querySelectorAll("[data-pieces]"), pieces);
  try {
    show(document.querySelectorAll("[data-sum]"),
      pieces && decodeURIComponent(kept.needle_sum ?? ""));
  } catch {
    // Somebody else wrote it: only the pieces are told.
  }
})();
