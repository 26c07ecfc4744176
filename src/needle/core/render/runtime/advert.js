// Shows the words that the address asks for, of those that are allowed, while the page is still being read: nothing shifts.
// They are put there as text, whatever they are. What was shown is told apart by its number; 0 is the page's own.
((all) => {
  const asked = new URLSearchParams(location.search);
  const shown = window.needleAdverts = {};
  const words = {};
  for (const [id, [name, values]] of Object.entries(all)) {
    const said = (asked.get(name) ?? "").slice(0, 400).trim().replace(/\s+/g, " ").toLowerCase();
    const found = values.find(([one]) => one === said);
    shown[id] = found?.[2] ?? 0;
    if (found) words[id] = found[1];
  }
  if (!Object.keys(words).length) return;
  const put = () => {
    for (const place of document.querySelectorAll("[data-advert]")) {
      const said = words[place.dataset.advert];
      if (said !== undefined && place.textContent !== said) place.textContent = said;
    }
  };
  const watch = new MutationObserver(put);
  watch.observe(document, { childList: true, subtree: true });
  addEventListener("DOMContentLoaded", () => { put(); watch.disconnect(); });
});
