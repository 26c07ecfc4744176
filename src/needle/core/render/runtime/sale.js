// Shows a sale on its days and the price before it on all others, and hides what waits for one.
(() => {
  const now = new Date();
  const day = [now.getFullYear(), now.getMonth() + 1, now.getDate()]
    .map((part) => String(part).padStart(2, "0")).join("-");
  const told = (list) => {
    const words = list.parentElement.querySelector(".rows-none");
    if (words) words.hidden = [...list.children].some((cell) => cell.dataset.waits !== "1");
  };
  for (const place of document.querySelectorAll("[data-sale-from],[data-sale-until]")) {
    const { saleFrom: from, saleUntil: until } = place.dataset;
    const runs = (!from || from <= day) && (!until || day <= until);
    if (place.matches("li")) {
      place.hidden = !runs;
      place.dataset.waits = runs ? "" : "1";
      place.parentElement.dispatchEvent(new Event("rows"));
      told(place.parentElement);
    } else {
      const [price, sale] = place.children;
      price.hidden = runs;
      sale.hidden = !runs;
    }
  }
})();
