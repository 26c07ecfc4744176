// Keeps for this visit which rows' pages were seen, in the browser alone, and shows them in lists.
(() => {
  const key = (table) => `needle-seen-${table}`;
  const seen = (table) => {
    try {
      const held = JSON.parse(sessionStorage.getItem(key(table)) ?? "[]");
      return Array.isArray(held) ? held : [];
    } catch { return []; }
  };
  const here = location.pathname;
  for (const list of document.querySelectorAll("[data-seen]")) {
    const cells = seen(list.dataset.seen).filter((one) => one.at !== here);
    for (const one of cells.slice(0, Number(list.dataset.most))) {
      const cell = document.createElement("li");
      if (one.shows) {
        const picture = document.createElement("img");
        picture.src = one.shows;
        picture.alt = "";
        cell.append(picture);
      }
      const head = document.createElement(`h${list.dataset.rank}`);
      head.className = "rows-name";
      const link = document.createElement("a");
      link.href = new URL(one.at, location.href).pathname;
      link.textContent = one.called;
      head.append(link);
      cell.append(head);
      list.append(cell);
    }
    const told = list.previousElementSibling;
    if (told && list.children.length) told.hidden = true;
  }
  const table = document.querySelector("main")?.dataset.table;
  if (!table) return;
  const shows = document.querySelector("main .picture img, main .gallery img, main section img");
  const one = {
    at: here,
    called: (document.querySelector("h1") ?? document.querySelector("title")).textContent.trim(),
    shows: shows?.getAttribute("src") ? new URL(shows.getAttribute("src"), location.href).pathname : "",
  };
  const kept = [one, ...seen(table).filter((other) => other.at !== here)].slice(0, 13);
  try { sessionStorage.setItem(key(table), JSON.stringify(kept)); } catch { /* Nothing is kept then. */ }
})();
