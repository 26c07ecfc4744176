// Shows how many pieces are in the cart, and what they come to: the host says both in cookies beside
// that of the cart.
(() => {
  const kept = (name) => new RegExp(`(?:^|; )${name}=([^;]*)`).exec(document.cookie)?.[1] ?? "";
  const pieces = Number(/^\d+$/.test(kept("needle_pieces")) ? kept("needle_pieces") : 0);
  let sum = "";
  try {
    sum = decodeURIComponent(kept("needle_sum"));
  } catch {
    // Somebody else wrote it: only the pieces are told.
  }
  for (const place of document.querySelectorAll("[data-pieces]")) {
    place.textContent = String(pieces);
    place.hidden = !pieces;
  }
  for (const place of document.querySelectorAll("[data-sum]")) {
    place.textContent = sum;
    place.hidden = !pieces || !sum;
  }
})();
