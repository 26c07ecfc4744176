// Opens and closes popups: by the page's clicks, after a time, at a depth, on leaving.
// Without it, the anchor of a popup still shows it.
const needlePopup = {
  open(dialog) {
    if (dialog && !dialog.open && !document.querySelector("dialog[open]")) dialog.showModal();
  },
  // A click inside an open popup may open another one in its place.
  swap(dialog) {
    document.querySelector("dialog[open]")?.close();
    this.open(dialog);
  },
  shut(dialog) {
    if (dialog?.open) dialog.close();
    else if (dialog?.dataset.back !== undefined) delete dialog.dataset.back;
    else if (dialog && location.hash === `#${dialog.id}`) location.hash = "";
  },
};
(() => {
  const beside = (event) => {
    const box = event.target.getBoundingClientRect();
    return event.clientX < box.left || event.clientX > box.right
      || event.clientY < box.top || event.clientY > box.bottom;
  };
  document.addEventListener("click", (event) => {
    const cross = event.target.closest("[data-close]");
    if (cross) {
      event.preventDefault();
      needlePopup.shut(cross.closest("dialog"));
    } else if (event.target.matches("dialog[open]") && event.target.dataset.fixed === undefined
        && beside(event)) {
      needlePopup.shut(event.target);
    }
  });
  for (const dialog of document.querySelectorAll("dialog.popup")) {
    dialog.addEventListener("cancel", (event) => {
      if (dialog.dataset.held !== undefined) event.preventDefault();
    });
    openItself(dialog);
  }

  function openItself(dialog) {
    const { after, scroll, leave, again } = dialog.dataset;
    if (again === undefined) return;
    const key = `needle-popup-${dialog.id}`;
    try {
      const last = Number(localStorage.getItem(key)) || 0;
      if (Number(again) && Date.now() - last < Number(again) * 86400000) return;
    } catch { /* Without storage it opens at every visit. */ }
    let done = false;
    const open = () => {
      if (done || document.querySelector("dialog[open]")) return;
      done = true;
      try { localStorage.setItem(key, String(Date.now())); } catch { /* As above. */ }
      needlePopup.open(dialog);
    };
    if (after) setTimeout(open, Number(after) * 1000);
    if (scroll) {
      const look = () => {
        const room = document.documentElement.scrollHeight - innerHeight;
        if (room <= 0 || scrollY / room * 100 >= Number(scroll)) open();
      };
      addEventListener("scroll", look, { passive: true });
    }
    if (leave !== undefined) {
      // With a mouse: out at the top. On a phone: a quick scroll back up from far down.
      document.addEventListener("mouseout", (event) => {
        if (!event.relatedTarget && event.clientY <= 0) open();
      });
      let deepest = 0;
      addEventListener("scroll", () => {
        deepest = Math.max(deepest, scrollY);
        if (matchMedia("(pointer:coarse)").matches && deepest > innerHeight * 1.5
            && scrollY < deepest - innerHeight) open();
      }, { passive: true });
    }
  }
})();
