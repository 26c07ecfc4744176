// Lets visitors search lists of rows and filter them, and shows long ones bit by bit; without it
// they see all rows.
(() => {
  for (const list of document.querySelectorAll(".rows[data-step]")) {
    const step = Number(list.dataset.step);
    let shown = step;
    const more = document.createElement("button");
    more.type = "button";
    more.className = "rows-more";
    more.textContent = list.parentElement.querySelector("template").content.textContent;
    // Counted are those that a search or a filter has left.
    const fold = () => {
      let left = 0;
      for (const cell of list.children) {
        const out = cell.dataset.out === "1" || cell.dataset.waits === "1";
        cell.hidden = out || left >= shown;
        left += !out;
      }
      more.hidden = left <= shown;
    };
    more.addEventListener("click", () => {
      const [next] = [...list.children].filter((cell) => cell.hidden
        && cell.dataset.out !== "1" && cell.dataset.waits !== "1");
      shown += step;
      fold();
      next?.querySelector("a")?.focus();
    });
    list.after(more);
    list.addEventListener("rows", () => { shown = step; fold(); });
    fold();
  }
  for (const bar of document.querySelectorAll(".rows-bar")) {
    const list = bar.parentElement.querySelector(".rows");
    const cells = [...list.children];
    const none = bar.querySelector(".rows-found");
    let typed = "";
    let chosen = "";
    const show = () => {
      let count = 0;
      for (const cell of cells) {
        const kinds = (cell.dataset.by ?? "").split(", ");
        const fits = cell.dataset.waits !== "1" && (!chosen || kinds.includes(chosen))
          && cell.textContent.toLowerCase().includes(typed);
        cell.hidden = !fits;
        cell.dataset.out = fits ? "" : "1";
        count += fits;
      }
      list.dispatchEvent(new Event("rows"));
      none.hidden = count > 0;
    };
    bar.addEventListener("input", (event) => {
      typed = event.target.value.trim().toLowerCase();
      show();
    });
    bar.addEventListener("click", (event) => {
      const button = event.target.closest("button");
      if (!button) return;
      chosen = button.value;
      for (const one of bar.querySelectorAll("button")) {
        one.setAttribute("aria-pressed", String(one === button));
      }
      show();
    });
  }
})();
