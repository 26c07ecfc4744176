// Asks once whether outside codes may run, remembers the answer, and runs those that may.
// A link to #consent asks again.
(() => {
  const banner = document.querySelector("[data-consent-banner]");
  const place = "needle-consent";
  const held = () => {
    try { return JSON.parse(localStorage.getItem(place) ?? "null"); } catch { return null; }
  };
  const run = (given) => {
    for (const waiting of document.querySelectorAll("template[data-purpose]")) {
      if (!given.includes(waiting.dataset.purpose)) continue;
      waiting.innerHTML = waiting.dataset.html;
      const part = waiting.content.cloneNode(true);
      // A script that is only moved does not run; one that is made anew does.
      for (const old of part.querySelectorAll("script")) {
        const fresh = document.createElement("script");
        for (const { name, value } of old.attributes) fresh.setAttribute(name, value);
        fresh.textContent = old.textContent;
        old.replaceWith(fresh);
      }
      waiting.replaceWith(part);
    }
  };
  const answer = (given) => {
    try { localStorage.setItem(place, JSON.stringify(given)); } catch { /* Asked again then. */ }
    banner.hidden = true;
    run(given);
  };
  const ask = () => {
    const before = held() ?? [];
    for (const box of banner.querySelectorAll("input")) box.checked = before.includes(box.value);
    banner.hidden = false;
  };
  banner.addEventListener("click", (event) => {
    const all = [...banner.querySelectorAll("input")];
    const what = event.target.dataset.answer;
    if (what === "all") answer(all.map((box) => box.value));
    else if (what === "some") answer(all.filter((box) => box.checked).map((box) => box.value));
  });
  document.addEventListener("click", (event) => {
    if (!event.target.closest?.('a[href="#consent"]')) return;
    event.preventDefault();
    ask();
    banner.querySelector("button").focus();
  });
  const given = held();
  if (given) run(given);
  else ask();
})();
