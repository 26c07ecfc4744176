// Lets visitors search lists of rows and filter them; without it they see all rows.
(() => {
  for (const bar of document.querySelectorAll(".rows-bar")) {
    const cells = [...bar.nextElementSibling.children];
    const none = bar.querySelector(".rows-found");
    let typed = "";
    let chosen = "";
    const show = () => {
      let count = 0;
      for (const cell of cells) {
        const kinds = (cell.dataset.by ?? "").split(", ");
        const fits = (!chosen || kinds.includes(chosen))
          && cell.textContent.toLowerCase().includes(typed);
        cell.hidden = !fits;
        count += fits;
      }
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
